import type { Solid } from '../cut/index.ts';
import { topology } from '../mesh/index.ts';
import { type BuiltCap, cappedMesh } from './build.ts';

/**
 * Edges at which a solid with its built caps is not closed: open, crowded or facing two ways; 0 when it is.
 *
 * Quick on large solids, as they nearly always are closed: signed hashes of all directed edges cancel out when each has as
 * many opposites, and only edges between vertices of caps, where new faces meet, can be crowded.
 */
export function faultyEdges(solid: Solid, caps: readonly BuiltCap[]): number {
  const onCaps = capTriangles(solid, caps);
  if (balanced([solid.triangles, onCaps]) && !crowdedAtCaps(solid, caps, onCaps)) return 0;
  const t = topology(cappedMesh(solid, caps));
  return t.openEdges + t.nonManifoldEdges + t.inconsistentEdges;
}

/** A number for an edge, the negative for its opposite. */
function hash(a: number, b: number): number {
  const low = a < b ? a : b;
  const high = a < b ? b : a;
  let h = Math.imul(low, 0x9e3779b1) ^ Math.imul(high, 0x85ebca77);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 13), 0x297a2d39);
  h ^= h >>> 16;
  return a < b ? h : -h;
}

function balanced(parts: readonly Uint32Array[]): boolean {
  let sum = 0;
  for (const t of parts) {
    for (let i = 0; i < t.length; i += 3) {
      sum = (sum + hash(t[i], t[i + 1]) + hash(t[i + 1], t[i + 2]) + hash(t[i + 2], t[i])) | 0;
    }
  }
  return sum === 0;
}

/** The caps' triangles in the numbers of the whole: the solid's vertices, then the new ones of each cap. */
function capTriangles(solid: Solid, caps: readonly BuiltCap[]): Uint32Array {
  const out = new Uint32Array(caps.reduce((n, c) => n + c.triangles.length, 0));
  let base = solid.positions.length / 3;
  let at = 0;
  for (const { ids, triangles, extra } of caps) {
    for (let i = 0; i < triangles.length; i++) {
      const v = triangles[i];
      out[at++] = v < ids.length ? ids[v] : base + v - ids.length;
    }
    base += extra.length / 3;
  }
  return out;
}

/** Whether a directed edge between vertices of caps occurs twice. */
function crowdedAtCaps(solid: Solid, caps: readonly BuiltCap[], onCaps: Uint32Array): boolean {
  const old = solid.positions.length / 3;
  const onCap = new Uint8Array(old);
  for (const cap of caps) for (const v of cap.ids) onCap[v] = 1;
  const total = old + caps.reduce((n, c) => n + c.extra.length / 3, 0);
  const seen = new Set<number>();
  const twice = (a: number, b: number): boolean => {
    if ((a < old && !onCap[a]) || (b < old && !onCap[b])) return false;
    const key = a * total + b;
    if (seen.has(key)) return true;
    seen.add(key);
    return false;
  };
  for (let i = 0; i < onCaps.length; i += 3) {
    const [a, b, c] = [onCaps[i], onCaps[i + 1], onCaps[i + 2]];
    if (twice(a, b) || twice(b, c) || twice(c, a)) return true;
  }
  const { triangles: t } = solid;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i], t[i + 1], t[i + 2]];
    if (onCap[a] + onCap[b] + onCap[c] > 1 && (twice(a, b) || twice(b, c) || twice(c, a))) return true;
  }
  return false;
}

import earcut from 'earcut';
import { type Loop2, loopArea } from '../mesh/index.ts';
import { flipFlat } from './flip.ts';
import { sweepTriangulate } from './sweep.ts';

/**
 * Triangulates polygons whose loops may touch or cross: indices into the loops' points, counted through.
 * Given from outside (the CSG kernel has one), so that this folder needs no WebAssembly.
 */
export type Triangulator = (loops: readonly Loop2[]) => Uint32Array;

/**
 * Triangles (counter-clockwise in the plane) of a polygon with holes, on exactly the loops' points, counted through:
 * the outer loop first, then each hole. Every boundary edge is in exactly one triangle.
 *
 * A sweep first, accepted only when it gives n − 2 + 2·holes triangles, each boundary edge once and the right area; then
 * ear cutting, then `fallback`, by the same test; else a fan, which is closed though it may fold (degenerate loops end
 * here).
 */
export function triangulate(outer: Loop2, holes: readonly Loop2[], fallback: Triangulator): Uint32Array {
  const loops = [outer, ...holes];
  const total = loops.reduce((n, l) => n + l.length / 2, 0);
  const flat = new Float64Array(total * 2);
  const starts: number[] = [];
  let at = 0;
  for (const l of loops) {
    starts.push(at);
    flat.set(l, at * 2);
    at += l.length / 2;
  }
  const area = loops.reduce((sum, l) => sum + loopArea(l), 0);
  return recalled(flat, starts, area, () => triangulated(loops, flat, starts, area, fallback));
}

function triangulated(
  loops: readonly Loop2[],
  flat: Float64Array,
  starts: readonly number[],
  area: number,
  fallback: Triangulator,
): Uint32Array {
  const total = flat.length / 2;
  if (area > 0) {
    const ways = [
      () => sweepTriangulate(loops),
      () => counterClockwise(flat, earcut(flat, starts.slice(1))),
      () => fallback(loops),
    ];
    for (const way of ways) {
      const found = way();
      if (!found || !accepted(found, flat, starts, total, area)) continue;
      flipFlat(found, flat);
      return found;
    }
  }
  return fans(starts, total);
}

interface Remembered {
  readonly flat: Float64Array;
  readonly starts: readonly number[];
  readonly triangles: Uint32Array;
}

const MEMORY = 48;
const memory = new Map<string, Remembered>();

/** The two sides of a seam have the same outlines: the second gets the first one's triangles. Nobody writes into them. */
function recalled(flat: Float64Array, starts: readonly number[], area: number, make: () => Uint32Array): Uint32Array {
  const key = `${flat.length} ${starts.length} ${area} ${flat[0]} ${flat[1]}`;
  const known = memory.get(key);
  if (known && same(known.starts, starts) && same(known.flat, flat)) return known.triangles;
  const triangles = make();
  memory.delete(key);
  memory.set(key, { flat, starts, triangles });
  for (const oldest of memory.keys()) {
    if (memory.size <= MEMORY) break;
    memory.delete(oldest);
  }
  return triangles;
}

function same(a: ArrayLike<number>, b: ArrayLike<number>): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

function counterClockwise(flat: Float64Array, indices: readonly number[]): Uint32Array {
  const out = Uint32Array.from(indices);
  let twice = 0;
  for (let i = 0; i < out.length; i += 3) twice += twiceArea(flat, out[i], out[i + 1], out[i + 2]);
  if (twice < 0) for (let i = 0; i < out.length; i += 3) [out[i], out[i + 1]] = [out[i + 1], out[i]];
  return out;
}

function twiceArea(f: Float64Array, a: number, b: number, c: number): number {
  return (f[b * 2] - f[a * 2]) * (f[c * 2 + 1] - f[a * 2 + 1]) - (f[c * 2] - f[a * 2]) * (f[b * 2 + 1] - f[a * 2 + 1]);
}

const samePoint = (f: Float64Array, a: number, b: number): boolean => f[a] === f[b] && f[a + 1] === f[b + 1];

function accepted(t: Uint32Array, flat: Float64Array, starts: readonly number[], total: number, area: number): boolean {
  if (t.length !== (total - 2 + 2 * (starts.length - 1)) * 3) return false;
  const next = new Uint32Array(total);
  for (let l = 0; l < starts.length; l++) {
    const end = l + 1 < starts.length ? starts[l + 1] : total;
    for (let i = starts[l]; i < end; i++) next[i] = i + 1 < end ? i + 1 : starts[l];
  }
  const used = new Uint8Array(total);
  let boundary = 0;
  let sum = 0;
  let positive = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i] * 2, t[i + 1] * 2, t[i + 2] * 2];
    // where an outline touches itself, two of its points are one
    if (samePoint(flat, a, b) || samePoint(flat, b, c) || samePoint(flat, c, a)) return false;
    const twice = twiceArea(flat, t[i], t[i + 1], t[i + 2]);
    sum += twice;
    positive += Math.abs(twice);
    for (let e = 0; e < 3; e++) {
      const a = t[i + e];
      const b = t[e === 2 ? i : i + e + 1];
      if (next[a] !== b) continue;
      if (used[a]) return false;
      used[a] = 1;
      boundary++;
    }
  }
  const slack = area * 1e-9 + 1e-12;
  return boundary === total && Math.abs(sum / 2 - area) <= slack && Math.abs(positive / 2 - area) <= slack;
}

/** Closes every loop by a fan from its first point. */
function fans(starts: readonly number[], total: number): Uint32Array {
  const out: number[] = [];
  for (let l = 0; l < starts.length; l++) {
    const end = l + 1 < starts.length ? starts[l + 1] : total;
    for (let i = starts[l] + 2; i < end; i++) out.push(starts[l], i - 1, i);
  }
  return Uint32Array.from(out);
}

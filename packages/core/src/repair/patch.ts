import earcut from 'earcut';
import { newellNormal, sub, type Vec3 } from '../mesh/index.ts';

/** Corners of patch triangles, as places in the rim. */
export type RimTriangles = readonly (readonly [number, number, number])[];

/** The largest rim that is filled in the way that costs the third power of its length. */
const SMALL = 72;

/**
 * Triangulates the rim of a hole on its own points. `taken(i, j)` says that an edge between two rim points exists already,
 * so that a patch edge there would crowd it. Null where no such patch is found.
 *
 * A rim in one plane is cut by ears. Others get the patch of least bending, then area, by dynamic programming (Barequet and
 * Sharir, "Filling gaps in the boundary of a polyhedron", 1995); long ones the sharpest ear first.
 */
export function triangulateRim(
  rim: readonly Vec3[],
  taken: (i: number, j: number) => boolean,
  outside: readonly (Vec3 | null)[],
  flat: boolean,
): RimTriangles | null {
  const n = rim.length;
  if (n === 3) return [[0, 1, 2]];
  if (flat) {
    const cut = flatPatch(rim, taken);
    if (cut) return cut;
  }
  return n <= SMALL ? leastPatch(rim, taken, outside) : earPatch(rim, taken);
}

function flatPatch(rim: readonly Vec3[], taken: (i: number, j: number) => boolean): RimTriangles | null {
  const n = rim.length;
  const normal = newellNormal(rim.length, (i, axis) => rim[i][axis]);
  const size = normal.map(Math.abs);
  const drop = size.indexOf(Math.max(...size));
  const [u, v] = [(drop + 1) % 3, (drop + 2) % 3];
  const sign = Math.sign(normal[drop]);
  if (sign === 0) return null;
  const flat = rim.flatMap((p) => [p[u], p[v] * sign]);
  const found = earcut(flat);
  if (found.length !== (n - 2) * 3) return null;
  const out: [number, number, number][] = [];
  const uses = new Map<number, number>();
  for (let k = 0; k < found.length; k += 3) {
    const [a, b, c] = found.slice(k, k + 3);
    const turn =
      (flat[b * 2] - flat[a * 2]) * (flat[c * 2 + 1] - flat[a * 2 + 1]) -
      (flat[b * 2 + 1] - flat[a * 2 + 1]) * (flat[c * 2] - flat[a * 2]);
    const t: [number, number, number] = turn >= 0 ? [a, b, c] : [a, c, b];
    for (let e = 0; e < 3; e++) {
      const i = t[e];
      const j = t[(e + 1) % 3];
      uses.set(i * n + j, (uses.get(i * n + j) ?? 0) + 1);
      if ((i + 1) % n !== j && taken(i, j)) return null;
    }
    out.push(t);
  }
  for (let i = 0; i < n; i++) if (uses.get(i * n + ((i + 1) % n)) !== 1) return null;
  return [...uses.values()].every((x) => x === 1) ? out : null;
}

const normalOf = (a: Vec3, b: Vec3, c: Vec3): [number, number, number] => {
  const ux = b[0] - a[0];
  const uy = b[1] - a[1];
  const uz = b[2] - a[2];
  const vx = c[0] - a[0];
  const vy = c[1] - a[1];
  const vz = c[2] - a[2];
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
};

const bending = (m: readonly number[], n: readonly number[]): number => {
  const l = Math.hypot(m[0], m[1], m[2]) * Math.hypot(n[0], n[1], n[2]);
  return l > 0 ? 1 - (m[0] * n[0] + m[1] * n[1] + m[2] * n[2]) / l : 2;
};

/** `outside[i]`: the third corner of the triangle beyond the rim edge from i to i + 1. */
function leastPatch(
  rim: readonly Vec3[],
  taken: (i: number, j: number) => boolean,
  outside: readonly (Vec3 | null)[],
): RimTriangles | null {
  const n = rim.length;
  const bend = new Float64Array(n * n);
  const area = new Float64Array(n * n);
  const via = new Int32Array(n * n).fill(-1);
  const normals: (readonly number[] | null)[] = new Array(n * n).fill(null);
  for (let i = 0; i + 1 < n; i++) {
    const o = outside[i];
    // the patch runs along the rim against the surface, so the outer triangle is (i + 1, i, o) seen from the patch
    if (o) normals[i * n + i + 1] = normalOf(rim[i], o, rim[i + 1]);
  }
  for (let span = 2; span < n; span++) {
    for (let i = 0; i + span < n; i++) {
      const k = i + span;
      const whole = i === 0 && k === n - 1;
      let bestBend = Infinity;
      let bestArea = Infinity;
      let best = -1;
      let bestNormal: readonly number[] | null = null;
      if (whole || !taken(i, k)) {
        for (let j = i + 1; j < k; j++) {
          const left = i * n + j;
          const right = j * n + k;
          if (bend[left] === Infinity || bend[right] === Infinity) continue;
          const m = normalOf(rim[i], rim[j], rim[k]);
          let worst = Math.max(bend[left], bend[right]);
          const a = normals[left];
          const b = normals[right];
          if (a) worst = Math.max(worst, bending(m, a));
          if (b) worst = Math.max(worst, bending(m, b));
          const closing = whole ? outside[n - 1] : null;
          if (closing) worst = Math.max(worst, bending(m, normalOf(rim[n - 1], closing, rim[0])));
          const sum = area[left] + area[right] + Math.hypot(m[0], m[1], m[2]) / 2;
          if (worst < bestBend - 1e-9 || (worst < bestBend + 1e-9 && sum < bestArea)) {
            bestBend = worst;
            bestArea = sum;
            best = j;
            bestNormal = m;
          }
        }
      }
      bend[i * n + k] = bestBend;
      area[i * n + k] = bestArea;
      via[i * n + k] = best;
      normals[i * n + k] = bestNormal;
    }
  }
  if (bend[n - 1] === Infinity) return null;
  const out: [number, number, number][] = [];
  const open: [number, number][] = [[0, n - 1]];
  while (open.length > 0) {
    const [i, k] = open.pop()!;
    if (k - i < 2) continue;
    const j = via[i * n + k];
    out.push([i, j, k]);
    open.push([i, j], [j, k]);
  }
  return out;
}

/** Cuts the sharpest ear that takes no existing edge, again and again. */
function earPatch(rim: readonly Vec3[], taken: (i: number, j: number) => boolean): RimTriangles | null {
  const n = rim.length;
  const before = Int32Array.from({ length: n }, (_, i) => (i + n - 1) % n);
  const after = Int32Array.from({ length: n }, (_, i) => (i + 1) % n);
  const version = new Int32Array(n);
  const heap = new Heap();
  const score = (i: number): number => {
    const [a, b, c] = [rim[before[i]], rim[i], rim[after[i]]];
    const u = sub(a, b);
    const v = sub(c, b);
    const l = Math.hypot(...u) * Math.hypot(...v);
    return l > 0 ? Math.acos(Math.max(-1, Math.min(1, (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / l))) : 0;
  };
  for (let i = 0; i < n; i++) heap.push(score(i), i, 0);
  const out: [number, number, number][] = [];
  let left = n;
  while (left > 3) {
    const top = heap.pop();
    if (!top) return null;
    const [, i, made] = top;
    if (version[i] !== made) continue;
    const a = before[i];
    const c = after[i];
    if (taken(a, c)) continue;
    out.push([a, i, c]);
    version[i] = -1;
    after[a] = c;
    before[c] = a;
    left--;
    for (const k of [a, c]) heap.push(score(k), k, ++version[k]);
  }
  const [i] = [...version.keys()].filter((k) => version[k] >= 0);
  out.push([before[i], i, after[i]]);
  return out;
}

/** The least of (key, item, version) first. */
class Heap {
  private readonly list: (readonly [number, number, number])[] = [];

  push(key: number, item: number, version: number): void {
    const { list } = this;
    let i = list.push([key, item, version]) - 1;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (list[up][0] <= list[i][0]) break;
      [list[up], list[i]] = [list[i], list[up]];
      i = up;
    }
  }

  pop(): readonly [number, number, number] | null {
    const { list } = this;
    const top = list[0];
    const last = list.pop();
    if (!last || !top) return null;
    if (list.length > 0) {
      list[0] = last;
      for (let i = 0; ; ) {
        let least = i;
        for (const c of [i * 2 + 1, i * 2 + 2]) if (c < list.length && list[c][0] < list[least][0]) least = c;
        if (least === i) break;
        [list[i], list[least]] = [list[least], list[i]];
        i = least;
      }
    }
    return top;
  }
}

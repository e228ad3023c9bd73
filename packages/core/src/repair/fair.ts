import { edgeOf, vecOf } from '../mesh/index.ts';
/** A patch over a hole while it is refined: triangles on points, of which the first `fixed` are the rim's. */
export interface Patch {
  /** xyz a point, mm */
  readonly points: number[];
  /** three points a triangle */
  triangles: number[];
  readonly fixed: number;
}

/** Points a patch may get at most. */
const MOST_POINTS = 20_000;

/**
 * Refines a patch until its edges are about as long as those of the surface round it, after Liepa, "Filling holes in
 * meshes" (2003). `scale` holds the wanted length at each rim point.
 */
export function refinePatch(patch: Patch, scale: readonly number[]): void {
  const lengths = [...scale];
  for (let round = 0; round < 12 && patch.points.length / 3 < MOST_POINTS; round++) {
    const added = splitLarge(patch, lengths);
    if (added === 0) break;
    for (let k = 0; k < 8; k++) if (relaxEdges(patch) === 0) break;
  }
}

function splitLarge(patch: Patch, lengths: number[]): number {
  const { points: p } = patch;
  const out: number[] = [];
  let added = 0;
  for (let i = 0; i < patch.triangles.length; i += 3) {
    const [a, b, c] = patch.triangles.slice(i, i + 3);
    const centre = vecOf((k) => (p[a * 3 + k] + p[b * 3 + k] + p[c * 3 + k]) / 3);
    const wanted = (lengths[a] + lengths[b] + lengths[c]) / 3;
    const far = [a, b, c].every((v) => {
      const d = Math.hypot(centre[0] - p[v * 3], centre[1] - p[v * 3 + 1], centre[2] - p[v * 3 + 2]) * Math.SQRT2;
      return d > wanted && d > lengths[v];
    });
    if (!far) {
      out.push(a, b, c);
      continue;
    }
    const v = p.length / 3;
    p.push(...centre);
    lengths.push(wanted);
    out.push(a, b, v, b, c, v, c, a, v);
    added++;
  }
  patch.triangles = out;
  return added;
}

/** Swaps inner edges whose opposite corners lie inside each other's circle. */
function relaxEdges(patch: Patch): number {
  const { points: p, triangles: t } = patch;
  const edges = new Map<string, number>();
  const key = (a: number, b: number): string => `${a},${b}`;
  for (let h = 0; h < t.length; h++) edges.set(key(t[h], t[h % 3 === 2 ? h - 2 : h + 1]), h);
  const angle = (a: number, b: number, c: number): number => {
    const u = edgeOf(p, b, a);
    const v = edgeOf(p, b, c);
    const l = Math.hypot(...u) * Math.hypot(...v);
    return l > 0 ? Math.acos(Math.max(-1, Math.min(1, (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / l))) : 0;
  };
  let swapped = 0;
  const touched = new Set<number>();
  for (const [edge, h] of [...edges]) {
    const [a, b] = edge.split(',').map(Number);
    const g = edges.get(key(b, a));
    if (g === undefined || a > b) continue;
    const i = Math.floor(h / 3);
    const j = Math.floor(g / 3);
    if (touched.has(i) || touched.has(j)) continue;
    const c = t[h % 3 === 0 ? h + 2 : h - 1];
    const d = t[g % 3 === 0 ? g + 2 : g - 1];
    if (c === d || edges.has(key(c, d)) || edges.has(key(d, c))) continue;
    if (angle(a, c, b) + angle(a, d, b) <= Math.PI + 1e-9) continue;
    t.splice(i * 3, 3, a, d, c);
    t.splice(j * 3, 3, d, b, c);
    touched.add(i).add(j);
    swapped++;
  }
  return swapped;
}

/**
 * Moves the inner points of a patch so that it continues the surface round it: the sum of the squares of all umbrella
 * vectors, the rim's with their neighbours outside included, becomes least (a discrete thin plate; Kobbelt and others,
 * "Interactive multi-resolution modeling on arbitrary meshes", 1998), by conjugate gradients.
 *
 * around: for each rim point the positions of its neighbours on the surface outside the patch.
 */
export function fairPatch(patch: Patch, around: readonly (readonly number[])[]): void {
  const { points: p, fixed, triangles: t } = patch;
  const n = p.length / 3;
  const free = n - fixed;
  if (free === 0) return;
  const neighbours: Set<number>[] = Array.from({ length: n }, () => new Set());
  for (let h = 0; h < t.length; h++) {
    const a = t[h];
    const b = t[h % 3 === 2 ? h - 2 : h + 1];
    neighbours[a].add(b);
    neighbours[b].add(a);
  }
  const rows = neighbours.map((s, v) => ({ own: [...s], outside: v < fixed ? around[v] : [] }));
  for (let axis = 0; axis < 3; axis++) {
    // residual of row v: the mean of all neighbours less the point itself; points that are fixed go to the right side
    const constant = new Float64Array(n);
    for (let v = 0; v < n; v++) {
      const { own, outside } = rows[v];
      const count = own.length + outside.length / 3;
      if (count === 0) continue;
      let sum = 0;
      for (let k = axis; k < outside.length; k += 3) sum += outside[k];
      for (const w of own) if (w < fixed) sum += p[w * 3 + axis];
      constant[v] = sum / count - (v < fixed ? p[v * 3 + axis] : 0);
    }
    const forward = (x: Float64Array, out: Float64Array): void => {
      for (let v = 0; v < n; v++) {
        const { own, outside } = rows[v];
        const count = own.length + outside.length / 3;
        let sum = 0;
        for (const w of own) if (w >= fixed) sum += x[w - fixed];
        out[v] = (count > 0 ? sum / count : 0) - (v >= fixed ? x[v - fixed] : 0);
      }
    };
    const backward = (r: Float64Array, out: Float64Array): void => {
      out.fill(0);
      for (let v = 0; v < n; v++) {
        const { own, outside } = rows[v];
        const count = own.length + outside.length / 3;
        if (v >= fixed) out[v - fixed] -= r[v];
        if (count === 0) continue;
        for (const w of own) if (w >= fixed) out[w - fixed] += r[v] / count;
      }
    };
    const x = Float64Array.from({ length: free }, (_, i) => p[(fixed + i) * 3 + axis]);
    leastSquares(forward, backward, constant, x);
    for (let i = 0; i < free; i++) p[(fixed + i) * 3 + axis] = x[i];
  }
}

/** Conjugate gradients on the normal equations: makes |A x + c|² least (Hestenes and Stiefel, 1952). */
function leastSquares(
  forward: (x: Float64Array, out: Float64Array) => void,
  backward: (r: Float64Array, out: Float64Array) => void,
  constant: Float64Array,
  x: Float64Array,
): void {
  const r = new Float64Array(constant.length);
  const s = new Float64Array(x.length);
  const q = new Float64Array(constant.length);
  forward(x, r);
  for (let i = 0; i < r.length; i++) r[i] = -(r[i] + constant[i]);
  backward(r, s);
  const d = s.slice();
  let gamma = s.reduce((sum, y) => sum + y * y, 0);
  const enough = gamma * 1e-14;
  for (let k = 0; k < 500 && gamma > enough && gamma > 1e-30; k++) {
    forward(d, q);
    const alpha = gamma / q.reduce((sum, y) => sum + y * y, 0);
    for (let i = 0; i < x.length; i++) x[i] += alpha * d[i];
    for (let i = 0; i < r.length; i++) r[i] -= alpha * q[i];
    backward(r, s);
    const next = s.reduce((sum, y) => sum + y * y, 0);
    for (let i = 0; i < d.length; i++) d[i] = s[i] + (next / gamma) * d[i];
    gamma = next;
  }
}

import { orient3d } from 'robust-predicates';
import { boxPairs, type IndexedMesh, type Tree } from '../mesh/index.ts';

/** Triangles that pass through one another. */
export interface Crossings {
  /** pairs of triangles; counting ends at the limit, or where boxes of triangles lie over one another without end */
  readonly pairs: number;
  /** triangle numbers, two for each pair that was kept (at most `keep` pairs) */
  readonly triangles: Uint32Array;
  /** counting ended early */
  readonly more: boolean;
}

// Pairs of leaves that are looked at before it is given up: clean surfaces have some ten a leaf, a heap of equal triangles the
// square of its leaves.
const FEW_PAIRS = 200_000;
const PAIRS_A_LEAF = 30;

/**
 * Finds pairs of triangles of which an edge of one goes through the other, exactly decided (Shewchuk, "Adaptive precision
 * floating-point arithmetic and fast robust geometric predicates", 1997). Triangles that share an edge, and those that only
 * touch, do not count. With the same tree twice it looks for self-crossings. `deep`: only those of which either stands out that
 * far on both sides of the other, mm; most that touch are then told without exact arithmetic.
 */
export function crossings(a: Tree, b: Tree, limit = 1_000_000, keep = 2000, deep = 0): Crossings {
  const kept: number[] = [];
  let pairs = 0;
  const self = a === b;
  const all = boxPairs(
    a,
    b,
    (i, j) => {
      if (deep > 0 && !eachStandsOut(a.mesh, i, b.mesh, j, deep)) return false;
      if (!(self ? crossSelf(a, i, j) : crossApart(a, i, b, j))) return false;
      if (pairs < keep) kept.push(i, j);
      return ++pairs >= limit;
    },
    FEW_PAIRS + PAIRS_A_LEAF * (a.leaves + b.leaves),
  );
  return { pairs, triangles: Uint32Array.from(kept), more: !all };
}

function crossSelf(tree: Tree, i: number, j: number): boolean {
  const { triangles: t } = tree.mesh;
  let shared = 0;
  for (let k = 0; k < 3; k++) {
    const v = t[i * 3 + k];
    if (v === t[j * 3] || v === t[j * 3 + 1] || v === t[j * 3 + 2]) shared++;
  }
  return shared < 2 && trianglesCross(tree.mesh, i, tree.mesh, j);
}

const crossApart = (a: Tree, i: number, b: Tree, j: number): boolean => trianglesCross(a.mesh, i, b.mesh, j);

/** Whether corners of either of two triangles lie so far off the plane of the other, on both of its sides. */
export const eachStandsOut = (a: Surface, i: number, b: Surface, j: number, least: number): boolean =>
  standsOut(a, i, b, j, least) && standsOut(b, j, a, i, least);

/** Whether corners of triangle j lie so far off the plane of triangle i, on both of its sides. */
function standsOut(
  { positions: p, triangles: s }: Surface,
  i: number,
  { positions: q, triangles: t }: Surface,
  j: number,
  least: number,
): boolean {
  const [a, b, c] = [s[i * 3] * 3, s[i * 3 + 1] * 3, s[i * 3 + 2] * 3];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const far = least * Math.sqrt(nx * nx + ny * ny + nz * nz);
  if (far === 0) return false;
  let below = false;
  let above = false;
  for (let k = 0; k < 3; k++) {
    const d = t[j * 3 + k] * 3;
    const off = nx * (q[d] - p[a]) + ny * (q[d + 1] - p[a + 1]) + nz * (q[d + 2] - p[a + 2]);
    if (off >= far) above = true;
    else if (off <= -far) below = true;
  }
  return below && above;
}

const signs = new Float64Array(6);

type Surface = Pick<IndexedMesh, 'positions' | 'triangles'>;

/** Whether an edge of triangle i of one surface goes through triangle j of another, or the other way round; exact. */
export function trianglesCross(a: Surface, i: number, b: Surface, j: number): boolean {
  const p = a.positions;
  const q = b.positions;
  const s = a.triangles;
  const t = b.triangles;
  const same = p === q;
  if (!straddles(p, s, i, q, t, j, 0, same) || !straddles(q, t, j, p, s, i, 3, same)) return false;
  // signs[0…2]: corners of j against the plane of i; signs[3…5]: corners of i against the plane of j
  for (let k = 0; k < 3; k++) {
    const m = k === 2 ? 0 : k + 1;
    if (signs[k] * signs[m] < 0 && pierces(q, t[j * 3 + k], t[j * 3 + m], p, s, i)) return true;
    if (signs[3 + k] * signs[3 + m] < 0 && pierces(p, s[i * 3 + k], s[i * 3 + m], q, t, j)) return true;
  }
  return false;
}

/** Whether corners of triangle j lie strictly on both sides of the plane of triangle i; their sides go into `signs`. */
function straddles(
  p: Float64Array,
  s: Uint32Array,
  i: number,
  q: Float64Array,
  t: Uint32Array,
  j: number,
  into: number,
  same: boolean,
): boolean {
  const a = s[i * 3] * 3;
  const b = s[i * 3 + 1] * 3;
  const c = s[i * 3 + 2] * 3;
  let below = false;
  let above = false;
  for (let k = 0; k < 3; k++) {
    const d = t[j * 3 + k] * 3;
    // a shared vertex lies in the plane: no need to find that out the long way
    if (same && (d === a || d === b || d === c)) {
      signs[into + k] = 0;
      continue;
    }
    const x = orient3d(
      p[a],
      p[a + 1],
      p[a + 2],
      p[b],
      p[b + 1],
      p[b + 2],
      p[c],
      p[c + 1],
      p[c + 2],
      q[d],
      q[d + 1],
      q[d + 2],
    );
    signs[into + k] = Math.sign(x);
    if (x < 0) below = true;
    else if (x > 0) above = true;
  }
  return below && above;
}

/** Whether the segment from e to f, whose ends lie on both sides of a triangle's plane, goes through the triangle. */
function pierces(p: Float64Array, e: number, f: number, q: Float64Array, t: Uint32Array, i: number): boolean {
  const u = e * 3;
  const v = f * 3;
  let left = false;
  let right = false;
  for (let k = 0; k < 3; k++) {
    const a = t[i * 3 + k] * 3;
    const b = t[i * 3 + (k === 2 ? 0 : k + 1)] * 3;
    const x = orient3d(
      p[u],
      p[u + 1],
      p[u + 2],
      p[v],
      p[v + 1],
      p[v + 2],
      q[a],
      q[a + 1],
      q[a + 2],
      q[b],
      q[b + 1],
      q[b + 2],
    );
    if (x > 0) left = true;
    else if (x < 0) right = true;
    if (left && right) return false;
  }
  return true;
}

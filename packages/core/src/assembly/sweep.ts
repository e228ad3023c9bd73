import { cross, dot, type IndexedMesh, normalize, type Vec3 } from '../mesh/index.ts';

/**
 * Whether a solid that is moved along a direction, as far as can be, meets another. Nothing is stepped: of two solids that
 * do not overlap, one meets the other exactly when on some line along the direction a face of the first that looks ahead
 * lies behind a face of the second that looks back.
 *
 *     a moves →      ┌────┐        ┌──┐
 *                    │ a  ▌→  hit  ▌b │
 *                    └────┘        └──┘
 */

/** On bent faces of a seam. */
export const BENT = -2;

/**
 * A solid as it is swept, and what each of its triangles is of: equal numbers (0 and up) never meet, as what mates in a
 * plane is judged by its normal; −1 is skin; two of `BENT` meet where they touch, unless they lie along the direction.
 */
export interface Swept {
  readonly mesh: IndexedMesh;
  readonly of: Int32Array;
}

/** Faces whose normals are nearer to the square of the direction than this (sine) count as along it. */
const ALONG = 1e-3;
/** Meetings must be deeper than this, mm … */
const DEEP = 0.02;
/** … and wider than this, mm. */
const WIDE = 0.04;
/** Bent faces that touch meet where their normals are farther from the square than this, sine. */
const STEEP = 0.05;

/** Triangles that look one way, seen along a direction. Nine numbers each: u, v and height of the corners. */
interface Facing {
  readonly corners: Float64Array;
  readonly of: Int32Array;
  readonly box: readonly [number, number, number, number];
  readonly low: number;
  readonly high: number;
}

/** A solid seen along a direction. */
export interface Seen {
  readonly ahead: Facing;
  readonly back: Facing;
  /** made when it is first looked through */
  grid: Grid | null;
}

/** Triangles of `back` by the cell of a raster that their boxes touch. */
interface Grid {
  readonly nu: number;
  readonly nv: number;
  readonly cell: number;
  readonly starts: Uint32Array;
  readonly list: Uint32Array;
}

/** Two directions square to a direction and to each other. */
function across(way: Vec3): [Vec3, Vec3] {
  const a = way.map(Math.abs);
  const least = a[0] <= a[1] && a[0] <= a[2] ? 0 : a[1] <= a[2] ? 1 : 2;
  const u = normalize(cross(way, [least === 0 ? 1 : 0, least === 1 ? 1 : 0, least === 2 ? 1 : 0]));
  return [u, cross(way, u)];
}

/** A solid as it is seen along a unit direction. */
export function seenAlong({ mesh: { positions, triangles }, of }: Swept, way: Vec3): Seen {
  const [u, v] = across(way);
  const n = positions.length / 3;
  const flat = new Float64Array(n * 3);
  for (let i = 0; i < n; i++) {
    const [x, y, z] = [positions[3 * i], positions[3 * i + 1], positions[3 * i + 2]];
    flat[3 * i] = x * u[0] + y * u[1] + z * u[2];
    flat[3 * i + 1] = x * v[0] + y * v[1] + z * v[2];
    flat[3 * i + 2] = x * way[0] + y * way[1] + z * way[2];
  }
  const ahead: number[] = [];
  const back: number[] = [];
  for (let t = 0; t < triangles.length / 3; t++) {
    const [a, b, c] = [3 * triangles[3 * t], 3 * triangles[3 * t + 1], 3 * triangles[3 * t + 2]];
    const [p, q, r] = [flat[b] - flat[a], flat[b + 1] - flat[a + 1], flat[b + 2] - flat[a + 2]];
    const [x, y, z] = [flat[c] - flat[a], flat[c + 1] - flat[a + 1], flat[c + 2] - flat[a + 2]];
    const up = p * y - q * x;
    const size = Math.hypot(q * z - r * y, r * x - p * z, up);
    if (up > ALONG * size) ahead.push(t);
    else if (up < -ALONG * size) back.push(t);
  }
  const facing = (list: readonly number[]): Facing => {
    const corners = new Float64Array(list.length * 9);
    const owners = new Int32Array(list.length);
    const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
    let low = Infinity;
    let high = -Infinity;
    list.forEach((t, i) => {
      owners[i] = of[t];
      for (let k = 0; k < 3; k++) {
        const at = 3 * triangles[3 * t + k];
        for (let a = 0; a < 3; a++) corners[9 * i + 3 * k + a] = flat[at + a];
        box[0] = Math.min(box[0], flat[at]);
        box[1] = Math.min(box[1], flat[at + 1]);
        box[2] = Math.max(box[2], flat[at]);
        box[3] = Math.max(box[3], flat[at + 1]);
        low = Math.min(low, flat[at + 2]);
        high = Math.max(high, flat[at + 2]);
      }
    });
    return { corners, of: owners, box, low, high };
  };
  return { ahead: facing(ahead), back: facing(back), grid: null };
}

function gridOf({ corners, of, box }: Facing): Grid {
  const wide = Math.max(1e-9, box[2] - box[0]);
  const deep = Math.max(1e-9, box[3] - box[1]);
  const cell = Math.sqrt((wide * deep) / Math.max(1, of.length)) * 1.5;
  const nu = Math.min(512, Math.ceil(wide / cell));
  const nv = Math.min(512, Math.ceil(deep / cell));
  const size = Math.max(wide / nu, deep / nv);
  const starts = new Uint32Array(nu * nv + 1);
  const each = (i: number, put: (cell: number) => void): void => {
    const [u0, v0, u1, v1] = boxOfCorners(corners, 9 * i);
    const [a, b] = [at(u0 - box[0], size, nu), at(u1 - box[0], size, nu)];
    const [c, d] = [at(v0 - box[1], size, nv), at(v1 - box[1], size, nv)];
    for (let y = c; y <= d; y++) for (let x = a; x <= b; x++) put(y * nu + x);
  };
  for (let i = 0; i < of.length; i++) each(i, (k) => starts[k + 1]++);
  for (let k = 0; k < nu * nv; k++) starts[k + 1] += starts[k];
  const next = starts.slice();
  const list = new Uint32Array(starts[nu * nv]);
  for (let i = 0; i < of.length; i++) each(i, (k) => (list[next[k]++] = i));
  return { nu, nv, cell: size, starts, list };
}

const at = (x: number, cell: number, n: number): number => Math.max(0, Math.min(n - 1, Math.floor(x / cell)));

const boxOfCorners = (c: Float64Array, i: number): [number, number, number, number] => [
  Math.min(c[i], c[i + 3], c[i + 6]),
  Math.min(c[i + 1], c[i + 4], c[i + 7]),
  Math.max(c[i], c[i + 3], c[i + 6]),
  Math.max(c[i + 1], c[i + 4], c[i + 7]),
];

/**
 * How far the first solid, seen along a direction, comes along it before it meets the second, mm; null when it passes. With
 * `any` the first meeting that is found counts, which is all that is needed to know that it does not pass.
 */
export function meets(a: Seen, b: Seen, any: boolean): number | null {
  const [p, q] = [a.ahead, b.back];
  const u0 = Math.max(p.box[0], q.box[0]);
  const v0 = Math.max(p.box[1], q.box[1]);
  const u1 = Math.min(p.box[2], q.box[2]);
  const v1 = Math.min(p.box[3], q.box[3]);
  if (u1 - u0 < WIDE || v1 - v0 < WIDE || q.high - p.low < DEEP) return null;
  b.grid ??= gridOf(q);
  const { nu, cell, starts, list, nv } = b.grid;
  const seen = new Int32Array(q.of.length).fill(-1);
  let least: number | null = null;
  for (let i = 0; i < p.of.length; i++) {
    const [a0, a1, a2, a3] = boxOfCorners(p.corners, 9 * i);
    if (a2 < u0 || a0 > u1 || a3 < v0 || a1 > v1) continue;
    const lowest = Math.min(p.corners[9 * i + 2], p.corners[9 * i + 5], p.corners[9 * i + 8]);
    if (q.high - lowest < DEEP) continue;
    const [x0, x1] = [at(a0 - q.box[0], cell, nu), at(a2 - q.box[0], cell, nu)];
    const [y0, y1] = [at(a1 - q.box[1], cell, nv), at(a3 - q.box[1], cell, nv)];
    for (let y = y0; y <= y1; y++) {
      for (let x = x0; x <= x1; x++) {
        for (let k = starts[y * nu + x]; k < starts[y * nu + x + 1]; k++) {
          const j = list[k];
          if (seen[j] === i) continue;
          seen[j] = i;
          if (p.of[i] >= 0 && p.of[i] === q.of[j]) continue;
          const c = q.corners;
          if (Math.max(c[9 * j + 2], c[9 * j + 5], c[9 * j + 8]) - lowest < DEEP) continue;
          const touching = p.of[i] === BENT && q.of[j] === BENT;
          if (touching && (slope(p.corners, 9 * i) < STEEP || slope(c, 9 * j) < STEEP)) continue;
          const gap = gapBetween(p.corners, 9 * i, c, 9 * j, touching ? -DEEP : DEEP);
          if (gap === null) continue;
          if (any) return gap;
          if (least === null || gap < least) least = gap;
        }
      }
    }
  }
  return least;
}

/** A polygon of at most nine corners, u and v. */
const clip = [new Float64Array(24), new Float64Array(24)];

/** How far behind triangle j triangle i lies where they cover each other; null where they do not, or where i lies before j. */
function gapBetween(p: Float64Array, i: number, q: Float64Array, j: number, deep: number): number | null {
  let [from, to] = clip;
  let n = 3;
  for (let k = 0; k < 3; k++) {
    from[2 * k] = p[i + 3 * k];
    from[2 * k + 1] = p[i + 3 * k + 1];
  }
  // j looks back, so it runs clockwise
  for (let k = 0; k < 3; k++) {
    const b = j + 3 * k;
    const a = j + 3 * ((k + 1) % 3);
    const [eu, ev] = [q[b] - q[a], q[b + 1] - q[a + 1]];
    let m = 0;
    for (let c = 0; c < n; c++) {
      const d = (c + 1) % n;
      const sc = eu * (from[2 * c + 1] - q[a + 1]) - ev * (from[2 * c] - q[a]);
      const sd = eu * (from[2 * d + 1] - q[a + 1]) - ev * (from[2 * d] - q[a]);
      if (sc >= 0) {
        to[2 * m] = from[2 * c];
        to[2 * m++ + 1] = from[2 * c + 1];
      }
      if (sc >= 0 !== sd >= 0) {
        const t = sc / (sc - sd);
        to[2 * m] = from[2 * c] + t * (from[2 * d] - from[2 * c]);
        to[2 * m++ + 1] = from[2 * c + 1] + t * (from[2 * d + 1] - from[2 * c + 1]);
      }
    }
    if (m < 3) return null;
    n = m;
    [from, to] = [to, from];
  }
  let area = 0;
  let round = 0;
  for (let c = 0; c < n; c++) {
    const d = (c + 1) % n;
    area += from[2 * c] * from[2 * d + 1] - from[2 * d] * from[2 * c + 1];
    round += Math.hypot(from[2 * d] - from[2 * c], from[2 * d + 1] - from[2 * c + 1]);
  }
  // twice the area over half the outline: about the width of a narrow polygon
  if (area / (round / 2) < WIDE) return null;
  let most = -Infinity;
  let least = Infinity;
  for (let c = 0; c < n; c++) {
    const gap = heightAt(q, j, from[2 * c], from[2 * c + 1]) - heightAt(p, i, from[2 * c], from[2 * c + 1]);
    most = Math.max(most, gap);
    least = Math.min(least, gap);
  }
  return most > deep ? Math.max(0, least) : null;
}

/** Sine of the angle between a triangle and the direction it is seen along. */
function slope(p: Float64Array, i: number): number {
  const [a, b, c] = [p[i + 3] - p[i], p[i + 4] - p[i + 1], p[i + 5] - p[i + 2]];
  const [d, e, f] = [p[i + 6] - p[i], p[i + 7] - p[i + 1], p[i + 8] - p[i + 2]];
  const up = a * e - b * d;
  return Math.abs(up) / Math.hypot(b * f - c * e, c * d - a * f, up);
}

function heightAt(p: Float64Array, i: number, u: number, v: number): number {
  const [au, av, bu, bv] = [p[i + 3] - p[i], p[i + 4] - p[i + 1], p[i + 6] - p[i], p[i + 7] - p[i + 1]];
  const det = au * bv - av * bu;
  const [x, y] = [u - p[i], v - p[i + 1]];
  const s = (x * bv - y * bu) / det;
  const t = (au * y - av * x) / det;
  return p[i + 2] + s * (p[i + 5] - p[i + 2]) + t * (p[i + 8] - p[i + 2]);
}

/** How far along a direction a solid has to be moved until nothing of it lies beside another any more, mm. */
export function clearance(moving: Iterable<Swept>, staying: Iterable<Swept>, way: Vec3): number {
  let low = Infinity;
  let high = -Infinity;
  for (const { mesh } of moving) {
    for (let i = 0; i < mesh.positions.length; i += 3) {
      low = Math.min(low, dot(way, [mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]]));
    }
  }
  for (const { mesh } of staying) {
    for (let i = 0; i < mesh.positions.length; i += 3) {
      high = Math.max(high, dot(way, [mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]]));
    }
  }
  return Math.max(0, high - low);
}

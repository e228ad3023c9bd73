import { principalAxes, type Vec3, vecOf } from '../mesh/index.ts';
import { radians } from '../units.ts';

/** Sides that differ by less than this are one. */
const EDGE = Math.cos(radians(30));
/** Directions in which the sides say less than this of what they say most of leave the place where it is. */
const LEAST = 0.05;
/** A place so little outside its cell is drawn into it, as it could be folded through its neighbours there; it may lie so far outside; in cells. */
const DRAWN_IN = 0.05;
const OUTSIDE = 0.5;

/** A place on the surface and where the surface looks there. */
export interface Placed {
  readonly at: readonly number[];
  readonly normal: Float64Array;
}

/**
 * Where the sides of a surface meet within a cell: the place nearest to all tangent planes of the places on its edges, by
 * least squares, and as near to their middle as that leaves it free. Null where all look about the same way, and where the
 * sides meet outside the cell.
 *
 *    \    /
 *   --x  x--      the places on the cell's edges, and o, where their planes meet
 *      \/
 *      o
 */
export function featureOf(places: readonly Placed[], min: Vec3, cell: number): Vec3 | null {
  let least = 1;
  for (let i = 0; i < places.length; i++) {
    for (let j = 0; j < i; j++) {
      const [a, b] = [places[i].normal, places[j].normal];
      least = Math.min(least, a[0] * b[0] + a[1] * b[1] + a[2] * b[2]);
    }
  }
  if (least > EDGE) return null;
  const middle = [0, 1, 2].map((a) => places.reduce((s, p) => s + p.at[a], 0) / places.length);
  const m = new Float64Array(9);
  const rhs = [0, 0, 0];
  for (const { at, normal: n } of places) {
    const d = [0, 1, 2].reduce((s, a) => s + n[a] * (at[a] - middle[a]), 0);
    for (let a = 0; a < 3; a++) {
      rhs[a] += n[a] * d;
      for (let b = 0; b < 3; b++) m[a * 3 + b] += n[a] * n[b];
    }
  }
  const { axes, values } = principalAxes(m);
  const out = [...middle];
  let free: Vec3 | null = null;
  axes.forEach((axis, i) => {
    if (values[i] < LEAST * values[0]) {
      free = axis;
      return;
    }
    const along = (axis[0] * rhs[0] + axis[1] * rhs[1] + axis[2] * rhs[2]) / values[i];
    for (let a = 0; a < 3; a++) out[a] += axis[a] * along;
  });
  if (free) slideInto(out, free, min, cell);
  const inside = vecOf((a) => Math.min(min[a] + cell, Math.max(min[a], out[a])));
  const off = Math.hypot(out[0] - inside[0], out[1] - inside[1], out[2] - inside[2]);
  if (off <= DRAWN_IN * cell) return inside;
  return off <= OUTSIDE * cell ? [out[0], out[1], out[2]] : null;
}

/** Moves a place along an edge of the surface into a cell, as little as it takes, when the edge goes through it. */
function slideInto(at: number[], way: Vec3, min: Vec3, cell: number): void {
  let [low, high] = [-Infinity, Infinity];
  for (let a = 0; a < 3; a++) {
    const [near, far] = [min[a] - at[a], min[a] + cell - at[a]];
    if (Math.abs(way[a]) < 1e-9) {
      if (near > 0 || far < 0) return;
      continue;
    }
    low = Math.max(low, Math.min(near / way[a], far / way[a]));
    high = Math.min(high, Math.max(near / way[a], far / way[a]));
  }
  if (low > high) return;
  const t = low > 0 ? low : high < 0 ? high : 0;
  for (let a = 0; a < 3; a++) at[a] += way[a] * t;
}

/**
 * Turns edges between cells so that they join the features of both, in place: an edge whose triangles both end in a feature runs across
 * the crease, the other diagonal along it.
 *
 *     a               a
 *   / | \           /   \
 *  f  |  g   ->    f-----g
 *   \ | /           \   /
 *     b               b
 */
export function flipToFeatures(t: Uint32Array, features: ReadonlySet<number>): void {
  if (features.size === 0) return;
  // by edge (lower and higher vertex) the triangle that has a feature across
  const waiting = new Map<string, number>();
  for (let i = 0; i < t.length; i += 3) {
    if (!features.has(t[i + 2])) continue;
    const [a, b, f] = [t[i], t[i + 1], t[i + 2]];
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    const other = waiting.get(key);
    if (other === undefined) {
      waiting.set(key, i);
      continue;
    }
    waiting.delete(key);
    const g = t[other + 2];
    if (g === f || t[other] !== b || t[other + 1] !== a) continue;
    t.set([f, a, g], i);
    t.set([g, b, f], other);
  }
}

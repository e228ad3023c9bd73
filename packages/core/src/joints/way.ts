import { cross, dot, normalize, type Vec3, vecOf } from '../mesh/index.ts';
import { radians } from '../units.ts';

/** A joint's hold on how two groups may be drawn apart: directions within `freedom` radians of its axis. */
export interface Guide {
  readonly axis: Vec3;
  readonly freedom: number;
}

/** Kept of every joint's freedom, so that what is allowed is allowed with ease; radians. */
const SPARE = radians(0.5);
/** How far two straight joints may differ, radians. */
const STRAIGHT = radians(0.05);

/** How far a direction is beyond what a guide allows, radians; not above 0 where it may go that way. */
export const excessOf = (way: Vec3, { axis, freedom }: Guide): number =>
  Math.acos(Math.max(-1, Math.min(1, dot(way, axis)))) - Math.max(STRAIGHT, freedom - SPARE);

/** All directions within `radius` radians of an axis. Half-spaces are caps of 90°. */
interface Cap {
  readonly axis: Vec3;
  readonly radius: number;
}

const EASE = 1e-6;

/**
 * A direction in which one group of pieces can be drawn off another: against none of the faces' `normals`, and within the
 * freedom of every joint. Null when there is none.
 *
 * What each allows is a cap of the sphere of directions, at most a half. Where caps have a common part, it holds the middle
 * of one of them or a point where two of their rims cross; the caps are convex, so the mean of all such points that are in
 * every cap is in every cap too. Axes of joints are tried first, as straight joints leave only these.
 */
export function wayOut(normals: readonly Vec3[], guides: readonly Guide[]): Vec3 | null {
  const caps = distinct([
    ...guides.map(({ axis, freedom }) => ({ axis, radius: Math.max(STRAIGHT, freedom - SPARE) })),
    ...normals.map((axis) => ({ axis, radius: Math.PI / 2 })),
  ]);
  const inAll = (way: Vec3): boolean => caps.every((c) => angleTo(way, c.axis) <= c.radius + EASE);
  for (const { axis } of guides) if (inAll(axis)) return axis;
  const middle = mean(normals);
  if (middle && inAll(middle)) return middle;
  const common = caps.map((c) => c.axis).filter(inAll);
  for (let i = 0; i < caps.length; i++) {
    for (let k = i + 1; k < caps.length; k++) common.push(...crossings(caps[i], caps[k]).filter(inAll));
  }
  const way = mean(common);
  return way && inAll(way) ? way : (common[0] ?? null);
}

const angleTo = (a: Vec3, b: Vec3): number => Math.acos(Math.max(-1, Math.min(1, dot(a, b))));

function distinct(caps: readonly Cap[]): Cap[] {
  const out: Cap[] = [];
  for (const c of caps) {
    if (!out.some((o) => o.radius === c.radius && dot(o.axis, c.axis) > 1 - 1e-14)) out.push(c);
  }
  return out;
}

function mean(list: readonly Vec3[]): Vec3 | null {
  const sum = list.reduce<Vec3>((s, n) => [s[0] + n[0], s[1] + n[1], s[2] + n[2]], [0, 0, 0]);
  return Math.hypot(...sum) > 1e-9 ? normalize(sum) : null;
}

/** The directions on the rims of two caps: x·a + y·b ± z·(a × b). None where the rims do not meet. */
function crossings({ axis: a, radius: ra }: Cap, { axis: b, radius: rb }: Cap): Vec3[] {
  const c = dot(a, b);
  const det = 1 - c * c;
  if (det < 1e-12) return [];
  const [ca, cb] = [Math.cos(ra), Math.cos(rb)];
  const x = (ca - c * cb) / det;
  const y = (cb - c * ca) / det;
  const rest = (1 - x * x - y * y - 2 * x * y * c) / det;
  if (rest < 0) return [];
  const n = cross(a, b);
  const z = Math.sqrt(rest);
  return [z, -z].map((s) => normalize(vecOf((k) => x * a[k] + y * b[k] + s * n[k])));
}

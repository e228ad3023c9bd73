import {
  type Affine,
  axisVector,
  bladesOf,
  degrees,
  dot,
  inverse,
  makeFrame,
  mapPoint,
  mapVector,
  type Plan,
  perAxis,
  planeInSource,
  radians,
  type Seam,
  seamKind,
  seamPlace,
  seamsBefore,
  turning,
  turningTo,
} from '@gephyra/core/plan';
import type { BoxView, Triple } from '../engine/types.ts';

const AXIS_NAMES = ['x', 'y', 'z'] as const;
type Vec = [number, number, number];

/** The axis a seam is nearest to being square to: 0, 1, 2 for x, y, z. */
export function baseAxis(normal: Triple): number {
  const size = normal.map(Math.abs);
  return size.indexOf(Math.max(...size));
}

export const axisName = (axis: number): (typeof AXIS_NAMES)[number] => AXIS_NAMES[axis];

/** The two other axes, in order. */
export const otherAxes = (axis: number): [number, number] => (axis === 0 ? [1, 2] : axis === 1 ? [0, 2] : [0, 1]);

/** How far a seam leans towards its two other axes, in degrees. */
export function leans(normal: Triple): [number, number] {
  const axis = baseAxis(normal);
  const [a, b] = otherAxes(axis);
  const lean = (x: number): number => degrees(Math.atan2(x, normal[axis]));
  const tidy = (x: number): number => Number((normal[axis] < 0 ? x - Math.sign(x) * 180 : x).toFixed(6)) + 0;
  return [tidy(lean(normal[a])), tidy(lean(normal[b]))];
}

/** The normal of a seam across an axis that leans by two angles in degrees. */
export function leaning(axis: number, first: number, second: number): Vec {
  const [a, b] = otherAxes(axis);
  const n: Vec = [0, 0, 0];
  n[axis] = 1;
  n[a] = Math.tan(radians(first));
  n[b] = Math.tan(radians(second));
  const l = Math.hypot(...n);
  return n.map((x) => Number((x / l).toFixed(12)) + 0) as Vec;
}

/** A seam as it lies on the model: plans keep seams in the source's coordinates. */
export function seamOnModel<S extends Pick<Seam, 'origin' | 'normal' | 'up'>>(seam: S, map: Affine): S {
  const { origin, normal, v } = seamPlace(seam, map).frame;
  return { ...seam, origin: [...origin], normal: [...normal], up: [...v] };
}

/** A place on the model as the plan keeps it, without the last digits that only mapping back and forth gives. */
export function seamInPlan(plane: Pick<Seam, 'origin' | 'normal'>, map: Affine): Pick<Seam, 'origin' | 'normal'> {
  const { origin, normal } = planeInSource(plane, map);
  return { origin: origin.map((x) => tidy(x, 6)) as Vec, normal: normal.map((x) => tidy(x, 12)) as Vec };
}

const tidy = (x: number, digits: number): number => Number(x.toFixed(digits)) + 0;

/** A point and a direction on the model in the plan's coordinates; directions go as ways, not as normals. */
export function pointInPlan(at: Triple, map: Affine): Vec {
  return [...mapPoint(inverse(map), at)].map((x) => tidy(x, 6)) as Vec;
}
export function wayInPlan(way: Triple, map: Affine): Vec {
  return [...mapVector(inverse(map), way)].map((x) => tidy(x, 12)) as Vec;
}

/** A seam across an axis through the middle of a box, at a place along the axis. All on the model. */
export function seamAcross(id: string, axis: number, at: number, box: BoxView): Extract<Seam, { kind: 'flat' }> {
  const origin = box.min.map((x, a) => Number(((x + box.max[a]) / 2).toFixed(4))) as Vec;
  origin[axis] = at;
  const normal: Vec = [0, 0, 0];
  normal[axis] = 1;
  return { id, name: '', kind: 'flat', origin, normal, enabled: true };
}

/**
 * Where a seam across an axis goes: in the middle of the longest stretch between the seams (on the model) that are across it
 * already.
 *
 *     |        |     ·     |      an end, a seam, the new one, the other end
 */
export function middleOfLongest(axis: number, box: BoxView, seams: readonly Seam[]): number {
  const stops = [
    box.min[axis],
    ...seams
      .filter((s) => s.enabled && s.kind === 'flat' && sameWay(s.normal, axisVector(axis)))
      .map((s) => s.origin[axis]),
    box.max[axis],
  ].sort((a, b) => a - b);
  let best = 0;
  stops.forEach((x, i) => {
    if (i + 1 < stops.length && stops[i + 1] - x > stops[best + 1] - stops[best]) best = i;
  });
  return Number(((stops[best] + stops[best + 1]) / 2).toFixed(3));
}

/** What a seam is called while it has no name of its own. */
export function seamTitle(seam: Pick<Seam, 'kind' | 'name' | 'normal'>): string {
  return seam.name || `${seamKind(seam).title} ${axisName(baseAxis(seam.normal))}`;
}

/**
 * Where another parallel seam's plane, or any offset along the normal, lies on the axis line through a seam's origin. All
 * in one size: offsets are normal · x.
 */
export function alongAxis(seam: { origin: Triple; normal: Triple }, offset: number): number {
  const axis = baseAxis(seam.normal);
  return seam.origin[axis] + (offset - dot(seam.origin, seam.normal)) / seam.normal[axis];
}

/** The longest stretches of the model on either side of a seam: to the next seam of the same direction, or its end. */
export function sides(
  at: number,
  others: readonly number[],
  from: number,
  to: number,
): { before: number; after: number } {
  const low = Math.max(from, ...others.filter((x) => x < at));
  const high = Math.min(to, ...others.filter((x) => x > at));
  return { before: at - low, after: high - at };
}

/** Whether two seams look the same way, so that they share a caliper. */
export const sameWay = (a: Triple, b: Triple): boolean => Math.abs(dot(a, b)) > 1 - 1e-6;

/** Tells the same again as long as the pieces are the same that a seam is meant for, as they stand before it. */
export const standingBefore = (
  plan: Pick<Plan, 'seams' | 'anchors'>,
  { id, scope }: Pick<Seam, 'id' | 'scope'>,
): string => JSON.stringify([scope, seamsBefore(plan, id), plan.anchors]);

/** Whether a seam cuts some of what lies in its plane only, so that a piece may go on behind it. */
export const cutsInPart = (seam: Seam): boolean =>
  seam.kind === 'flat' && (seam.bound !== undefined || (seam.regions !== undefined && seam.regions.mode !== 'all'));

/**
 * The seams (on the model, in order) at which the pieces end that another one cuts, as far as their direction says: those that
 * cut all that lies in their plane. What is meant for some pieces has those that stand when it comes; only what follows parts
 * them further.
 */
export function stopsBeside(seam: Seam, seams: readonly Seam[]): Seam[] {
  const at = seams.findIndex((s) => s.id === seam.id);
  return seams.filter(
    (s, i) =>
      s.id !== seam.id &&
      s.enabled &&
      s.kind === 'flat' &&
      sameWay(s.normal, seam.normal) &&
      !cutsInPart(s) &&
      (seam.scope
        ? i > at && (!s.scope || s.scope.some((k) => seam.scope?.some((own) => k.startsWith(own))))
        : !s.scope),
  );
}

/** A seam turned so that its normal becomes another, about a place that stays on it. All on the model. */
export function tilted(
  seam: Pick<Seam, 'origin' | 'normal'>,
  normal: Triple,
  about: Triple,
): Pick<Seam, 'origin' | 'normal'> {
  const origin = mapPoint(turningTo(seam.normal, normal, about), seam.origin);
  return { origin: [...origin] as Vec, normal: [...normal] as Vec };
}

/** A seam's normal turned about one of its own directions by degrees. */
export function turnedBy(normal: Triple, about: Triple, by: number): Triple {
  return mapVector(turning(about, radians(by), [0, 0, 0]), normal);
}

/** The foot of a place on a seam's plane. */
export function onPlane(seam: Pick<Seam, 'origin' | 'normal'>, at: Triple): Triple {
  const h = dot(at, seam.normal) - dot(seam.origin, seam.normal);
  return perAxis(at, (x, a) => x - seam.normal[a] * h);
}

/** Directions of a fan's half-planes in the (u, v) of the plane square to its axis. `seam` as the plan keeps it. */
export function raysOf(seam: Extract<Seam, { kind: 'fan' }>, map: Affine): [number, number][] {
  const { frame } = seamPlace(seam, map);
  const flat = makeFrame(frame.origin, frame.normal, frame.v);
  return bladesOf(seam, map).map(({ outward }) => {
    const [u, v] = [dot(outward, flat.u), dot(outward, flat.v)];
    const l = Math.hypot(u, v) || 1;
    return [u / l, v / l];
  });
}

import { type Affine, planeInSource, type Seam, seamPlace } from '@gephyra/core';
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
  const degrees = (x: number): number => (Math.atan2(x, normal[axis]) * 180) / Math.PI;
  const tidy = (x: number): number => Number((normal[axis] < 0 ? x - Math.sign(x) * 180 : x).toFixed(6)) + 0;
  return [tidy(degrees(normal[a])), tidy(degrees(normal[b]))];
}

/** The normal of a seam across an axis that leans by two angles in degrees. */
export function leaning(axis: number, first: number, second: number): Vec {
  const [a, b] = otherAxes(axis);
  const n: Vec = [0, 0, 0];
  n[axis] = 1;
  n[a] = Math.tan((first * Math.PI) / 180);
  n[b] = Math.tan((second * Math.PI) / 180);
  const l = Math.hypot(...n);
  return n.map((x) => Number((x / l).toFixed(12)) + 0) as Vec;
}

/** A seam as it lies on the model: plans keep seams in the source's coordinates. */
export function seamOnModel(seam: Seam, map: Affine): Seam {
  const { origin, normal, v } = seamPlace(seam, map).frame;
  return { ...seam, origin: [...origin], normal: [...normal], up: [...v] };
}

/** A place on the model as the plan keeps it, without the last digits that only mapping back and forth gives. */
export function seamInPlan(plane: Pick<Seam, 'origin' | 'normal'>, map: Affine): Pick<Seam, 'origin' | 'normal'> {
  const { origin, normal } = planeInSource(plane, map);
  const tidy = (x: number, digits: number): number => Number(x.toFixed(digits)) + 0;
  return { origin: origin.map((x) => tidy(x, 6)) as Vec, normal: normal.map((x) => tidy(x, 12)) as Vec };
}

/** A seam across an axis through the middle of a box, at a place along the axis. All on the model. */
export function seamAcross(id: string, axis: number, at: number, box: BoxView): Seam {
  const origin = box.min.map((x, a) => Number(((x + box.max[a]) / 2).toFixed(4))) as Vec;
  origin[axis] = at;
  const normal: Vec = [0, 0, 0];
  normal[axis] = 1;
  return { id, name: '', kind: 'flat', origin, normal, enabled: true };
}

/** What a seam is called while it has no name of its own. */
export const seamTitle = (seam: Seam): string => seam.name || `Across ${axisName(baseAxis(seam.normal))}`;

/**
 * Where another parallel seam's plane, or any offset along the normal, lies on the axis line through a seam's origin. All
 * in one size: offsets are normal · x.
 */
export function alongAxis(seam: { origin: Triple; normal: Triple }, offset: number): number {
  const axis = baseAxis(seam.normal);
  const own = seam.origin.reduce((sum, x, a) => sum + x * seam.normal[a], 0);
  return seam.origin[axis] + (offset - own) / seam.normal[axis];
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

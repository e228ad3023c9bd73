/**
 * Where a new seam goes, from what the maker has picked. What is picked lies on the model, mm; what is given back is what the
 * plan keeps: the source's coordinates. A way that has no answer gives null.
 */
import {
  type Affine,
  axisVector,
  cross,
  dot,
  length,
  normalize,
  perAxis,
  pointAlong,
  type Seam,
  type SeamInput,
  scale,
  seamKind,
  sub,
} from '@gephyra/core/plan';
import type { BoxView, Triple } from '../../engine/types.ts';
import { baseAxis, middleOfLongest, pointInPlan, seamAcross, seamInPlan, wayInPlan } from '../../project/seam-math.ts';
import type { Sight } from '../../project/selection.tsx';

type WithoutId<Any> = Any extends unknown ? Omit<Any, 'id'> : never;

/** A seam of any kind that has no id yet. */
export type NewSeam = WithoutId<SeamInput>;

/** Where an axis of something round was found. */
export interface RoundPlace {
  readonly origin: Triple;
  readonly axis: Triple;
  readonly radius: number;
}

export function flatSeam(origin: Triple, normal: Triple, map: Affine, name = ''): Extract<NewSeam, { kind: 'flat' }> {
  return { kind: 'flat', name, ...seamInPlan({ origin: [...origin], normal: [...normal] }, map) };
}

/** A seam across an axis, in the middle of the longest stretch between the seams that are across it already. */
export function acrossLongest(axis: number, box: BoxView, seams: readonly Seam[], map: Affine): NewSeam {
  const { origin, normal } = seamAcross('', axis, middleOfLongest(axis, box, seams), box);
  return flatSeam(origin, normal, map);
}

/** The normal of an upright plane square to a face. */
export function squareTo(faceNormal: Triple): Triple {
  return normalize(cross(faceNormal, Math.abs(faceNormal[2]) < 0.9 ? [0, 0, 1] : [0, 1, 0]));
}

/** The seam through three points; null when they lie in one line. */
export function throughPoints([a, b, c]: readonly Triple[], map: Affine): NewSeam | null {
  const n = cross(sub(b, a), sub(c, a));
  return length(n) < 1e-6 ? null : flatSeam(a, towardsPlus(normalize(n)), map, 'Through three points');
}

/** The seam that is seen as a line between two lines of sight; null when they are the same. */
export function byLine(from: Sight, to: Sight, box: BoxView, map: Affine): NewSeam | null {
  // the plane holds both lines of sight
  const n = cross(sub(pointAlong(to.origin, to.direction, 100), from.origin), from.direction);
  if (length(n) < 1e-9) return null;
  const normal = normalize(n);
  const middle = middleOf(box);
  const origin = pointAlong(middle, normal, -dot(sub(middle, from.origin), normal));
  return flatSeam(origin, towardsPlus(normal), map, 'Drawn line');
}

/** A seam 20 mm beside another. */
export function beside(seam: Seam, map: Affine): NewSeam {
  return flatSeam(pointAlong(seam.origin, seam.normal, 20), seam.normal, map);
}

/** A seam of a kind that goes round an axis, round something round. */
export function seamRound(kind: Seam['kind'], { origin, axis, radius }: RoundPlace, map: Affine): NewSeam {
  // by what a length square to the axis grows on its way into the plan
  const growth = length(wayInPlan(normalize(cross(axis, [0.3, 0.5, 0.8])), map));
  const placed = { kind, name: '', origin: pointInPlan(origin, map), normal: wayInPlan(axis, map) };
  // what each kind begins with is checked by the tests of kinds
  return { ...placed, ...seamKind({ kind }).about?.(radius * growth) } as NewSeam;
}

/** The same round the middle of a box, along its shortest side. */
export function seamRoundMiddle(kind: Seam['kind'], box: BoxView, map: Affine): NewSeam {
  const size = sub(box.max, box.min);
  const [least, across] = size.toSorted((a, b) => a - b);
  return seamRound(kind, { origin: middleOf(box), axis: axisVector(size.indexOf(least)), radius: across / 2 }, map);
}

/** More stretches than this are too narrow to carry joints: the line is drawn smoothly through its points then. */
const FEW = 4;

/** A drawn line swept along a way: its points along `up` × `sweep` and up from `origin`, mm, all on the model. */
export function profileSeam(
  origin: Triple,
  sweep: Triple,
  up: Triple,
  points: readonly (readonly [number, number])[],
  map: Affine,
  name = '',
) {
  const along = cross(up, sweep);
  const [normal, high, wide] = [sweep, up, along].map((d) => wayInPlan(d, map));
  // a mirrored model has it the other way round
  const turned = dot(cross(high, normal), wide) < 0 ? -1 : 1;
  const tidy = (x: number): number => Number(x.toFixed(4)) + 0;
  return {
    kind: 'profile' as const,
    name,
    origin: pointInPlan(origin, map),
    normal,
    up: high,
    points: points.map(([t, h]): [number, number] => [tidy(turned * t * length(wide)), tidy(h * length(high))]),
    curve: points.length - 1 > FEW ? ('free' as const) : ('line' as const),
  };
}

/** A level line of five points across the model as it is seen from the front: u runs to the right, v up. */
export function lineFromFront(box: BoxView, map: Affine): NewSeam {
  const reach = ((box.max[0] - box.min[0]) / 2) * length(wayInPlan([1, 0, 0], map));
  return {
    kind: 'profile',
    name: '',
    origin: pointInPlan(middleOf(box), map),
    normal: wayInPlan([0, -1, 0], map),
    up: wayInPlan([0, 0, 1], map),
    points: [-1, -0.5, 0, 0.5, 1].map((k): [number, number] => [Number((k * reach * 1.05).toFixed(3)), 0]),
    curve: 'free',
  };
}

const middleOf = (box: BoxView): Triple => perAxis(box.min, (x, a) => (x + box.max[a]) / 2);

/** A normal turned so that it looks along its largest axis. */
const towardsPlus = (n: Triple): Triple => (n[baseAxis(n)] < 0 ? scale(n, -1) : n);

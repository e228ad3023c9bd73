import { z } from 'zod';
import { uv, vec3 } from '../../fields.ts';
import { type Affine, type Box, bounds, boxCorners, inverse, mapPoint, vecOf } from '../../mesh/index.ts';
import { planeId, type SeamPlace, seamPlace } from './place.ts';
import { common, type Kind, NO_SHAPE, type SeamShape } from './seam-kind.ts';

/**
 * Which regions of its section a seam cuts: those that hold the seeds, (u, v) in its plane, or all but those. With a scope
 * the section is that of the pieces in it (without `of`), or that of the whole body.
 */
const regionsSchema = z.strictObject({
  mode: z.enum(['all', 'only', 'allBut']).default('all'),
  seeds: z.array(uv).max(200).default([]),
  of: z.enum(['pieces', 'body']).optional(),
});

const planeSchema = z.strictObject({
  ...common,
  kind: z.literal('flat'),
  regions: regionsSchema.optional(),
  /** cuts inside this box only, whose own sides are closed faces; corners in source coordinates */
  bound: z.strictObject({ min: vec3, max: vec3 }).optional(),
});

export type FlatSeam = z.output<typeof planeSchema>;
export type SeamRegions = z.output<typeof regionsSchema>;
type Bound = NonNullable<FlatSeam['bound']>;

/** A plane; within a box that bounds it, the part of that box above the plane: plane 0 is its own, the others lie on the box. */
export const flat: Kind<typeof planeSchema> = {
  schema: planeSchema,
  kind: 'flat',
  title: 'Across',
  said: ({ normal }) => `square to ${axisOf(normal)}`,
  way: (seam) => (seam.bound ? 'solid' : 'plane'),
  planes: (seam) => (seam.bound ? 1 + SIDES : 1),
  planeAt: (seam, part, map) =>
    part === 0 || !seam.bound ? seamPlace(seam, map) : sidePlace(seam.bound, part - 1, map),
  bent: () => false,
  round: false,
  shape: (seam, map, reach) => (seam.bound ? boundedShape(seam, seam.bound, map, reach) : NO_SHAPE),
  fields: () => [],
};

/** The axis that a plane is nearest to being square to. */
function axisOf(normal: FlatSeam['normal']): string {
  const size = normal.map(Math.abs);
  return ['x', 'y', 'z'][size.indexOf(Math.max(...size))];
}

/** The place of a side of the box; its normal points into it. */
function sidePlace(bound: Bound, side: number, map: Affine): SeamPlace | null {
  const axis = Math.floor(side / 2);
  if (axis > 2) return null;
  const { low, high } = cornersOf(bound);
  const lower = side % 2 === 0;
  const inward = [0, 0, 0] as [number, number, number];
  inward[axis] = lower ? 1 : -1;
  const origin = vecOf((a) => (a !== axis ? (low[a] + high[a]) / 2 : lower ? low[a] : high[a]));
  return seamPlace({ origin: origin as [number, number, number], normal: inward }, map);
}

/** Sides of a box. */
const SIDES = 6;
/** A box thinner than this bounds nothing, in the source's units. */
const LEAST_BOUND = 1e-4;

function boundedShape(seam: FlatSeam, bound: Bound, map: Affine, reach: Box): SeamShape {
  const { low, high } = cornersOf(bound);
  // of a box that reaches far out only what is round the model counts
  const back = inverse(map);
  const round = bounds(Float64Array.from(boxCorners(reach).flatMap((c) => mapPoint(back, c))));
  for (let a = 0; a < 3; a++) {
    const room = round.max[a] - round.min[a];
    low[a] = Math.max(low[a], round.min[a] - room);
    high[a] = Math.min(high[a], round.max[a] + room);
  }
  // a box without room cuts nothing
  if (low.some((x, a) => high[a] - x < LEAST_BOUND)) return NO_SHAPE;
  const facets = Array.from({ length: flat.planes(seam) }, (_, part) => {
    const own = flat.planeAt(seam, part, map);
    return own && { plane: planeId(seam.id, part), place: own };
  });
  return { solid: { as: 'box', box: { min: low, max: high }, above: seamPlace(seam, map).frame }, facets };
}

/** Corners of a box, whichever of the given ones is which. */
export const cornersOf = ({ min, max }: Bound) => ({
  low: min.map((x, a) => Math.min(x, max[a])) as [number, number, number],
  high: max.map((x, a) => Math.max(x, min[a])) as [number, number, number],
});

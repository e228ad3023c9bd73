import { z } from 'zod';
import { asking, note } from '../../asked.ts';
import { makeFrame } from '../../cut/index.ts';
import { between } from '../../fields.ts';
import { type Affine, determinant, inverse } from '../../mesh/index.ts';
import { extentIn } from './extent.ts';
import { common, flats, type Kind, type Point } from './seam-kind.ts';

/** Radii of rings, in the source's units. */
const SMALLEST = 1e-4;
const WIDEST = 1e6;

const ringSchema = z.strictObject({ ...common, kind: z.literal('ring'), radius: between(SMALLEST, WIDEST), flats });

/** A round wall about an axis: what lies within it is on its + side. */
export const ring: Kind<typeof ringSchema> = {
  schema: ringSchema,
  kind: 'ring',
  title: 'Ring round',
  said: (seam) => `radius ${seam.radius.toFixed(1)}`,
  way: () => 'solid',
  planes: () => 0,
  planeAt: () => null,
  bent: () => true,
  round: false,
  shape(seam, map, reach) {
    const frame = makeFrame(seam.origin, seam.normal, seam.up);
    const extent = extentIn(frame, reach, inverse(map));
    const outline = circle(seam.radius, scaleOf(map));
    const facetOf = outline.map(() => 0);
    return { solid: { as: 'swept', outline, facetOf, frame, extent, bend: 0, sideways: [0, 1] }, facets: [null] };
  },
  swept: ({ radius }) => ({ line: chords(radius, DRAWN + 1, DRAWN), bend: 0 }),
  // half as wide as what it goes round
  about: (radius) => ({ radius: Math.max(SMALLEST, Number((radius / 2).toPrecision(6))) }),
  fields: (seam, scale) => [
    asking(ringSchema.shape, seam).length('radius', 'Radius', {
      value: seam.radius * scale,
      least: LEAST,
      most: WIDEST * scale,
      set: (radius) => ({ radius: radius / scale }),
    }),
    note('Its wall is bent: joints stand on flats that are worked into it.'),
  ],
};

/** The smallest ring that can be set, mm. */
const LEAST = 0.1;
/** Chords of a ring as it is drawn. */
const DRAWN = 64;
/** Chords of round seams keep within this of the circle, mm. */
const CHORD = 0.02;

const scaleOf = (map: Affine): number => Math.cbrt(Math.abs(determinant(map)));

function circle(radius: number, scale: number): Point[] {
  const n = Math.min(360, Math.max(24, Math.ceil(Math.PI / Math.acos(1 - Math.min(0.5, CHORD / (radius * scale))))));
  return chords(radius, n, n);
}

/** Corners of a circle in so many chords, from its first on. */
const chords = (radius: number, corners: number, n: number): Point[] =>
  Array.from({ length: corners }, (_, i) => {
    const a = (i / n) * 2 * Math.PI;
    return [radius * Math.cos(a), radius * Math.sin(a)];
  });

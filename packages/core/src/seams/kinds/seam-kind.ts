import { z } from 'zod';
import type { AskedField, Fields } from '../../asked.ts';
import type { Fan, Frame } from '../../cut/index.ts';
import { between, direction, id, name, pieceKey, vec3 } from '../../fields.ts';
import type { Affine, Box } from '../../mesh/index.ts';
import type { SeamPlace, SeamPlane } from './place.ts';
import { reasonSchema } from './reasons.ts';

/** What every kind of seam has. Places and directions are in the source model's coordinates. */
export const common = {
  id,
  name: name.default(''),
  /** a point of the seam */
  origin: vec3,
  /** flat: square to its plane; fan and ring: along the axis; profile: along the sweep */
  normal: direction,
  up: direction.optional(),
  enabled: z.boolean().default(true),
  /** proposals leave it as it is */
  locked: z.boolean().optional(),
  /** the rims of its flat faces are bevelled on both pieces, mm: a groove for filler or a weld, or against a first layer's bulge */
  edge: z
    .strictObject({
      /** into the face */
      width: between(0.05, 50),
      /** along the skin */
      depth: between(0.05, 50),
      /** openings inside the face, too */
      all: z.boolean().default(false),
      /** not where the rim runs over faces that are to be seen */
      clear: z.boolean().default(false),
    })
    .optional(),
  /** channels in its flat faces that take up glue, on both pieces: so far inside their outline, in stretches, mm */
  channel: z.strictObject({ inset: between(0.5, 100), width: between(0.3, 20), depth: between(0.1, 20) }).optional(),
  /** edges in which its faces meet others are bevelled by so much, mm: corners that print bulged do not hold them apart */
  relief: between(0.05, 20).optional(),
  /** a band printed by itself that bridges it from inside where its face goes round a hollow, mm */
  backing: z
    .strictObject({ width: between(2, 200), thickness: between(0.4, 20), gap: between(0, 5).default(0.2) })
    .optional(),
  /** its faces are glued as they are: they want no joints */
  glued: z.boolean().optional(),
  /** what spoke for it, when a search proposed it */
  reasons: z.array(reasonSchema).max(20).optional(),
  /** keys of the pieces that it cuts, as they stand before it; without it all */
  scope: z.array(pieceKey).max(500).optional(),
};

/** A round place of a bent seam that is worked flat, for joints. In the seam's own frame: across, up, along its normal. */
export const flatSchema = z.strictObject({
  /** its number, kept while others come and go */
  n: z.int().min(0).max(399),
  /** its middle, in the source's units */
  at: vec3,
  /** square to it, into the + side */
  normal: direction,
  /** mm on the printed part */
  diameter: between(4, 200),
});

/** Of seams with bent faces. */
export const flats = z.array(flatSchema).max(60).optional();

/** A seam of whatever kind, as far as all have the same. */
export interface AnySeam extends SeamPlane {
  readonly id: string;
  readonly kind: string;
  readonly name: string;
}

/** Of a seam's plane: across and up, in the source's units. */
export type Point = readonly [number, number];

/** A line that is swept along a seam's normal, moved sideways by `bend` in the middle of the sweep; in the source's units. */
export interface SweptLine {
  readonly line: readonly Point[];
  readonly bend: number;
}

/** How far the model reaches in a source frame: round the frame's origin in its plane, and along its normal. */
export interface Extent {
  readonly centre: readonly [number, number];
  readonly radius: number;
  readonly low: number;
  readonly high: number;
}

/** A counter-clockwise outline swept along a frame's normal, over the model's whole length and somewhat more. */
export interface SweptSolid {
  readonly as: 'swept';
  readonly outline: readonly Point[];
  /** side i goes from corner i to the next and has facet `facetOf[i]`; the two ends have the last facet */
  readonly facetOf: readonly number[];
  /** in the source's coordinates, as the extent */
  readonly frame: Frame;
  readonly extent: Extent;
  /** moves the middle of the sweep sideways, along `sideways` in the frame */
  readonly bend: number;
  readonly sideways: Point;
}

/** What of a box of the source lies above a plane of the model; side i of the box has facet i + 1, the plane facet 0. */
export interface BoxSolid {
  readonly as: 'box';
  readonly box: Box;
  readonly above: Frame;
}

/** A seam that is no plane, as a solid that is to be made: what lies in it is on the seam's + side. */
export interface SeamShape {
  /** null: it cuts nothing */
  readonly solid: SweptSolid | BoxSolid | null;
  /** by facet: the plane its faces lie in, or null where they are bent and carry no joints */
  readonly facets: readonly ({ readonly plane: string; readonly place: SeamPlace } | null)[];
}

/** Of a seam that cuts nothing. */
export const NO_SHAPE: SeamShape = { solid: null, facets: [] };

/** What a kind of seam knows of its seams: everything that is told apart by it. One file a kind; the registry is `index.ts`. */
export interface SeamKind<S extends AnySeam> {
  readonly kind: S['kind'];
  /** what one is called that has no name, before its axis: "Ring round" z */
  readonly title: string;
  /** what is said of one first, in a list: "6 half-planes" */
  said(seam: S): string;
  /** how a seam cuts: by its plane, by half-planes round an axis, or by a solid */
  way(seam: S): 'plane' | 'fan' | 'solid';
  /** how many planes its faces may lie in, numbered from 0; a bent face lies in none */
  planes(seam: S): number;
  /** the place of one of its planes on the model; null where it has none of that number, but what cuts by its plane has only that */
  planeAt(seam: S, part: number, map: Affine): SeamPlace | null;
  /** some of its faces are bent: joints need flats worked into them */
  bent(seam: S): boolean;
  /** it goes round an axis: each plane counts for itself in the keys of pieces, its faces are furnished alike and close a ring */
  readonly round: boolean;
  /** of seams that cut by half-planes */
  fan?(seam: S, map: Affine): Fan;
  /** of seams that cut by a solid; `reach` is the box of the model that it must part */
  shape?(seam: S, map: Affine, reach: Box): SeamShape;
  /** of seams that are swept along their normal, as they are drawn in the view */
  swept?(seam: S): SweptLine;
  /** what sets one round something round of a radius; of kinds that go round an axis. In the source's units. */
  about?(radius: number): Fields;
  /** its sizes as people set them; `scale`: mm on the model for each unit of the source across its normal */
  fields(seam: S, scale: number): readonly AskedField[];
}

/** A kind as the registry lists it. */
export interface Kind<S extends z.ZodType<AnySeam>> extends SeamKind<z.output<S>> {
  readonly schema: S;
}

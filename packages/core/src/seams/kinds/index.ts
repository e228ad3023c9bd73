import { z } from 'zod';
import { fan } from './fan.ts';
import { flat } from './flat.ts';
import { profile } from './profile.ts';
import { ring } from './ring.ts';
import type { AnySeam, flatSchema, SeamKind } from './seam-kind.ts';

// A new kind is a file, a line here, and one in the documentation.
const KINDS = { flat, fan, ring, profile };

type AnySchema = (typeof KINDS)[keyof typeof KINDS]['schema'];
const schemas = Object.values(KINDS).map((kind) => kind.schema) as [AnySchema, ...AnySchema[]];
export const seamSchema = z.discriminatedUnion('kind', schemas);

export type Seam = z.output<typeof seamSchema>;
export type SeamInput = z.input<typeof seamSchema>;
/** A round place of a bent seam that is worked flat. */
export type Flat = z.output<typeof flatSchema>;

/** The kinds, in the order in which people are offered them. */
export const SEAM_KINDS = Object.keys(KINDS) as readonly Seam['kind'][];

/** What is told apart by a kind. Seams of all kinds go in: a kind is only ever asked about its own. */
export const seamKind = ({ kind }: Pick<Seam, 'kind'>): SeamKind<AnySeam> =>
  KINDS[kind] as SeamKind<z.output<AnySchema>> as SeamKind<AnySeam>;

export { bladesOf } from './fan.ts';
export { cornersOf, type FlatSeam, type SeamRegions } from './flat.ts';
export { bendWay, sampled } from './line.ts';
export { planeId, planeInSource, type SeamPlace, seamOfPlane, seamPlace } from './place.ts';
export type { ProfileSeam } from './profile.ts';
export type { SeamReason } from './reasons.ts';
export {
  type BoxSolid,
  common as seamCommon,
  flatSchema,
  type Point,
  type SeamShape,
  type SweptLine,
  type SweptSolid,
} from './seam-kind.ts';

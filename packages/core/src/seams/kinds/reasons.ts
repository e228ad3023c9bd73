import { z } from 'zod';
import { between } from '../../fields.ts';

const share = between(0, 1);

/** What spoke for a proposed seam, as data: said in words by `seamReasons`. */
export const reasonSchema = z.discriminatedUnion('kind', [
  /** so many of the pieces it leaves fit the printer, and so many are parted further */
  z.strictObject({ kind: z.literal('fits'), pieces: z.int().min(0), further: z.int().min(0) }),
  /** no section within so many mm of it is smaller, mm² */
  z.strictObject({ kind: z.literal('narrow'), within: between(0, 1e6), area: between(0, 1e12) }),
  /** this share of its line lies in creases */
  z.strictObject({ kind: z.literal('crease'), share }),
  /** it cuts so many limbs in one plane */
  z.strictObject({ kind: z.literal('shared'), limbs: z.int().min(2) }),
  /** it is level and leaves faces to stand on, mm² */
  z.strictObject({ kind: z.literal('base'), area: between(0, 1e12) }),
  /** it keeps both sides alike: in the mirror plane, through both halves, or with its image on the other side */
  z.strictObject({ kind: z.literal('alike'), how: z.enum(['across', 'same', 'twice']) }),
  /** it parts something round into so many equal sectors */
  z.strictObject({ kind: z.literal('sectors'), count: z.int().min(2) }),
  /** so many of the pieces it leaves stand on it with hardly any overhang */
  z.strictObject({ kind: z.literal('stand'), pieces: z.int().min(1) }),
  /** it is one of a grid of planes, which does with fewer pieces than anything else that was found */
  z.strictObject({ kind: z.literal('grid') }),
]);

/** Why a proposed seam is where it is. */
export type SeamReason = z.output<typeof reasonSchema>;

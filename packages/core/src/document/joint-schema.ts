import { z } from 'zod';
import { FITS } from '../joints/index.ts';
import { angle, between, coordinate, direction, id } from './fields.ts';

const degrees = (d: number): number => (d * Math.PI) / 180;

/** What every kind of joint has. Lengths in mm, angles in radians. */
const common = {
  id,
  /** seam, or contact between two bodies, that it lies on */
  seam: id,
  /** which half-plane of a fan, or which straight stretch of a profile */
  part: z.int().min(0).max(999).optional(),
  /** centre, (u, v) in the seam's plane, source coordinates */
  at: z.tuple([coordinate, coordinate]),
  turn: angle.default(0),
  /** where its axis points instead of square to the face, source coordinates; either way along it */
  lean: direction.optional(),
  /** its own clearance per side; without it that of its fit */
  gap: between(0, 3).optional(),
  fit: z.enum(FITS).default('slip'),
  /** extra depth of the socket */
  depthGap: between(0, 10).default(0.3),
  /** how much wider the socket's mouth is, at 45°, against the bulge of a first layer */
  mouth: between(0, 5).default(0),
  /** the side of the seam whose piece carries the male half: + is where the normal points */
  male: z.enum(['+', '-']).default('-'),
  enabled: z.boolean().default(true),
};

const depth = between(0.5, 200);
const socketDepth = between(0.5, 210).optional();
const width = between(0.5, 200);
const deeper = {
  check: (j: { depth: number; socketDepth?: number | undefined }) =>
    j.socketDepth === undefined || j.socketDepth >= j.depth,
  said: { path: ['socketDepth'], message: 'must not be less than the depth of the male half' },
};

export const pinSchema = z
  .strictObject({
    ...common,
    kind: z.literal('pin'),
    shape: z.enum(['round', 'square', 'hexagon', 'octagon']).default('round'),
    /** diameter, or width across flats */
    diameter: width,
    depth,
    socketDepth,
    /** lead-in at the tip */
    chamfer: between(0, 20).default(0.5),
  })
  .refine((j) => j.chamfer < Math.min(j.diameter / 2, j.depth), {
    path: ['chamfer'],
    message: 'must be less than half the diameter and less than the depth',
  })
  .refine(deeper.check, deeper.said);

export const keySchema = z
  .strictObject({
    ...common,
    kind: z.literal('key'),
    outline: z.enum(['rectangle', 'square', 'hexagon', 'd', 'rounded']).default('rectangle'),
    width,
    /** across; without it as the width */
    height: width.optional(),
    depth,
    socketDepth,
    /** of its sides against its axis */
    taper: between(0, degrees(30)).default(degrees(4)),
    /** radius of its upright edges */
    corner: between(0, 50).default(1),
    /** bevel of its tip */
    chamfer: between(0, 20).default(0.5),
  })
  .refine((j) => Math.tan(j.taper) * j.depth < 0.45 * Math.min(j.width, j.height ?? j.width), {
    path: ['taper'],
    message: 'leaves nothing of the key at its tip',
  })
  .refine(deeper.check, deeper.said);

export const coneSchema = z.strictObject({
  ...common,
  kind: z.literal('cone'),
  diameter: width,
  /** of its wall against the mating face */
  slope: between(degrees(30), degrees(60)).default(degrees(45)),
  /** diameter of the flat at its tip */
  tip: between(0.2, 50).default(0.8),
});

export const dowelSchema = z.strictObject({
  ...common,
  kind: z.literal('dowel'),
  stock: z.enum(['printed', 'wood', 'rod', 'filament', 'own']).default('printed'),
  shape: z.enum(['round', 'square', 'tapered']).default('round'),
  diameter: width,
  /** how far it goes into either piece */
  depth,
  /** the same for the − and the + side where they differ */
  depths: z.tuple([depth, depth]).optional(),
  gapOn: z.enum(['socket', 'rod']).default('socket'),
  /** how much of a stick there is; without it that of the stock */
  stockLength: between(1, 10_000).optional(),
});

export const snapSchema = z
  .strictObject({
    ...common,
    kind: z.literal('snap'),
    diameter: between(3, 60),
    depth: between(4, 120),
    /** between the two prongs */
    slot: between(0.4, 20).default(1.6),
    /** how far the barb stands out on either side */
    barb: between(0.1, 4).default(0.5),
  })
  .refine((j) => j.slot < 0.6 * j.diameter, { path: ['slot'], message: 'leaves too little of the prongs' })
  .refine((j) => j.barb < j.diameter / 5 && 3 * j.barb < j.depth / 2, {
    path: ['barb'],
    message: 'is too large for the pin',
  });

export const magnetSchema = z.strictObject({
  ...common,
  kind: z.literal('magnet'),
  shape: z.enum(['disc', 'block']).default('disc'),
  /** diameter, or length of a block along u */
  diameter: between(1, 100),
  /** of a block along v */
  height: between(1, 100).optional(),
  thickness: between(0.5, 50),
  /** how much of the piece is left over it; 0: an open pocket */
  cover: between(0, 10).default(0),
  /** poles that look out of the − and of the + side */
  poles: z.tuple([z.enum(['n', 's']), z.enum(['n', 's'])]).default(['n', 's']),
});

export const lapSchema = z
  .strictObject({
    ...common,
    kind: z.literal('lap'),
    /** thickness of the lip */
    lip: between(0.3, 50),
    /** how far it reaches over the seam */
    depth: between(0.5, 100),
    /** the edge of the wall whose skin the lip continues */
    edge: z.enum(['inside', 'outside']).default('inside'),
    /** how far it keeps from the ends of a wall that has ends */
    setback: between(0, 200).default(2),
  })
  .refine((j) => j.lean === undefined, {
    path: ['lean'],
    message: 'is not for a lap, which stands square to its face',
  });

export const jointSchema = z.discriminatedUnion('kind', [
  pinSchema,
  keySchema,
  coneSchema,
  dowelSchema,
  snapSchema,
  magnetSchema,
  lapSchema,
]);

export type Joint = z.output<typeof jointSchema>;
export type JointInput = z.input<typeof jointSchema>;
export type JointOf<K extends Joint['kind']> = Extract<Joint, { kind: K }>;
/** Fields of any kind of joint; those that its kind does not have are refused. */
export type JointFields = Partial<Omit<JointOf<'pin'>, 'id' | 'kind' | 'shape'>> & Record<string, unknown>;

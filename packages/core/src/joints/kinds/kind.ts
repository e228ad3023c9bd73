import { z } from 'zod';
import type { AskedField, Fields } from '../../asked.ts';
import { angle, between, coordinate, direction, id } from '../../fields.ts';
import { mm } from '../../units.ts';
import { FITS, type Fit } from '../fits.ts';
import type { FormWish, JointForm, Ring } from '../form.ts';
import type { Exit } from '../rooms.ts';
import type { Stock } from '../stock.ts';

/** What every kind of joint has. Lengths in mm, angles in radians. */
export const common = {
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

export const depth = between(0.5, 200);
export const socketDepth = between(0.5, 210).optional();
export const width = between(0.5, 200);
/** A socket is as deep as what goes into it. */
export const deeper = {
  check: (j: { depth: number; socketDepth?: number | undefined }): boolean =>
    j.socketDepth === undefined || j.socketDepth >= j.depth,
  said: { path: ['socketDepth'], message: 'must not be less than the depth of the male half' },
};

/** A joint of whatever kind, as far as all have the same. */
export interface AnyJoint {
  readonly id: string;
  readonly kind: string;
  readonly fit: Fit;
  readonly depthGap: number;
  readonly male: '+' | '-';
}

/** What a joint's own numbers are judged by. Lengths in mm. */
export interface JointFacts {
  readonly form: JointForm;
  readonly gap: number;
  /** least material between the face and a closed pocket */
  readonly cover: number;
  /** where a room of it comes out of its piece; null where none does */
  readonly exit: Exit | null;
  readonly printer: { readonly kind: 'filament' | 'resin'; readonly material?: string | undefined };
  readonly limits: { readonly stop: number; readonly warn: number; readonly cover: number; readonly bridge: number };
}

/** What kinds find out about their own numbers; each is a finding of its own. */
export type FaultCode =
  | 'joint.stock'
  | 'joint.cover'
  | 'joint.poles'
  | 'joint.holds'
  | 'joint.slot'
  | 'joint.strain'
  | 'joint.thread'
  | 'joint.grip'
  | 'joint.head'
  | 'joint.swing';

/** What is wrong with a joint's own numbers, and the fields that mend it. */
export interface Fault {
  readonly code: FaultCode;
  readonly severity: 'stop' | 'warn';
  readonly message: string;
  readonly value?: number;
  readonly limit?: number;
  readonly mend: { readonly label: string; readonly set: Fields };
}

/** A loose part that a joint needs. Rings are those of a rod by itself, upright. */
export interface LooseNeed {
  readonly kind: 'dowel' | 'magnet' | 'screw';
  /** what it is, in a few words: "printed rod with a flat 8" */
  readonly what: string;
  readonly stock: Stock | null;
  readonly diameter: number;
  readonly count: number;
  readonly rod: readonly Ring[] | null;
  /** printed with the pieces, not bought */
  readonly printed: boolean;
}

/** Where a joint is on its face, and how its axis leans. */
export type PlaceOnFace = Pick<FormWish, 'u' | 'v' | 'turn' | 'lean'>;

/** What a loose part is drawn as: printed, bought, or one half of a magnet. */
export type Tone = 'printed' | 'bought' | 'north' | 'south';

/**
 * A part of what is put into a joint, where it lies in it, mm: rings in the frame of its face, their heights towards the neighbour; or,
 * of what lies in the face, rings square to its axis (across it, height), their heights along it.
 */
export interface InPlace {
  readonly tone: Tone;
  /** the piece that it stays in when the two come apart */
  readonly side: 'own' | 'other';
  /** the axis in (u, v) of what lies in the face, unit */
  readonly axis?: readonly [number, number];
  readonly rings: readonly Ring[];
}

/**
 * A kind of joint: everything that is told apart by it. One folder a kind; the registry is `kinds/index.ts`, and nothing else
 * tests for a kind's name.
 */
export interface KindOf<J extends AnyJoint> {
  readonly kind: J['kind'];
  /** what it is called: "snap pin" */
  readonly name: string;
  /** what goes into the socket: "Peg" */
  readonly male: string;
  /** whether a half of it stands out of its piece, so that it matters which piece carries it */
  readonly stands: boolean;
  /** what is said before the piece that it is reckoned from: "Stands out of" */
  readonly from: string;
  /** has a place on its face, or runs along the wall, wherever on it it was put */
  readonly follows: 'place' | 'wall';
  /** it can lean from the square to its face */
  readonly leans: boolean;
  /** what hangs on it swings */
  readonly swings: boolean;
  /** how the faces that it holds together are closed, when nothing is said */
  readonly closing: 'glue' | 'screw' | 'magnet' | 'loose';
  /** it holds by catching, which no rod in its place would do */
  readonly catches: boolean;
  /** too low for layers that lie across it to matter */
  readonly squat: boolean;
  /** whether walls may be mended by less depth alone */
  readonly shallower: boolean;
  /** how wide it is tried on a coupon unless it is said, mm */
  readonly tried: number;
  /** how wide one of it is when another kind's size says nothing, mm */
  readonly usualSize: number;

  /** in a few words: "hexagon pin" */
  title(joint: J): string;
  /** its sizes in a few signs: "8 × 8" */
  sizes(joint: J): string;
  /** what it is as wide as, mm */
  sizeOf(joint: J): number;
  /** its usual sizes, about `size` mm wide */
  usual(size: number): Fields;
  /** the plainest of it, for trying fits: that wide and deep where its kind lets one choose */
  plain(across: number, depth: number): Fields;
  /** the fields that make it as wide as `size` and keep it sound; null when it comes in one size only */
  resized(joint: J, size: number): Fields | null;
  /** the fields that make it as deep as `depth` and keep it sound */
  deepened(joint: J, depth: number): Fields;
  /** what makes it thick enough to print, `wanted` mm of wall */
  thicker(joint: J, wanted: number): Fault['mend'];
  /** how wide a cone in its place would be, of kinds whose straight sides may bar the way in; null of others */
  slides(joint: J): number | null;
  /** what keeps two pieces from turning about it, where it can be had */
  angular(joint: J): Fault['mend'] | null;
  /** made of what is bought, not printed */
  bought(joint: J): boolean;
  /** what its starting gaps differ by from those of a plain pin, mm */
  extraGap(bought: boolean): number;
  form(joint: J, wish: FormWish): JointForm;
  checks(joint: J, facts: JointFacts): readonly Fault[];
  /** the gap is taken off its loose part instead of added to its sockets */
  thinned(joint: J): boolean;
  /** further numbers of it, as people read them */
  numbers(joint: J, gap: number, printer: JointFacts['printer']): readonly (readonly [string, string])[];
  /** a loose part; `rise`: how much longer it is than deep, because it leans */
  loose(joint: J, rise: number, gap: number): LooseNeed | null;
  /** its loose parts, where they lie when it is joined */
  inPlace(joint: J, form: JointForm, at: PlaceOnFace): readonly InPlace[];
  /** the sizes that it is tried with on a coupon */
  trial(fields: Fields): Fields;
  /** its own sizes as people set them; `codes`: of the pieces on the − and the + side */
  fields(joint: J, codes: readonly string[]): readonly AskedField[];
}

/** A kind as the registry lists it. */
export interface Kind<S extends z.ZodType<AnyJoint>> extends KindOf<z.output<S>> {
  readonly schema: S;
}

/** What most kinds have in common: a half that stands out, in a place of its own, printed. */
export const usually = {
  leans: true,
  swings: false,
  closing: 'glue',
  catches: false,
  male: 'Peg',
  stands: true,
  from: 'Stands out of',
  follows: 'place',
  squat: false,
  shallower: true,
  usualSize: 6,
  tried: 6,
  deepened: (_: unknown, deep: number): Fields => ({ depth: deep }),
  slides: () => null,
  angular: () => null,
  bought: () => false,
  extraGap: () => 0,
  checks: () => [],
  thinned: () => false,
  numbers: () => [],
  loose: () => null,
  inPlace: () => [],
  trial: (fields: Fields): Fields => fields,
} as const;

export const percent = (share: number): string => `${(share * 100).toFixed(1)} %`;
export const half = (x: number): number => Math.round(x * 2) / 2;
export const rounded = (x: number): number => Number(x.toFixed(2));

/** The mend for what must print at least as wide. */
export const widened = (wanted: number): Fault['mend'] => {
  const size = Math.max(Math.ceil(wanted * 20) / 10, 2);
  return { label: `Make it ${mm(size)} thick`, set: { diameter: size } };
};

/** Depth of what has a bevelled tip, and a socket that keeps what it has to spare. */
export const deepenedWithTip = (
  j: { readonly depth: number; readonly chamfer: number; readonly socketDepth?: number | undefined },
  deep: number,
): Fields => ({
  depth: deep,
  chamfer: Math.min(j.chamfer, deep / 3),
  ...(j.socketDepth !== undefined && { socketDepth: deep + j.socketDepth - j.depth }),
});

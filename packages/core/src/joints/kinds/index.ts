import { z } from 'zod';
import type { Fields } from '../../asked.ts';
import { type Fit, type FitPrinter, type FitSets, fitGap } from '../fits.ts';
import { ball } from './ball/index.ts';
import { cone } from './cone/index.ts';
import { dowel } from './dowel/index.ts';
import { hinge } from './hinge/index.ts';
import { key } from './key/index.ts';
import type { AnyJoint, KindOf } from './kind.ts';
import { lap } from './lap/index.ts';
import { magnet } from './magnet/index.ts';
import { pin } from './pin/index.ts';
import { screw } from './screw/index.ts';
import { snap } from './snap/index.ts';

// A new kind is a folder, a line here, and one in the documentation.
const KINDS = { key, pin, cone, dowel, snap, ball, hinge, screw, magnet, lap };

type AnySchema = (typeof KINDS)[keyof typeof KINDS]['schema'];
const schemas = Object.values(KINDS).map((kind) => kind.schema) as [AnySchema, ...AnySchema[]];
export const jointSchema = z.discriminatedUnion('kind', schemas);

export type Joint = z.output<typeof jointSchema>;
export type JointInput = z.input<typeof jointSchema>;
export type JointKind = Joint['kind'];
export type JointOf<K extends JointKind> = Extract<Joint, { kind: K }>;
/** Fields of any kind of joint; those that its kind does not have are refused. */
export type JointFields = Partial<Omit<JointOf<'pin'>, 'id' | 'kind' | 'shape'>> & Record<string, unknown>;

/** The kinds, in the order in which people are offered them. */
export const JOINT_KINDS = Object.keys(KINDS) as readonly JointKind[];

/** What is told apart by a kind. Joints of all kinds go in: a kind is only ever asked about its own. */
export const kindOf = ({ kind }: { readonly kind: JointKind }): KindOf<AnyJoint> => KINDS[kind] as KindOf<AnyJoint>;

/** The kind whose coupon holds for all kinds that are not known better. */
export const PLAINEST: JointKind = 'pin';

/** Whether it runs along its wall instead of standing in a place: then it is a lap's kind of joint. */
export const followsWall = (joint: Joint): joint is JointOf<'lap'> => kindOf(joint).follows === 'wall';

/** The gap of a fit for a kind of joint: what was found out for the kind, else for all, else the starting value. */
export const gapOf = (
  fit: Fit,
  kind: JointKind,
  printer: FitPrinter & { readonly fits?: FitSets | undefined },
  bought = false,
): number => fitGap(fit, kind, printer, kindOf({ kind }).extraGap(bought));

/** What all kinds have; a joint keeps it when it becomes another. */
const SHARED = [
  'id',
  'seam',
  'part',
  'at',
  'turn',
  'lean',
  'gap',
  'fit',
  'depthGap',
  'mouth',
  'male',
  'enabled',
] as const;

/** Where a joint is and how it sits, without its sizes. */
export type Placed = Pick<Joint, 'id' | 'seam' | 'at'> & Partial<Pick<Joint, (typeof SHARED)[number]>>;

/** A joint of a kind in its usual sizes, about `size` mm wide. */
export function newJoint(kind: JointKind, placed: Placed, size: number): JointInput {
  const spec = kindOf({ kind });
  const { lean, ...rest } = placed;
  const made = { ...rest, ...(lean && spec.leans && { lean }), kind, ...spec.usual(size) };
  // every kind's usual sizes are checked by its tests
  return made as JointInput;
}

/** The joint as another kind: where it is, with all that both have, and about as large. */
export function converted(joint: Joint, kind: JointKind): JointInput {
  const [from, to] = [kindOf(joint), kindOf({ kind })];
  const placed: Fields = Object.fromEntries(SHARED.flatMap((k) => (joint[k] === undefined ? [] : [[k, joint[k]]])));
  const size = from.follows === to.follows ? from.sizeOf(joint) : to.usualSize;
  return newJoint(kind, placed as Placed, size);
}

export { ballLoad } from './ball/index.ts';
export { common as jointCommon, type FaultCode, type JointFacts, type Tone } from './kind.ts';
export { type BuiltLap, buildLap } from './lap/build.ts';
export { type LapLine, lapLine } from './lap/line.ts';
export { screwLength } from './screw/index.ts';
export { SCREW_LENGTHS, SCREWS, screwSize } from './screw/sizes.ts';
export { snapLoad } from './snap/form.ts';

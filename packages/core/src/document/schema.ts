import { z } from 'zod';
import { GephyraError } from '../errors.ts';
import { angle, between, coordinate, direction, id, name, text, vec3 } from '../fields.ts';
import { FITS } from '../joints/index.ts';
import { JOINT_KINDS, jointSchema } from '../joints/kinds/index.ts';
import { migrated, PLAN_VERSION, versionOf } from './migrations.ts';
import { stepSchema } from './recipe-schema.ts';

/** Gaps per side by kind of joint (or for all) and by fit, mm. */
export const fitSetsSchema = z.partialRecord(
  z.enum(['all', ...JOINT_KINDS]),
  z.partialRecord(z.enum(FITS), between(0, 3)),
);

export const printerSchema = z.strictObject({
  name: name.default('Own printer'),
  /** build volume, mm */
  size: z.tuple([between(10, 5000), between(10, 5000), between(10, 5000)]),
  /** kept free on every side, in z at the top only, mm */
  margin: between(0, 100).default(2),
  nozzle: between(0.02, 3).default(0.4),
  kind: z.enum(['filament', 'resin']).default('filament'),
  /** what it prints with; without it the commonest of its kind */
  material: name.optional(),
  /** gaps per side that were found out, mm: for all kinds of joint and for single kinds; else starting values hold */
  fits: fitSetsSchema.optional(),
  /** what checks of joints hold against, mm; without them they follow from the nozzle */
  limits: z
    .strictObject({
      /** thinnest wall that can be printed at all */
      least: between(0.01, 20).optional(),
      /** thinnest wall that holds */
      wall: between(0.01, 20).optional(),
      /** least material over a magnet */
      cover: between(0.01, 20).optional(),
      /** widest roof without support */
      bridge: between(0.1, 200).optional(),
    })
    .optional(),
});

/** The key of a piece, as evaluation gives it. */
const pieceKey = text.min(1).max(2000);

const uv = z.tuple([coordinate, coordinate]);

/** What every kind of seam has. Places and directions are in the source model's coordinates. */
const seamCommon = {
  id,
  name: name.default(''),
  /** a point of the seam */
  origin: vec3,
  /** flat: square to its plane; fan and ring: along the axis; profile: along the sweep */
  normal: direction,
  up: direction.optional(),
  enabled: z.boolean().default(true),
  /** keys of the pieces that it cuts, as they stand before it; without it all */
  scope: z.array(pieceKey).max(500).optional(),
};

/** Which regions of its section a seam cuts: those that hold the seeds, (u, v) in its plane, or all but those. */
const regionsSchema = z.strictObject({
  mode: z.enum(['all', 'only', 'allBut']).default('all'),
  seeds: z.array(uv).max(200).default([]),
});

const seamSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    ...seamCommon,
    kind: z.literal('flat'),
    regions: regionsSchema.optional(),
    /** cuts inside this box only, whose own sides are closed faces; corners in source coordinates */
    bound: z.strictObject({ min: vec3, max: vec3 }).optional(),
  }),
  z.strictObject({
    ...seamCommon,
    kind: z.literal('fan'),
    /** half-planes round the axis */
    count: z.int().min(2).max(72),
    /** turns all of them, radians */
    phase: angle.default(0),
  }),
  z.strictObject({ ...seamCommon, kind: z.literal('ring'), radius: between(1e-4, 1e6) }),
  z.strictObject({
    ...seamCommon,
    kind: z.literal('profile'),
    /** the line, (u, v) in the plane square to the sweep */
    points: z.array(uv).min(2).max(400),
    /** straight from point to point; an arc through three; a smooth curve through all */
    curve: z.enum(['line', 'arc', 'free']).default('line'),
    /** how far the middle of the sheet stands out sideways along the sweep */
    bend: coordinate.default(0),
  }),
]);

/** A point inside a piece that tells it from others between the same seams, in source coordinates. */
const anchorSchema = z.strictObject({ key: pieceKey, at: vec3 });

/** A place that seams should keep out of, in source coordinates. */
const zoneSchema = z.discriminatedUnion('kind', [
  z.strictObject({ id, name: name.default(''), kind: z.literal('sphere'), at: vec3, radius: between(1e-4, 1e6) }),
  z.strictObject({ id, name: name.default(''), kind: z.literal('box'), at: vec3, size: vec3 }),
]);

/** Where flat faces of two separate bodies lie against each other, in source coordinates: found, and kept for its joints. */
const contactSchema = z.strictObject({
  id,
  /** the normal points from the first to the second */
  bodies: z.tuple([id, id]),
  origin: vec3,
  normal: direction,
});

/** What the maker says of a piece. */
const pieceSchema = z.strictObject({
  key: pieceKey,
  /** its own name, instead of that of its place */
  name: name.optional(),
  /** set aside: it is not made */
  aside: z.boolean().default(false),
  /** made from another piece's file, as it is or mirrored */
  copyOf: z.strictObject({ key: pieceKey, mirrored: z.boolean().default(false) }).optional(),
  /** what points up while it prints, source coordinates; without it the piece stands on its largest mating face */
  up: direction.optional(),
});

/** What the maker says of a body; the recipe's steps say what is done to it. */
const bodySchema = z.strictObject({
  id,
  name: name.optional(),
  /** letters that its pieces' numbers follow, instead of A, B, C … */
  code: z
    .string()
    .regex(/^[A-Za-z][A-Za-z0-9-]{0,7}$/, 'must be 1 to 8 letters, digits or -')
    .optional(),
  /** bodies with the same group belong together, without being joined */
  group: name.optional(),
  hidden: z.boolean().default(false),
  /** left out of steps that are meant for all bodies */
  locked: z.boolean().default(false),
});

/** A measure of the wearer, and what it was on the model when it was taken, mm. */
const measureSchema = z.strictObject({
  name: name.min(1),
  wanted: between(0, 10_000).optional(),
  measured: between(0, 1e6).optional(),
});

export const planSchema = z
  .strictObject({
    version: z.literal(PLAN_VERSION),
    printer: printerSchema,
    recipe: z.array(stepSchema).max(200).default([]),
    bodies: z.array(bodySchema).max(5000).default([]),
    measures: z.array(measureSchema).max(100).default([]),
    seams: z.array(seamSchema).max(200).default([]),
    joints: z.array(jointSchema).max(5000).default([]),
    contacts: z.array(contactSchema).max(500).default([]),
    /** faces of separate bodies up to this far apart count as lying against each other, mm */
    reach: between(0, 20).default(0.2),
    anchors: z.array(anchorSchema).max(5000).default([]),
    zones: z.array(zoneSchema).max(200).default([]),
    pieces: z.array(pieceSchema).max(5000).default([]),
    /** pieces that differ by no more than this count as equal, mm */
    alike: between(0, 5).default(0.05),
  })
  .superRefine((plan, context) => {
    const unique = (list: readonly { id: string }[], where: string): void => {
      const seen = new Set<string>();
      list.forEach((item, i) => {
        if (seen.has(item.id)) {
          context.addIssue({ code: 'custom', path: [where, i, 'id'], message: `“${item.id}” is used twice` });
        }
        seen.add(item.id);
      });
    };
    unique(plan.seams, 'seams');
    unique(plan.joints, 'joints');
    unique(plan.bodies, 'bodies');
    unique(plan.zones, 'zones');
    unique(plan.contacts, 'contacts');
    plan.joints.forEach((joint, i) => {
      if (![...plan.seams, ...plan.contacts].some((s) => s.id === joint.seam)) {
        context.addIssue({ code: 'custom', path: ['joints', i, 'seam'], message: `there is no seam “${joint.seam}”` });
      }
    });
  });

/** The plan: everything that is decided about a project's pieces. The source model is never changed. */
export type Plan = z.output<typeof planSchema>;
export type PlanInput = z.input<typeof planSchema>;
export type Printer = z.output<typeof printerSchema>;
export type Seam = z.output<typeof seamSchema>;
export type SeamInput = z.input<typeof seamSchema>;
export type FlatSeam = Extract<Seam, { kind: 'flat' }>;
export type ProfileSeam = Extract<Seam, { kind: 'profile' }>;
export type SeamRegions = z.output<typeof regionsSchema>;
export type Zone = z.output<typeof zoneSchema>;
export type PieceNote = z.output<typeof pieceSchema>;
export type Contact = z.output<typeof contactSchema>;
export type BodyNote = z.output<typeof bodySchema>;
export type Measure = z.output<typeof measureSchema>;

/** One thing that is wrong in a plan document. */
export interface PlanIssue {
  /** e.g. joints[0].gap */
  readonly path: string;
  readonly message: string;
}

const isNewer = (input: unknown): boolean => (versionOf(input) ?? 0) > PLAN_VERSION;

/** Checks a plan document of this or an earlier version: the plan with its defaults, or what is wrong in it. */
export function checkPlan(input: unknown): { plan: Plan; issues: [] } | { plan: null; issues: PlanIssue[] } {
  if (isNewer(input)) {
    const message = `is ${versionOf(input)}, of a newer Gephyra; up to ${PLAN_VERSION} can be read here`;
    return { plan: null, issues: [{ path: 'version', message }] };
  }
  const result = planSchema.safeParse(migrated(input));
  if (result.success) return { plan: result.data, issues: [] };
  const issues = result.error.issues.map((issue) => ({
    path: pathOf(issue.path),
    message: issue.code === 'unrecognized_keys' ? `does not know ${issue.keys.join(', ')}` : issue.message,
  }));
  return { plan: null, issues };
}

/**
 * The plan of a document of this or an earlier version. Throws GephyraError `plan.newer` for a later one, else `plan.invalid`
 * that names the first fault by its path.
 */
export function parsePlan(input: unknown): Plan {
  if (isNewer(input)) {
    throw new GephyraError(
      'plan.newer',
      `This plan was written by a newer Gephyra (its form is version ${versionOf(input)}; up to ${PLAN_VERSION} can be read here). Open it with that one.`,
    );
  }
  const { plan, issues } = checkPlan(input);
  if (plan) return plan;
  const more = issues.length > 1 ? ` (and ${issues.length - 1} more)` : '';
  throw new GephyraError('plan.invalid', `The plan's ${issues[0].path} ${issues[0].message}${more}.`);
}

function pathOf(path: readonly PropertyKey[]): string {
  if (path.length === 0) return 'document';
  return path.map((p, i) => (typeof p === 'number' ? `[${p}]` : i > 0 ? `.${String(p)}` : String(p))).join('');
}

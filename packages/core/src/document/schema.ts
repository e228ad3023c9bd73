import { z } from 'zod';
import { GephyraError } from '../errors.ts';
import { angle, between, direction, id, name, pieceKey, text, vec3 } from '../fields.ts';
import { FITS } from '../joints/index.ts';
import { JOINT_KINDS, jointCommon, jointSchema } from '../joints/kinds/index.ts';
import { seamSchema } from '../seams/kinds/index.ts';
import { alternatesSchema } from './alternates.ts';
import { logSchema } from './log.ts';
import { migrated, PLAN_VERSION, versionOf } from './migrations.ts';
import { orderSchema } from './order.ts';
import { type PlanIssue, plainIssue } from './plain-issue.ts';
import { printSettingSchema } from './print-setting.ts';
import { stepSchema } from './recipe-schema.ts';
import { MOST_MARKS, showMarkSchema } from './show-mark.ts';

/** Gaps per side by kind of joint (or for all) and by fit, mm. */
export const fitSetsSchema = z.partialRecord(
  z.enum(['all', ...JOINT_KINDS]),
  z.partialRecord(z.enum(FITS), jointCommon.gap.unwrap()),
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
  /** how it prints its material; what is not said has a starting value */
  setting: printSettingSchema.optional(),
  /** places of its bed that pieces keep out of: corner and size, mm from the bed's front left corner */
  keepOut: z
    .array(
      z.strictObject({
        at: z.tuple([between(-5000, 5000), between(-5000, 5000)]),
        size: z.tuple([between(0.1, 5000), between(0.1, 5000)]),
      }),
    )
    .max(20)
    .optional(),
  /** what its real hours have been of those that were estimated, and how many prints that rests on */
  learned: z.strictObject({ factor: between(0.05, 20), count: z.int().min(1).max(100_000) }).optional(),
});

/** A point inside a piece that tells it from others between the same seams, in source coordinates. */
const anchorSchema = z.strictObject({ key: pieceKey, at: vec3 });

/**
 * Which piece carries a code: `letters`, a number, and the letter of a part where a piece was parted after it was printed. Its
 * key and points of its inside, in source coordinates, tell it again when seams change.
 */
const codeSchema = z.strictObject({
  key: pieceKey,
  letters: z.string().regex(/^[A-Za-z][A-Za-z0-9-]{0,7}$/),
  n: z.int().min(1).max(100_000),
  part: z
    .string()
    .regex(/^[a-z]{1,3}$/)
    .optional(),
  /** what it is called by its place */
  name: name.default(''),
  within: z.array(vec3).max(16).default([]),
  /** what it takes up, cubed source units */
  volume: z.number().min(0).default(0),
  /** keys it had before, the last first */
  was: z.array(pieceKey).max(12).optional(),
  /** files with this code were written: it is never another piece's */
  out: z.boolean().optional(),
});

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

/** What a choice of pose favours: little support, a fast print, strong joints, clean show faces. */
export const WISHES = ['support', 'fast', 'strong', 'show'] as const;

/** How a piece lies on the bed. */
const poseSchema = z.strictObject({
  /** points away from the bed, source coordinates */
  up: direction,
  /** turns it about z once it lies, radians */
  spin: angle.default(0),
  by: z.enum(['hand', 'search']).default('hand'),
  /** what speaks for it, when it was found by a search */
  why: text.max(300).optional(),
});

const colour = z.string().regex(/^#[0-9a-f]{6}$/, 'must be a colour such as #2c7a66');

/** What the maker says of a piece. */
const pieceSchema = z.strictObject({
  key: pieceKey,
  /** its own name, instead of that of its place */
  name: name.optional(),
  /** set aside: it is not made */
  aside: z.boolean().default(false),
  /** made from another piece's file, as it is or mirrored */
  copyOf: z.strictObject({ key: pieceKey, mirrored: z.boolean().default(false) }).optional(),
  /** without it the piece is printed upright as it was modelled */
  pose: poseSchema.optional(),
  /** what its pose favours, instead of the project's */
  wish: z.enum(WISHES).optional(),
  /** of the filament or resin it is printed from */
  colour: colour.optional(),
  material: name.optional(),
  /** name of the printer it is for, instead of the smallest that holds it */
  printer: name.optional(),
  /** how many are made */
  copies: z.int().min(1).max(500).optional(),
});

/** A piece on a bed: which of its copies, where the middle of its box is, and its turn beyond that of its pose. */
const placedPieceSchema = z.strictObject({
  piece: pieceKey,
  copy: z.int().min(1).max(500).default(1),
  /** mm from the bed's front left corner */
  x: between(-10_000, 10_000),
  y: between(-10_000, 10_000),
  /** radians, counter-clockwise seen from above */
  spin: angle.default(0),
  /** filling leaves it where it is */
  locked: z.boolean().default(false),
});

/** One print job. */
const bedSchema = z.strictObject({
  id,
  name: name.default(''),
  /** by name: the plan's printer or one of its others */
  printer: name,
  material: name.optional(),
  colour: colour.optional(),
  /** filling leaves it as it is */
  locked: z.boolean().default(false),
  pieces: z.array(placedPieceSchema).max(2000).default([]),
});

/** How beds are filled. */
const beddingSchema = z.strictObject({
  /** between pieces, mm */
  spacing: between(0, 100).default(4),
  /** round each piece, mm */
  brim: between(0, 50).default(0),
  /** longest that a bed may take */
  hours: between(0.1, 1000).optional(),
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

/** How tall and how deep codes are, when nothing else is said, mm. */
export const LABELS = { height: 8, depth: 0.4 };

export const planSchema = z
  .strictObject({
    version: z.literal(PLAN_VERSION),
    printer: printerSchema,
    recipe: z.array(stepSchema).max(200).default([]),
    bodies: z.array(bodySchema).max(5000).default([]),
    alternates: z.array(alternatesSchema).max(100).default([]),
    measures: z.array(measureSchema).max(100).default([]),
    seams: z.array(seamSchema).max(200).default([]),
    joints: z.array(jointSchema).max(5000).default([]),
    contacts: z.array(contactSchema).max(500).default([]),
    /** faces of separate bodies up to this far apart count as lying against each other, mm */
    reach: between(0, 20).default(0.2),
    anchors: z.array(anchorSchema).max(5000).default([]),
    /** the codes that were given; of a plan from before there were any, pieces are numbered as they lie */
    codes: z.array(codeSchema).max(10_000).default([]),
    zones: z.array(zoneSchema).max(200).default([]),
    /** faces that are to be seen, in the order they were marked */
    show: z.array(showMarkSchema).max(MOST_MARKS).default([]),
    pieces: z.array(pieceSchema).max(5000).default([]),
    /** pieces that differ by no more than this count as equal, mm */
    alike: between(0, 5).default(0.05),
    /** printers that are used beside the main one */
    printers: z.array(printerSchema).max(12).default([]),
    /** what poses favour */
    wish: z.enum(WISHES).default('support'),
    /** codes engraved into mating faces, mm; without it there are none */
    labels: z
      .strictObject({ height: between(2, 100).default(LABELS.height), depth: between(0.1, 3).default(LABELS.depth) })
      .optional(),
    bedding: beddingSchema.default({ spacing: 4, brim: 0 }),
    beds: z.array(bedSchema).max(500).default([]),
    /** how the pieces are joined; without it what was cut last is joined first */
    order: orderSchema.optional(),
    /** what happened at the bench, in the order it was noted */
    log: logSchema.optional(),
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
    unique(plan.beds, 'beds');
    unique(plan.order ?? [], 'order');
    unique(plan.alternates, 'alternates');
    const swapped = new Set<string>();
    plan.alternates.forEach(({ bodies }, i) => {
      bodies.forEach((body, k) => {
        if (swapped.has(body)) {
          context.addIssue({
            code: 'custom',
            path: ['alternates', i, 'bodies', k],
            message: `“${body}” is an alternate already`,
          });
        }
        swapped.add(body);
      });
    });
    const made = new Set<string>();
    const used = new Set<string>();
    plan.order?.forEach(({ id: step, parts }, i) => {
      parts.forEach((part, k) => {
        const name = JSON.stringify(part);
        const at = ['order', i, 'parts', k];
        if (used.has(name)) context.addIssue({ code: 'custom', path: at, message: 'takes part twice' });
        if ('step' in part && !made.has(part.step)) {
          context.addIssue({ code: 'custom', path: at, message: `no step “${part.step}” comes before it` });
        }
        used.add(name);
      });
      made.add(step);
    });
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
export type Zone = z.output<typeof zoneSchema>;
export type PieceNote = z.output<typeof pieceSchema>;
export type Wish = (typeof WISHES)[number];
export type PoseNote = z.output<typeof poseSchema>;
export type Bed = z.output<typeof bedSchema>;
export type PlacedPiece = z.output<typeof placedPieceSchema>;
export type Bedding = z.output<typeof beddingSchema>;
export type Contact = z.output<typeof contactSchema>;
export type BodyNote = z.output<typeof bodySchema>;
export type CodeEntry = z.output<typeof codeSchema>;
export type Measure = z.output<typeof measureSchema>;

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
 * that says the first fault in a maker's words; `checkPlan` has them all, by their paths.
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
  throw new GephyraError('plan.invalid', `This plan cannot be used: ${plainIssue(input, issues[0])}${more}.`);
}

function pathOf(path: readonly PropertyKey[]): string {
  if (path.length === 0) return 'document';
  return path.map((p, i) => (typeof p === 'number' ? `[${p}]` : i > 0 ? `.${String(p)}` : String(p))).join('');
}

import { z } from 'zod';
import { GephyraError } from '../errors.ts';
import { between, direction, finite, id, name, stepSchema, vec3 } from '../recipe/index.ts';

export const printerSchema = z.strictObject({
  name: name.default('Own printer'),
  /** build volume, mm */
  size: z.tuple([between(10, 5000), between(10, 5000), between(10, 5000)]),
  /** kept free on every side, in z at the top only, mm */
  margin: between(0, 100).default(2),
  nozzle: between(0.02, 3).default(0.4),
  kind: z.enum(['filament', 'resin']).default('filament'),
});

export const seamSchema = z.strictObject({
  id,
  name: name.default(''),
  kind: z.literal('flat'),
  /** a point of the plane and its normal, in the source model's coordinates */
  origin: vec3,
  normal: direction,
  up: direction.optional(),
  enabled: z.boolean().default(true),
});

export const jointSchema = z
  .strictObject({
    id,
    kind: z.literal('pin'),
    seam: id,
    /** centre, (u, v) in the seam's plane, source coordinates */
    at: z.tuple([finite, finite]),
    shape: z.enum(['round', 'square', 'hexagon']).default('round'),
    /** diameter, or width across flats, mm */
    diameter: between(0.5, 200),
    /** how far the male half stands out, mm */
    depth: between(0.5, 200),
    /** depth of the socket, mm; without it depth + depthGap */
    socketDepth: between(0.5, 210).optional(),
    depthGap: between(0, 10).default(0.3),
    /** radians */
    turn: finite.default(0),
    /** lead-in at the tip, mm */
    chamfer: between(0, 20).default(0.5),
    /** clearance per side, mm */
    gap: between(0, 3).default(0.2),
    /** the side of the seam whose piece carries the male half: + is where the normal points */
    male: z.enum(['+', '-']).default('-'),
    enabled: z.boolean().default(true),
  })
  .refine((j) => j.chamfer < Math.min(j.diameter / 2, j.depth), {
    path: ['chamfer'],
    message: 'must be less than half the diameter and less than the depth',
  })
  .refine((j) => j.socketDepth === undefined || j.socketDepth >= j.depth, {
    path: ['socketDepth'],
    message: 'must not be less than the depth of the pin',
  });

/** A point inside a piece that tells it from others between the same seams, in source coordinates. */
export const anchorSchema = z.strictObject({ key: z.string().max(2000), at: vec3 });

/** What the maker says of a body; the recipe's steps say what is done to it. */
export const bodySchema = z.strictObject({
  id,
  name: name.optional(),
  /** bodies with the same group belong together, without being joined */
  group: name.optional(),
  hidden: z.boolean().default(false),
  /** left out of steps that are meant for all bodies */
  locked: z.boolean().default(false),
});

/** A measure of the wearer, and what it was on the model when it was taken, mm. */
export const measureSchema = z.strictObject({
  name: name.min(1),
  wanted: between(0, 10_000).optional(),
  measured: between(0, 1e6).optional(),
});

export const planSchema = z
  .strictObject({
    version: z.literal(1),
    printer: printerSchema,
    recipe: z.array(stepSchema).max(200).default([]),
    bodies: z.array(bodySchema).max(5000).default([]),
    measures: z.array(measureSchema).max(100).default([]),
    seams: z.array(seamSchema).max(200).default([]),
    joints: z.array(jointSchema).max(5000).default([]),
    anchors: z.array(anchorSchema).max(5000).default([]),
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
    plan.joints.forEach((joint, i) => {
      if (!plan.seams.some((s) => s.id === joint.seam)) {
        context.addIssue({ code: 'custom', path: ['joints', i, 'seam'], message: `there is no seam “${joint.seam}”` });
      }
    });
  });

/** The plan: everything that is decided about a project's pieces. The source model is never changed. */
export type Plan = z.output<typeof planSchema>;
export type PlanInput = z.input<typeof planSchema>;
export type Printer = z.output<typeof printerSchema>;
export type Seam = z.output<typeof seamSchema>;
export type Joint = z.output<typeof jointSchema>;
export type BodyNote = z.output<typeof bodySchema>;
export type Measure = z.output<typeof measureSchema>;
export type JointInput = z.input<typeof jointSchema>;

/** One thing that is wrong in a plan document. */
export interface PlanIssue {
  /** e.g. joints[0].gap */
  readonly path: string;
  readonly message: string;
}

/** Checks a plan document: the plan with its defaults, or what is wrong in it. */
export function checkPlan(input: unknown): { plan: Plan; issues: [] } | { plan: null; issues: PlanIssue[] } {
  const result = planSchema.safeParse(input);
  if (result.success) return { plan: result.data, issues: [] };
  const issues = result.error.issues.map((issue) => ({
    path: pathOf(issue.path),
    message: issue.code === 'unrecognized_keys' ? `does not know ${issue.keys.join(', ')}` : issue.message,
  }));
  return { plan: null, issues };
}

/** The plan of a document. Throws GephyraError `plan.invalid` that names the first fault by its path. */
export function parsePlan(input: unknown): Plan {
  const { plan, issues } = checkPlan(input);
  if (plan) return plan;
  const more = issues.length > 1 ? ` (and ${issues.length - 1} more)` : '';
  throw new GephyraError('plan.invalid', `The plan's ${issues[0].path} ${issues[0].message}${more}.`);
}

function pathOf(path: readonly PropertyKey[]): string {
  if (path.length === 0) return 'document';
  return path.map((p, i) => (typeof p === 'number' ? `[${p}]` : i > 0 ? `.${String(p)}` : String(p))).join('');
}

import { z } from 'zod';
import { GephyraError } from '../errors.ts';

const finite = z.number({ error: 'must be a number' }).refine(Number.isFinite, 'must be a finite number');
const vec3 = z.tuple([finite, finite, finite], { error: 'must be three numbers: [x, y, z]' });
const direction = vec3.refine((d) => Math.hypot(...d) > 1e-9, 'must not be [0, 0, 0]');
const id = z.string().regex(/^[A-Za-z0-9_-]{1,40}$/, 'must be 1 to 40 letters, digits, - or _');
const name = z.string().max(120);
const between = (low: number, high: number) =>
  finite.refine((x) => x >= low && x <= high, `must be from ${low} to ${high}`);

export const printerSchema = z.strictObject({
  name: name.default('Own printer'),
  /** build volume, mm */
  size: z.tuple([between(10, 5000), between(10, 5000), between(10, 5000)]),
  /** kept free on every side, in z at the top only, mm */
  margin: between(0, 100).default(2),
  nozzle: between(0.02, 3).default(0.4),
  kind: z.enum(['filament', 'resin']).default('filament'),
});

/** Scales the model: by a factor, or so that it measures `size` mm along `axis`. */
export const scaleStepSchema = z.union([
  z.strictObject({ kind: z.literal('scale'), factor: between(1e-6, 1e6) }),
  z.strictObject({ kind: z.literal('scale'), axis: z.enum(['x', 'y', 'z']), size: between(1e-3, 1e5) }),
]);

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

export const planSchema = z
  .strictObject({
    version: z.literal(1),
    printer: printerSchema,
    recipe: z.array(scaleStepSchema).max(1).default([]),
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

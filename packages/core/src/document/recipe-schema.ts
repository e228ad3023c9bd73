import { z } from 'zod';
import { angle, between, direction, id, name, vec3 } from '../fields.ts';

/** What every step has: an id, and whether it is done. */
const common = { id: id.optional(), enabled: z.boolean().default(true) };
/** The bodies a step works on; without it all. */
const on = z.array(id).min(1).max(2000).optional();
const axis = z.enum(['x', 'y', 'z']);
const wall = between(0.1, 200);
/** A round place that a wall is of another thickness at. */
export const unevenPlace = z.strictObject({ at: vec3, radius: between(0.5, 1000), thickness: wall });
/** A wall that is not as thick everywhere; places and directions in source coordinates, sizes in mm. */
const uneven = {
  /** it changes evenly to this thickness, from the body's near end to its far end along a direction */
  taper: z.strictObject({ along: direction.default([0, 0, 1]), thickness: wall }).optional(),
  /** round places it is of another thickness */
  places: z.array(unevenPlace).max(50).default([]),
};

/** Where a measure is taken on the model, in the source's coordinates. */
const taken = z.union([
  z.strictObject({ points: z.tuple([vec3, vec3]) }),
  z.strictObject({
    /** a plane through the point, square to the direction; `body` where only one body counts */
    girth: vec3,
    along: direction.default([0, 0, 1]),
    body: id.optional(),
    side: z.enum(['outer', 'inner']).default('outer'),
  }),
]);

// Steps that turn, scale or mirror: they map the source's coordinates.

/** Scales by a factor, by three, or until the model measures `size` mm along an axis (the others go along if locked). */
const scaleStep = z
  .strictObject({
    ...common,
    kind: z.literal('scale'),
    factor: between(1e-6, 1e6).optional(),
    factors: z.tuple([between(1e-6, 1e6), between(1e-6, 1e6), between(1e-6, 1e6)]).optional(),
    axis: axis.optional(),
    size: between(1e-3, 1e5).optional(),
    locked: z.boolean().default(true),
  })
  .refine(
    (s) =>
      [s.factor, s.factors, s.size].filter((x) => x !== undefined).length === 1 &&
      (s.axis === undefined) === (s.size === undefined),
    'needs either a factor, three factors, or an axis and a size',
  );

/** Says in what unit the file's numbers are. */
const unitStep = z.strictObject({
  ...common,
  kind: z.literal('unit'),
  unit: z.enum(['micron', 'mm', 'cm', 'in', 'ft', 'm']),
});

/** Scales so that a measure of the model becomes the wearer's, with room for padding. */
const tailorStep = z.strictObject({
  ...common,
  kind: z.literal('tailor'),
  name: name.default(''),
  measure: taken,
  wanted: between(1, 10_000),
  /** added to what is wanted, mm */
  room: between(-500, 500).default(0),
});

/** Turns round an axis through the middle of the model, radians. */
const turnStep = z.strictObject({ ...common, kind: z.literal('turn'), axis, angle: between(-100, 100) });

/** Turns the model so that the side with this outward normal (source coordinates) lies below. */
const layStep = z.strictObject({ ...common, kind: z.literal('lay'), normal: direction });

/** Moves the model: its middle over the origin, or its lowest point onto the floor. */
const placeStep = z.strictObject({ ...common, kind: z.literal('place'), to: z.enum(['centre', 'floor']) });

/** Mirrors at a plane (source coordinates), in place or as a copy beside the original. */
const mirrorStep = z.strictObject({
  ...common,
  kind: z.literal('mirror'),
  normal: direction,
  at: vec3,
  copy: z.boolean().default(false),
  on,
});

/** A place on a face and its outward normal, in source coordinates. */
const faceAt = z.strictObject({ at: vec3, normal: direction });

/** Moves one body until its face lies against a face of another, place on place; turned about the faces' normal by `turn`. */
const bringStep = z.strictObject({
  ...common,
  kind: z.literal('bring'),
  body: id,
  from: faceAt,
  to: faceAt,
  turn: between(-100, 100).default(0),
  /** left between the faces, mm; a little, so that the bodies only touch */
  gap: between(0, 100).default(0.02),
});

// Steps that change the surface itself; the work of the server.

const weldStep = z.strictObject({ ...common, kind: z.literal('weld'), tolerance: between(1e-6, 10), on });
const dropStep = z.strictObject({
  ...common,
  kind: z.literal('drop'),
  duplicates: z.boolean().default(true),
  /** triangles lower than this, mm */
  slivers: between(0, 1).default(1e-4),
  /** shells smaller than this in every direction, mm */
  dust: between(0, 1000).default(0),
  on,
});
const splitStep = z.strictObject({ ...common, kind: z.literal('split'), on });
const orientStep = z.strictObject({ ...common, kind: z.literal('orient'), on });
const closeStep = z.strictObject({
  ...common,
  kind: z.literal('close'),
  patch: z.enum(['flat', 'curved']).default('curved'),
  /** also those that are plainly meant to be open */
  openings: z.boolean().default(false),
  /** only holes with a perimeter up to this, mm */
  most: between(0.001, 1e6).optional(),
  on,
});
const mendStep = z.strictObject({
  ...common,
  kind: z.literal('mend'),
  /** how far a point of the surface may move, mm; without it chosen by the size */
  tolerance: between(1e-6, 10).optional(),
  openings: z.boolean().default(false),
  on,
});
/** Frees closed bodies of what passes through itself: they become the surface of what they enclose. */
const untangleStep = z.strictObject({ ...common, kind: z.literal('untangle'), on });
const joinStep = z.strictObject({ ...common, kind: z.literal('join'), on, name: name.optional() });
const separateStep = z.strictObject({ ...common, kind: z.literal('separate'), on });
/** Takes `body` out of the others it reaches into, with a gap all round. */
const takeOutStep = z.strictObject({
  ...common,
  kind: z.literal('takeOut'),
  body: id,
  from: z.array(id).min(1).max(2000),
  gap: between(0, 20).default(0.2),
});
export const removeStep = z.strictObject({ ...common, kind: z.literal('remove'), on: z.array(id).min(1).max(2000) });
const simplifyStep = z
  .strictObject({
    ...common,
    kind: z.literal('simplify'),
    triangles: between(4, 1e8).optional(),
    /** how far the surface may move, mm */
    deviation: between(1e-4, 100).optional(),
    on,
  })
  .refine((s) => (s.triangles === undefined) !== (s.deviation === undefined), 'needs either triangles or a deviation');
/** Gives a surface without thickness a wall. */
const wallStep = z.strictObject({
  ...common,
  kind: z.literal('wall'),
  thickness: wall,
  ...uneven,
  side: z.enum(['inward', 'outward', 'both']).default('inward'),
  /** edge of the cells it is sampled with, mm; without it chosen by the wall */
  cell: between(0.02, 50).optional(),
  on,
});
/** Hollows a closed body. Places are in source coordinates. */
const hollowStep = z.strictObject({
  ...common,
  kind: z.literal('hollow'),
  thickness: wall,
  ...uneven,
  /** points on flat faces that stay open */
  open: z.array(vec3).max(50).default([]),
  drains: z
    .array(z.strictObject({ at: vec3, diameter: between(0.5, 200) }))
    .max(20)
    .default([]),
  cell: between(0.02, 50).optional(),
  on,
});

/** Bores a hole along a route, for what runs through it. Places are in source coordinates, sizes mm. */
const boreStep = z.strictObject({
  ...common,
  kind: z.literal('bore'),
  /** the middle of the bore: where it enters, its corners, where it leaves */
  points: z.array(vec3).min(2).max(60),
  /** of what runs through it */
  diameter: between(0.3, 500),
  /** clearance per side */
  gap: between(0, 20).default(0.2),
  /** radius of the middle line at its corners; without it one and a half diameters */
  bend: between(0, 5000).optional(),
  /** both mouths are widened by so much at 45° */
  mouth: between(0, 100).default(0.5),
  /** both ends are wider to a depth: for a head, a nut or a collar */
  sink: z.strictObject({ diameter: between(0.5, 500), depth: between(0.1, 500) }).optional(),
  /** a slot for a strap of this width, `diameter` thick, turned about its way, radians */
  slot: z.strictObject({ width: between(0.5, 500), turn: angle.default(0) }).optional(),
  /** ends at its last place instead of going through */
  blind: z.boolean().default(false),
  /** what runs through it, to be bought by the length */
  stock: name.optional(),
  on,
});

/** Takes a patch of one colour out of a body, to a depth, as a body of its own that drops in. The place is in source coordinates, sizes mm. */
const inlayStep = z.strictObject({
  ...common,
  kind: z.literal('inlay'),
  /** on the patch */
  at: vec3,
  depth: between(0.4, 100).default(2),
  /** clearance all round */
  gap: between(0, 5).default(0.15),
  on,
});

export const stepSchema = z.discriminatedUnion('kind', [
  scaleStep,
  unitStep,
  tailorStep,
  turnStep,
  layStep,
  placeStep,
  mirrorStep,
  bringStep,
  weldStep,
  dropStep,
  splitStep,
  orientStep,
  closeStep,
  mendStep,
  untangleStep,
  joinStep,
  separateStep,
  takeOutStep,
  removeStep,
  simplifyStep,
  wallStep,
  hollowStep,
  boreStep,
  inlayStep,
]);

type SchemaOf<K> = Extract<(typeof stepSchema)['options'][number], { shape: { kind: z.ZodType<K> } }>;

/** The schema of one kind of step: its fields and their bounds. */
export const stepSchemaOf = <K extends Step['kind']>(kind: K): SchemaOf<K> =>
  stepSchema.options.find((s) => s.shape.kind.value === kind) as SchemaOf<K>;

export type Step = z.output<typeof stepSchema>;
export type StepInput = z.input<typeof stepSchema>;
export type StepOf<K extends Step['kind']> = Extract<Step, { kind: K }>;

const LIGHT_KINDS = [
  'scale',
  'unit',
  'tailor',
  'turn',
  'lay',
  'place',
  'mirror',
  'bring',
  'remove',
] as const satisfies readonly Step['kind'][];
export type LightKind = (typeof LIGHT_KINDS)[number];
export type HeavyKind = Exclude<Step['kind'], LightKind>;

const LIGHT: ReadonlySet<Step['kind']> = new Set(LIGHT_KINDS);

/** Whether a step is done at once, wherever it is asked for; the others are work for a job. */
export const isLight = (step: Pick<Step, 'kind'>): boolean => LIGHT.has(step.kind);

/** The steps that must have been done as a job, up to the last heavy one, and the light rest. Steps that are off are left out. */
export function splitRecipe(recipe: readonly Step[]): { heavy: Step[]; light: Step[] } {
  const active = recipe.filter((s) => s.enabled);
  const last = active.findLastIndex((s) => !isLight(s));
  return { heavy: active.slice(0, last + 1), light: active.slice(last + 1) };
}

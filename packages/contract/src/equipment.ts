import { fitSetsSchema, JOINT_KINDS, jointSchema, printerSchema, printSettingSchema } from '@gephyra/core';
import { z } from 'zod';
import { projectName as name, revision, text } from './fields.ts';

const gap = z.number().min(0).max(3);

/** What a coupon said: which gap was which fit, mm per side. */
const fitResult = z.strictObject({
  /** the day it was tried: 2026-11-23 */
  date: z.string().regex(/^\d{4}-\d{2}-\d{2}$/),
  kind: z.enum(['all', ...JOINT_KINDS]),
  gaps: z.strictObject({
    press: gap.optional(),
    snug: gap.optional(),
    slip: gap.optional(),
    loose: gap.optional(),
  }),
  note: text.max(500).default(''),
});

/** A print that was timed: what was printed, how long it took, and what had been estimated, without any factor. */
const loggedPrint = z.strictObject({
  date: z.string().regex(/^\d{4}-\d{2}-\d{2}$/),
  hours: z.number().min(0.01).max(1000),
  estimate: z.number().min(0.01).max(1000),
  note: text.max(200).default(''),
});

/** A printer of the equipment, with what is known of its fits by material. */
const ownPrinter = z.strictObject({
  name,
  size: printerSchema.shape.size,
  margin: printerSchema.shape.margin,
  nozzle: printerSchema.shape.nozzle,
  kind: printerSchema.shape.kind,
  limits: printerSchema.shape.limits,
  keepOut: printerSchema.shape.keepOut,
  materials: z
    .array(
      z.strictObject({
        name,
        fits: fitSetsSchema.default({}),
        results: z.array(fitResult).max(200).default([]),
        /** how it prints this material; what is not said has a starting value */
        setting: printSettingSchema.optional(),
        /** prints that were timed */
        prints: z.array(loggedPrint).max(500).default([]),
      }),
    )
    .max(40)
    .default([]),
});

/** A joint's settings under a name, to be stamped on faces: all but its place. */
const jointPreset = z.strictObject({
  name,
  joint: z
    .record(z.string(), z.unknown())
    .refine(
      (j) => jointSchema.safeParse({ ...j, id: 'preset', seam: 'preset', at: [0, 0] }).success,
      'is not a joint that can be built',
    ),
});

/** What belongs to the equipment and not to one project. */
export const equipment = z.strictObject({
  printers: z.array(ownPrinter).max(100).default([]),
  presets: z.array(jointPreset).max(200).default([]),
});

export const equipmentRecord = z.object({ revision: z.number().int(), equipment });
export const saveEquipment = z.strictObject({ basedOn: revision, equipment: z.unknown() });

export type FitResult = z.output<typeof fitResult>;
export type OwnPrinter = z.output<typeof ownPrinter>;
export type JointPreset = z.output<typeof jointPreset>;
export type Equipment = z.output<typeof equipment>;
export type EquipmentRecord = z.output<typeof equipmentRecord>;

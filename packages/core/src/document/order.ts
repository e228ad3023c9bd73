import { z } from 'zod';
import { direction, id, text } from '../fields.ts';

/** How the faces of a step are closed. */
export const CLOSINGS = ['glue', 'weld', 'screw', 'magnet', 'loose'] as const;
export type Closing = (typeof CLOSINGS)[number];

/** Minutes until what was closed so may be handled. */
export const CLOSING_MINUTES: Readonly<Record<Closing, number>> = { glue: 20, weld: 5, screw: 2, magnet: 1, loose: 0 };

/** What takes part in a step: a piece by its key, or what an earlier step made. */
const partSchema = z.union([z.strictObject({ piece: text.min(1).max(2000) }), z.strictObject({ step: id })]);

/** A step of joining: its last part comes to the others along `way`. */
const orderStepSchema = z.strictObject({
  id,
  parts: z.array(partSchema).min(2).max(12),
  /** the way that the last part is drawn off again, source coordinates; without it one is found */
  way: direction.optional(),
  closing: z.enum(CLOSINGS).default('glue'),
  notes: text.max(1000).optional(),
  by: z.enum(['hand', 'search']).default('hand'),
});

/** The order of joining: steps in the order they are done. Pieces that are in none are joined last, as they were cut. */
export const orderSchema = z.array(orderStepSchema).max(5000);

export type OrderStep = z.output<typeof orderStepSchema>;
export type OrderPart = OrderStep['parts'][number];

import { z } from 'zod';
import { text } from './fields.ts';

/** How far a printer is with a bed. */
export const PRINT_STATES = ['heating', 'printing', 'paused', 'done', 'failed', 'stopped'] as const;

/** A copy of a piece on a bed that is printed: how tall it lies there, and what tells its file again. */
const printedPiece = z.strictObject({
  piece: text.min(1).max(2000),
  copy: z.int().min(1).max(500),
  /** mm */
  height: z.number().min(0).max(5000),
  file: z
    .string()
    .regex(/^[0-9a-f]{8,64}$/)
    .optional(),
});

/** Hands a bed to a printer. */
export const startPrint = z.strictObject({
  project: text.min(1).max(80),
  printer: text.min(1).max(80),
  /** id and name of the bed */
  bed: text.min(1).max(80),
  title: text.min(1).max(200),
  pieces: z.array(printedPiece).min(1).max(2000),
  /** as estimated */
  seconds: z.number().min(1).max(1e8),
  layers: z.int().min(1).max(1e6),
  /** an export of the bed that is done: what it wrote goes to the printer, and is kept */
  job: text.min(1).max(80),
  /** a simulated printer goes so many times as fast as the clock */
  pace: z.number().min(1).max(1e5).default(1),
  /** whoever sends it, by the name they gave */
  who: text.max(60).optional(),
  /** and fails when this share is printed, where it is to */
  failAt: z.number().min(0).max(1).optional(),
});

/** A time that the record can hold. */
const moment = z.iso.datetime().refine((at) => Date.parse(at) >= 0, 'is before 1970');

/** A print that has ended, as it goes with a project from one workshop to another. */
export const endedPrint = z.strictObject({
  ...startPrint.omit({ project: true, job: true, who: true }).shape,
  state: z.enum(['done', 'failed', 'stopped']),
  share: z.number().min(0).max(1),
  startedAt: moment,
  endedAt: moment,
  noted: z.boolean(),
});

/** What is asked of a print under way. */
export const printAction = z.strictObject({ do: z.enum(['pause', 'resume', 'stop']) });

export const print = z.object({
  id: z.string(),
  project: z.string(),
  printer: z.string(),
  bed: z.string(),
  title: z.string(),
  pieces: z.array(printedPiece),
  state: z.enum(PRINT_STATES),
  /** of its time, 0 … 1 */
  share: z.number(),
  layer: z.number(),
  layers: z.number(),
  /** what stands on the bed by now, mm */
  height: z.number(),
  secondsLeft: z.number(),
  startedAt: z.string(),
  endedAt: z.string().nullable(),
  /** the plan's log tells how it ended */
  noted: z.boolean(),
});

export type StartPrint = z.input<typeof startPrint>;
export type EndedPrint = z.infer<typeof endedPrint>;
export type PrintAction = z.infer<typeof printAction>['do'];
export type Print = z.infer<typeof print>;

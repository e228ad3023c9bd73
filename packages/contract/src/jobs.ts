import { EXPORT_FORMATS, stepSchema } from '@gephyra/core';
import { z } from 'zod';
import { revision, text } from './fields.ts';

/** Which pieces of a revision are written, and how. */
const startExport = z.strictObject({
  revision,
  format: z.enum(EXPORT_FORMATS),
  /** keys of the pieces to write */
  pieces: z.array(text.max(2000)).min(1).max(5000),
  /** in their assembled places, each as it lies on the bed, the plan's beds with those pieces that are chosen, or the assembly sheet */
  as: z.enum(['place', 'print', 'beds', 'sheet']).default('place'),
  /** ids of the beds to write; without them all */
  beds: z.array(text.min(1).max(80)).max(500).optional(),
  /** of a sheet */
  paper: z.enum(['A4', 'LETTER']).optional(),
});

/** Asks for the model after some steps of a recipe. Steps that are off, and light ones at the end, need not be sent. */
const startShape = z.strictObject({
  steps: z.array(stepSchema).max(200),
  /** ids of bodies that steps for all bodies leave out */
  locked: z.array(z.string().max(40)).max(5000).default([]),
});

/**
 * The kinds of work that a server does in the background: what each is called, and, of those that a page may ask for, what it says with it.
 * A new one is a line here, and its file in the server (`jobs/kinds`).
 */
export const JOBS = {
  import: { words: 'bringing in' },
  summary: { words: 'picture of the card' },
  shape: { words: 'steps of the recipe', wish: startShape },
  health: { words: 'health report', wish: startShape },
  export: { words: 'writing pieces', wish: startExport },
  archive: { words: 'packing the project', wish: z.strictObject({}) },
} as const satisfies Record<string, { readonly words: string; readonly wish?: z.ZodType }>;

export type JobKind = keyof typeof JOBS;

/** Kinds that a page may ask for. */
export type AskedJob = { [K in JobKind]: (typeof JOBS)[K] extends { wish: unknown } ? K : never }[JobKind];
type WishOf<K extends AskedJob> = (typeof JOBS)[K]['wish'];
/** What is said with the asking, as it is sent and as it is read. */
export type JobWish<K extends AskedJob> = z.input<WishOf<K>>;
export type JobWanted<K extends AskedJob> = z.output<WishOf<K>>;

export const isAskedJob = (kind: string): kind is AskedJob =>
  Object.hasOwn(JOBS, kind) && 'wish' in JOBS[kind as JobKind];

/** A wish as it was sent. Throws a ZodError for one that is none. */
export const readWish = <K extends AskedJob>(kind: K, sent: unknown): JobWanted<K> =>
  JOBS[kind].wish.parse(sent) as JobWanted<K>;

export const job = z.object({
  id: z.string(),
  kind: z.enum(Object.keys(JOBS) as [JobKind, ...JobKind[]]),
  /** queued: waits for its turn */
  state: z.enum(['queued', 'running', 'done', 'failed', 'cancelled']),
  /** 0 … 1 */
  progress: z.number(),
  what: z.string(),
  projectId: z.string().nullable(),
  /** name of the file to fetch when an export is done */
  fileName: z.string().nullable(),
  error: z
    .object({
      code: z.string(),
      message: z.string(),
      details: z.record(z.string(), z.union([z.string(), z.number(), z.boolean()])),
    })
    .nullable(),
});

/** A job as the list of what is under way has it. */
export const jobEntry = job.extend({
  /** the project's name, or the file's that is brought in */
  subject: z.string(),
  since: z.string(),
});

export type Job = z.infer<typeof job>;
export type JobEntry = z.infer<typeof jobEntry>;

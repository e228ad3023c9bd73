import type { AskedJob, JobKind as Kind } from '@gephyra/contract';
import type { ModelRequest } from '../models.ts';
import { archive } from './archive.ts';
import { exporting } from './export.ts';
import { health } from './health.ts';
import { importing } from './import.ts';
import type { AskedKind, JobKind } from './kind.ts';
import { shape } from './shape.ts';
import { summary } from './summary.ts';

/** The kinds of job. A new one is a file, a line here, and a line in the contract (`jobs.ts`). */
const KINDS = { import: importing, shape, health, summary, archive, export: exporting } satisfies {
  readonly [K in Kind]: K extends AskedJob ? AskedKind<K, never, unknown> : JobKind<never>;
};

type Wish<K extends Kind> = (typeof KINDS)[K] extends JobKind<infer W> ? W : never;

/** A task for a worker thread: which kind, of which model, and what is wished for. */
export type WorkRequest = { [K in Kind]: { readonly do: K } & ModelRequest & Wish<K> }[Kind];

/** What is told apart by a kind; each is only ever asked about its own wishes. */
export const jobKind = (kind: Kind): JobKind<object> => KINDS[kind] as JobKind<object>;

/** What is told apart by a kind that pages ask for. */
export const askedKind = <K extends AskedJob>(kind: K): AskedKind<K, never, object> =>
  KINDS[kind] as unknown as AskedKind<K, never, object>;

export type { ExportWish } from './export.ts';
export type { ImportResult, Keep, Tell, WorkResult } from './kind.ts';

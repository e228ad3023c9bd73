import type { Job } from '@gephyra/contract';
import type { ModelRequest } from '../models.ts';
import { archive } from './archive.ts';
import { exporting } from './export.ts';
import { health } from './health.ts';
import { importing } from './import.ts';
import type { JobKind } from './kind.ts';
import { shape } from './shape.ts';
import { summary } from './summary.ts';

/** The kinds of job. A new one is a file, a line here, and its name in the contract. */
const KINDS = { import: importing, shape, health, summary, archive, export: exporting } satisfies Record<
  Job['kind'],
  JobKind<never>
>;

type Wish<K extends Job['kind']> = (typeof KINDS)[K] extends JobKind<infer W> ? W : never;

/** A task for a worker thread: which kind, of which model, and what is wished for. */
export type WorkRequest = { [K in Job['kind']]: { readonly do: K } & ModelRequest & Wish<K> }[Job['kind']];

/** What is told apart by a kind; each is only ever asked about its own wishes. */
export const jobKind = (kind: Job['kind']): JobKind<object> => KINDS[kind] as JobKind<object>;

export type { ImportResult, Keep, Tell, WorkResult } from './kind.ts';

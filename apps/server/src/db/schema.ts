import type { Equipment, Job, PlanSummary, Print, Project } from '@gephyra/contract';
import type { LogEntry, PlanInput } from '@gephyra/core';
import { boolean, integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';

const when = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' });

export const projects = pgTable('projects', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  source: jsonb('source').$type<Project['source']>().notNull(),
  /** the revision that counts now */
  head: integer('head').notNull(),
  summary: jsonb('summary').$type<PlanSummary>(),
  /** hash of a PNG in the blob store */
  thumbnail: text('thumbnail'),
  createdAt: when('created_at').notNull().defaultNow(),
  updatedAt: when('updated_at').notNull().defaultNow(),
  deletedAt: when('deleted_at'),
});

/** One row a gesture. Nothing is ever changed or removed: undo and redo only move a project's head. */
export const revisions = pgTable(
  'revisions',
  {
    projectId: text('project_id').notNull(),
    n: integer('n').notNull(),
    parent: integer('parent'),
    label: text('label').notNull(),
    /** null: the same as that of the revision `planAt`, apart from the log */
    plan: jsonb('plan').$type<PlanInput>(),
    planAt: integer('plan_at'),
    /** how many entries of its parent's log it keeps; null in rows whose plan still holds its log */
    logKept: integer('log_kept'),
    createdAt: when('created_at').notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.projectId, t.n] })],
);

/** What happened at the bench: entries that a revision adds to what it keeps of its parent's log. */
export const logEntries = pgTable(
  'log_entries',
  {
    projectId: text('project_id').notNull(),
    n: integer('n').notNull(),
    /** from 0, in this revision */
    k: integer('k').notNull(),
    entry: jsonb('entry').$type<LogEntry>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.projectId, t.n, t.k] })],
);

/** Which gestures were done, so that one whose answer was lost is not done twice. */
export const gestures = pgTable(
  'gestures',
  {
    projectId: text('project_id').notNull(),
    id: text('id').notNull(),
    at: when('at').notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.projectId, t.id] })],
);

/** What a job was asked to do: of which file, and what its kind records beside. Enough to do it again after a crash. */
export interface JobInput {
  readonly kind: Job['kind'];
  readonly hash: string;
  readonly fileName: string;
  readonly allowTruncated: boolean;
  readonly [recorded: string]: unknown;
}

export const jobs = pgTable('jobs', {
  id: text('id').primaryKey(),
  kind: text('kind').$type<JobInput['kind']>().notNull(),
  /** hash of the input: a finished job with the same key is not run again */
  key: text('key').notNull(),
  input: jsonb('input').$type<JobInput>().notNull(),
  state: text('state').$type<Job['state']>().notNull(),
  /** how often it was begun by a server that then ended without finishing it */
  attempts: integer('attempts').notNull().default(0),
  projectId: text('project_id'),
  /** an export's archive */
  result: jsonb('result').$type<{ hash: string; fileName: string }>(),
  error: jsonb('error').$type<NonNullable<Job['error']>>(),
  createdAt: when('created_at').notNull().defaultNow(),
});

/** One row: printers, fits and presets, which belong to no project. */
export const equipmentTable = pgTable('equipment', {
  id: integer('id').primaryKey(),
  revision: integer('revision').notNull(),
  document: jsonb('document').$type<Equipment>().notNull(),
  updatedAt: when('updated_at').notNull().defaultNow(),
});

/** A row a bed that was handed to a printer; never removed, since it holds what was printed from. */
export const prints = pgTable('prints', {
  id: text('id').primaryKey(),
  projectId: text('project_id').notNull(),
  printer: text('printer').notNull(),
  bed: text('bed').notNull(),
  title: text('title').notNull(),
  pieces: jsonb('pieces').$type<Print['pieces']>().notNull(),
  /** what the printer's driver keeps of it */
  kept: jsonb('kept').notNull(),
  /** hash of the archive that it was printed from */
  file: text('file').notNull(),
  noted: boolean('noted').notNull().default(false),
  createdAt: when('created_at').notNull().defaultNow(),
});

import { planSchema } from '@gephyra/core';
import { z } from 'zod';
import { projectName, revision, text } from './fields.ts';
import type { AskedJob } from './jobs.ts';

export * from './equipment.ts';
export { projectName } from './fields.ts';
export * from './health.ts';
export * from './jobs.ts';
export * from './prints.ts';

/** The largest plan, bytes: most of a large one is what happened at the bench. */
export const PLAN_LIMIT = 16 * 1024 * 1024;

/** The largest upload, bytes. */
export const UPLOAD_LIMIT = 512 * 1024 * 1024;

/** A body as the record keeps it; the geometry itself is made from the source file. */
const bodySummary = z.object({
  id: z.string(),
  name: z.string(),
  triangles: z.number().int(),
  size: z.tuple([z.number(), z.number(), z.number()]),
  volume: z.number(),
  watertight: z.boolean(),
  openEdges: z.number().int(),
  nonManifoldEdges: z.number().int(),
  inconsistentEdges: z.number().int(),
});

/** What the server computed last of a project's plan. */
const planSummary = z.object({
  revision: z.number().int(),
  pieces: z.number().int(),
  fitting: z.number().int(),
  stops: z.number().int(),
  size: z.tuple([z.number(), z.number(), z.number()]),
  /** where the build stands, once something was noted of it */
  bench: z
    .object({
      copies: z.number().int(),
      printed: z.number().int(),
      joined: z.number().int(),
      /** what comes next, in words */
      next: z.string(),
    })
    .nullable()
    .default(null),
});

export const projectCard = z.object({
  id: z.string(),
  name: z.string(),
  updatedAt: z.string(),
  size: z.tuple([z.number(), z.number(), z.number()]),
  thumbnail: z.string().nullable(),
  summary: planSummary.nullable(),
});

export const project = z.object({
  id: z.string(),
  name: z.string(),
  updatedAt: z.string(),
  source: z.object({
    hash: z.string(),
    fileName: z.string(),
    format: z.string(),
    /** the unit the file names; null: none */
    unit: z.string().nullable().default(null),
    /** read as far as it went, because the maker said so */
    truncated: z.boolean(),
    bodies: z.array(bodySummary),
    notes: z.array(z.string()),
  }),
  revision: z.number().int(),
  /** what undo would take back, and redo bring again; null when there is nothing */
  undo: z.string().nullable(),
  redo: z.string().nullable(),
  plan: planSchema,
});

/** RFC 9457 problem document. `code` is stable; `detail` is for people. */
export const problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  detail: z.string(),
  code: z.string(),
});

/** Given once by whoever makes a gesture: one that arrives again is not done again. */
const gesture = z.string().regex(/^[A-Za-z0-9-]{8,80}$/);

export const savePlan = z.strictObject({
  gesture,
  /** the revision the change was made on */
  basedOn: revision,
  /** what was done, for undo: "Move Neck" */
  label: text.min(1).max(200),
  plan: z.unknown(),
});

export const stepRevision = z.strictObject({ gesture, basedOn: revision });

/** A project after a plan was saved; without the plan where it is the one that was sent. */
export const savedProject = project.extend({ plan: planSchema.nullable() });

/** Where a project stands, told whenever that changes. */
export const projectNews = z.object({ project: z.string(), revision: z.number().int(), name: z.string() });
export const renameProject = z.strictObject({ name: projectName });

export type BodySummary = z.infer<typeof bodySummary>;
export type PlanSummary = z.infer<typeof planSummary>;
export type ProjectCard = z.infer<typeof projectCard>;
export type Project = z.infer<typeof project>;
export type Problem = z.infer<typeof problem>;
/** What is sent with an act on a plan, so that one that is sent again is done once. */
export type Act = z.infer<typeof stepRevision>;
export type SavedProject = z.infer<typeof savedProject>;
export type ProjectNews = z.infer<typeof projectNews>;
export type SavePlan = z.infer<typeof savePlan>;

const id = encodeURIComponent;

/** Where everything is. Uploads take the file's bytes as the body. */
export const routes = {
  projects: '/api/projects',
  upload: (fileName: string, allowTruncated: boolean) =>
    `/api/projects?file=${id(fileName)}${allowTruncated ? '&truncated=take' : ''}`,
  project: (p: string) => `/api/projects/${id(p)}`,
  duplicate: (p: string) => `/api/projects/${id(p)}/duplicate`,
  restore: (p: string) => `/api/projects/${id(p)}/restore`,
  plan: (p: string) => `/api/projects/${id(p)}/plan`,
  undo: (p: string) => `/api/projects/${id(p)}/undo`,
  redo: (p: string) => `/api/projects/${id(p)}/redo`,
  projectEvents: '/api/projects/events',
  thumbnail: (p: string, version: string) => `/api/projects/${id(p)}/thumbnail?v=${id(version)}`,
  askedJob: (p: string, kind: AskedJob) => `/api/projects/${id(p)}/jobs/${kind}`,
  jobs: '/api/jobs',
  job: (j: string) => `/api/jobs/${id(j)}`,
  jobForAll: (j: string) => `/api/jobs/${id(j)}?all=yes`,
  jobEvents: (j: string) => `/api/jobs/${id(j)}/events`,
  jobFile: (j: string) => `/api/jobs/${id(j)}/file`,
  equipment: '/api/equipment',
  prints: '/api/prints',
  printsOf: (p: string) => `/api/prints/of/${id(p)}`,
  print: (x: string) => `/api/prints/${id(x)}`,
  printFile: (x: string) => `/api/prints/${id(x)}/file`,
} as const;

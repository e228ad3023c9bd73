import { createHash, randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import type { Job, Project, StartExport, StartShape } from '@gephyra/contract';
import { GephyraError, parsePlan, type StepInput, splitRecipe } from '@gephyra/core';
import { and, desc, eq, inArray } from 'drizzle-orm';
import type { BlobStore } from '../blobs.ts';
import type { Database } from '../db/open.ts';
import { type JobInput, jobs } from '../db/schema.ts';
import type { Projects } from '../projects.ts';
import { Workbench } from './workbench.ts';
import type { ImportResult, WorkRequest, WorkResult } from './worker.ts';

type Row = typeof jobs.$inferSelect;

/** Results of recipes that are kept when the server starts; older ones are computed again when they are wanted. */
const KEPT_SHAPES = 60;

const fileOf = ({ source }: Project) => ({
  hash: source.hash,
  fileName: source.fileName,
  allowTruncated: source.truncated,
});

/** How long the summary of a project waits for the next change, ms. */
const SUMMARY_DELAY = 400;

/** Imports, recipes, exports: recorded before they start, so that one that died with the server is run again. */
export class Jobs {
  private readonly bench = new Workbench();
  private readonly live = new Map<string, { progress: number; what: string; stop: AbortController }>();
  private readonly changes = new EventEmitter().setMaxListeners(0);
  private readonly summaries = new Map<string, NodeJS.Timeout>();

  constructor(
    private readonly db: Database,
    private readonly blobs: BlobStore,
    private readonly projects: Projects,
  ) {}

  /** Starts what an earlier server did not finish, and brings summaries up to date. */
  async resume(): Promise<void> {
    const open = await this.db
      .select()
      .from(jobs)
      .where(inArray(jobs.state, ['queued', 'running']));
    for (const row of open) this.start(row);
    for (const card of await this.projects.list()) {
      const { head } = await this.projects.row(card.id);
      if (card.summary?.revision !== head) this.summarize(card.id);
    }
  }

  async close(): Promise<void> {
    for (const timer of this.summaries.values()) clearTimeout(timer);
    await this.bench.close();
  }

  /** Forgets all but the newest results of recipes. Call before blobs are swept. */
  async forgetOld(): Promise<void> {
    const rows = await this.db
      .select({ id: jobs.id })
      .from(jobs)
      .where(and(inArray(jobs.kind, ['shape', 'health', 'archive']), eq(jobs.state, 'done')))
      .orderBy(desc(jobs.createdAt))
      .offset(KEPT_SHAPES);
    if (rows.length > 0)
      await this.db.delete(jobs).where(
        inArray(
          jobs.id,
          rows.map((r) => r.id),
        ),
      );
  }

  /** Hashes that unfinished and finished jobs refer to. */
  async blobsInUse(): Promise<string[]> {
    const rows = await this.db
      .select()
      .from(jobs)
      .where(inArray(jobs.state, ['queued', 'running', 'done']));
    return rows.flatMap((r) => [r.result?.hash ?? '', r.state === 'done' ? '' : r.input.hash]).filter(Boolean);
  }

  async startImport(input: Extract<JobInput, { kind: 'import' }>): Promise<Job> {
    return this.add(input, null, randomUUID());
  }

  /** Writes pieces of a revision. The same export asked for again is the finished one. */
  async startExport(projectId: string, wanted: StartExport): Promise<Job> {
    const project = await this.projects.get(projectId);
    if (project.revision !== wanted.revision) {
      throw new GephyraError('plan.stale', 'The plan has changed since the export was opened. Open it again.');
    }
    return this.once(projectId, {
      kind: 'export',
      ...fileOf(project),
      projectName: project.name,
      plan: project.plan,
      format: wanted.format,
      pieces: [...wanted.pieces].sort(),
    });
  }

  /** Computes the model after some steps of a recipe, or its health. What was computed before is not computed again. */
  async startShape(projectId: string, kind: 'shape' | 'health', wanted: StartShape): Promise<Job> {
    const project = await this.projects.get(projectId);
    const { heavy } = splitRecipe(wanted.steps);
    // ids of steps say nothing about the result
    const steps = heavy.map(({ id: _, ...step }) => step as StepInput);
    return this.once(projectId, { kind, ...fileOf(project), steps, locked: [...wanted.locked].sort() });
  }

  /** Packs a project, its source and its plan, into one file. */
  async startArchive(projectId: string): Promise<Job> {
    const project = await this.projects.get(projectId);
    return this.once(projectId, {
      kind: 'archive',
      ...fileOf(project),
      projectName: project.name,
      plan: project.plan,
    });
  }

  /** Starts a job, or gives the one with the same input that runs or has been done. */
  private async once(projectId: string, input: JobInput): Promise<Job> {
    const key = createHash('sha256').update(JSON.stringify(input)).digest('hex');
    const [known] = await this.db
      .select()
      .from(jobs)
      .where(and(eq(jobs.key, key), inArray(jobs.state, ['queued', 'running', 'done'])))
      .orderBy(desc(jobs.createdAt));
    if (known) return this.view(known);
    return this.add(input, projectId, key);
  }

  async get(id: string): Promise<Job> {
    return this.view(await this.row(id));
  }

  async file(id: string): Promise<{ hash: string; fileName: string }> {
    const { result } = await this.row(id);
    if (!result) throw new GephyraError('job.noFile', 'This job has no file to fetch.');
    return result;
  }

  async cancel(id: string): Promise<void> {
    await this.row(id);
    this.live.get(id)?.stop.abort();
  }

  /** Calls back on every change of a job until it has ended; gives a function that stops watching. */
  watch(id: string, changed: () => void): () => void {
    this.changes.on(id, changed);
    return () => this.changes.off(id, changed);
  }

  /** Computes a project's number of pieces and its picture a moment after its last change. */
  summarize(projectId: string): void {
    clearTimeout(this.summaries.get(projectId));
    const timer = setTimeout(() => {
      this.summaries.delete(projectId);
      this.makeSummary(projectId).catch((error: unknown) => {
        if (!(error instanceof GephyraError)) console.error(error);
      });
    }, SUMMARY_DELAY);
    timer.unref();
    this.summaries.set(projectId, timer);
  }

  private async makeSummary(projectId: string): Promise<void> {
    const p = await this.projects.get(projectId);
    const result = await this.bench.run(
      {
        do: 'summary',
        path: this.blobs.path(p.source.hash),
        hash: p.source.hash,
        fileName: p.source.fileName,
        allowTruncated: p.source.truncated,
        plan: p.plan,
        revision: p.revision,
      },
      () => {},
    );
    if (result.do !== 'summary') return;
    const { hash } = await this.blobs.put([result.png], result.png.length);
    await this.projects.keepSummary(projectId, result.summary, hash);
  }

  private async add(input: JobInput, projectId: string | null, key: string): Promise<Job> {
    const [row] = await this.db
      .insert(jobs)
      .values({ id: randomUUID(), kind: input.kind, key, input, state: 'queued', projectId })
      .returning();
    this.start(row);
    return this.view(row);
  }

  private start(row: Row): void {
    this.live.set(row.id, { progress: 0, what: 'Waiting', stop: new AbortController() });
    this.carryOut(row)
      .catch(async (error: unknown) => {
        const known = error instanceof GephyraError;
        if (!known) console.error(error);
        const cancelled = known && error.code === 'job.cancelled';
        await this.db
          .update(jobs)
          .set({
            state: cancelled ? 'cancelled' : 'failed',
            error: known
              ? { code: error.code, message: error.message, details: { ...error.details } }
              : { code: 'server.error', message: 'Something unforeseen went wrong on the server.', details: {} },
          })
          .where(eq(jobs.id, row.id));
        await this.discard(row.input);
      })
      .catch((error: unknown) => console.error(error))
      .finally(() => {
        this.live.delete(row.id);
        this.changes.emit(row.id);
      });
  }

  /** A refused upload leaves nothing behind, unless a project has the same file. */
  private async discard(input: JobInput): Promise<void> {
    if (input.kind !== 'import') return;
    const used = await this.projects.blobs();
    for (const hash of await this.blobsInUse()) used.add(hash);
    if (!used.has(input.hash)) await this.blobs.remove(input.hash);
  }

  private async carryOut(row: Row): Promise<void> {
    const live = this.live.get(row.id)!;
    const { input } = row;
    await this.db.update(jobs).set({ state: 'running' }).where(eq(jobs.id, row.id));
    this.changes.emit(row.id);
    const run = ({ kind, ...rest }: JobInput): Promise<WorkResult> =>
      this.bench.run(
        { do: kind, path: this.blobs.path(rest.hash), ...rest } as WorkRequest,
        (share, what) => {
          live.progress = share;
          live.what = what;
          this.changes.emit(row.id);
        },
        live.stop.signal,
      );
    const result = await run(input);
    if (result.do === 'import') {
      const projectId = await this.imported(input, result, run);
      await this.db.update(jobs).set({ state: 'done', projectId }).where(eq(jobs.id, row.id));
      this.summarize(projectId);
    } else if (result.do === 'file') {
      const { hash } = await this.blobs.put([result.bytes], result.bytes.length);
      await this.db
        .update(jobs)
        .set({ state: 'done', result: { hash, fileName: result.fileName } })
        .where(eq(jobs.id, row.id));
    }
  }

  /** Makes the project of an import; of an archived one with its own name and plan, and its source as the stored file. */
  private async imported(
    input: JobInput,
    result: ImportResult,
    run: (input: JobInput) => Promise<WorkResult>,
  ): Promise<string> {
    const { archived } = result;
    let { hash, fileName, allowTruncated } = input;
    let read = result;
    if (archived) {
      ({ hash } = await this.blobs.put([archived.bytes], archived.bytes.length));
      fileName = archived.fileName;
      allowTruncated = archived.truncated;
      const inner = await run({ kind: 'import', hash, fileName, allowTruncated });
      if (inner.do !== 'import' || inner.archived) {
        throw new GephyraError(
          'project.archive',
          `${input.fileName} holds a project inside a project. Unpack it first.`,
        );
      }
      read = inner;
    }
    const plan = archived?.plan ?? parsePlan({ version: 1, printer: { name: 'Desktop 220', size: [220, 220, 250] } });
    const name = archived?.name ?? (fileName.replace(/\.[^.]*$/, '').slice(0, 120) || 'Model');
    const { format, unit, bodies, notes } = read;
    return this.projects.create(name, { hash, fileName, format, unit, truncated: allowTruncated, bodies, notes }, plan);
  }

  private async row(id: string): Promise<Row> {
    const [row] = await this.db.select().from(jobs).where(eq(jobs.id, id));
    if (!row) throw new GephyraError('job.unknown', 'There is no such job.');
    return row;
  }

  private view(row: Row): Job {
    const live = this.live.get(row.id);
    return {
      id: row.id,
      kind: row.kind,
      state: row.state,
      progress: row.state === 'done' ? 1 : (live?.progress ?? 0),
      what: live?.what ?? '',
      projectId: row.projectId,
      fileName: row.result?.fileName ?? null,
      error: row.error,
    };
  }
}

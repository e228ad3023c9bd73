import { createHash, randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import type { AskedJob, EndedPrint, Job, JobEntry, JobWanted, Project } from '@gephyra/contract';
import { GephyraError, parsePlan, plainText } from '@gephyra/core';
import { and, asc, desc, eq, inArray, lt, sql } from 'drizzle-orm';
import type { BlobStore } from '../blobs.ts';
import type { Database } from '../db/open.ts';
import { type JobInput, jobs } from '../db/schema.ts';
import type { Prints } from '../printers/prints.ts';
import type { Projects } from '../projects.ts';
import { beyondKeeping } from './forget.ts';
import {
  askedKind,
  type ExportWish,
  type ImportResult,
  jobKind,
  type WorkRequest,
  type WorkResult,
} from './kinds/index.ts';
import { Summaries } from './summaries.ts';
import { usualThreads, Workbench } from './workbench.ts';

type Row = typeof jobs.$inferSelect;

const fileOf = ({ source }: Project) => ({
  hash: source.hash,
  fileName: source.fileName,
  allowTruncated: source.truncated,
});

/** How often a job is begun at all: one that the server did not survive so often is not begun again. */
const ATTEMPTS = 2;

/** How long it is kept why a job failed, days. */
const KEPT_FAILURES = 7;

const gaveUp = (): GephyraError =>
  new GephyraError(
    'job.died',
    `The server ended ${ATTEMPTS} times while it was at this work, so it is not tried again. The model may be too large for this computer.`,
  );

/** A job that waits or runs. */
interface Live {
  progress: number;
  what: string;
  readonly stop: AbortController;
  /** how many have asked for it and not given it up */
  waiting: number;
}

export interface JobOptions {
  /** for tests: instead of the usual ones, ms */
  readonly deadlines?: Partial<Record<Job['kind'], number>>;
  readonly threads?: number;
}

/**
 * Imports, recipes, exports: recorded before they start, so that one that died with the server is run again, though not more
 * than twice: what the server does not survive would keep it from ever coming up.
 */
export class Jobs {
  readonly summaries: Summaries;
  private readonly bench: Workbench;
  private readonly live = new Map<string, Live>();
  private readonly changes = new EventEmitter().setMaxListeners(0);
  private readonly deadlines: Partial<Record<Job['kind'], number>>;
  private closing = false;

  constructor(
    private readonly db: Database,
    private readonly blobs: BlobStore,
    private readonly projects: Projects,
    private readonly prints: Prints,
    options: JobOptions = {},
  ) {
    this.bench = new Workbench(options.threads ?? usualThreads());
    this.deadlines = options.deadlines ?? {};
    this.summaries = new Summaries(this.bench, blobs, projects, this.deadlineOf('summary'));
  }

  /** Starts what an earlier server did not finish, and brings summaries up to date. */
  async resume(): Promise<void> {
    const open = await this.db
      .select()
      .from(jobs)
      .where(inArray(jobs.state, ['queued', 'running']))
      .orderBy(asc(jobs.createdAt));
    for (const row of open) {
      if (row.attempts < ATTEMPTS) this.start(row);
      else await this.fail(row, gaveUp());
    }
    await this.summaries.bringUpToDate();
  }

  /** Ends the work under way; it goes on when a server is started again. */
  async close(): Promise<void> {
    this.closing = true;
    this.summaries.close();
    await this.bench.close();
    // an orderly end is no failed attempt
    await this.db
      .update(jobs)
      .set({ state: 'queued', attempts: sql`greatest(${jobs.attempts} - 1, 0)` })
      .where(eq(jobs.state, 'running'));
  }

  private deadlineOf(kind: Job['kind']): number {
    return this.deadlines[kind] ?? jobKind(kind).deadline;
  }

  /**
   * Lets go what is kept no longer: jobs, gestures, and files that nothing refers to and that were stored `age` ms ago or
   * earlier.
   */
  async tidy(age: number): Promise<void> {
    await this.forgetOld();
    await this.projects.forgetGestures(new Date());
    await this.blobs.sweep(await this.used(), age);
  }

  /** Hashes of all files that something refers to. */
  private async used(): Promise<Set<string>> {
    const used = await this.projects.blobs();
    for (const hash of [...(await this.blobsInUse()), ...(await this.prints.blobsInUse())]) used.add(hash);
    return used;
  }

  private async forgetOld(): Promise<void> {
    const ago = new Date(Date.now() - KEPT_FAILURES * 86_400_000);
    await this.db.delete(jobs).where(and(inArray(jobs.state, ['failed', 'cancelled']), lt(jobs.createdAt, ago)));
    const rows = await this.db.select().from(jobs).where(eq(jobs.state, 'done')).orderBy(desc(jobs.createdAt));
    const finished = await Promise.all(
      rows.flatMap(({ result, ...row }) =>
        result ? [this.blobs.size(result.hash).then((bytes) => ({ ...row, bytes }))] : [],
      ),
    );
    const old = beyondKeeping(finished, new Date());
    if (old.length > 0) await this.db.delete(jobs).where(inArray(jobs.id, old));
  }

  /** Hashes that unfinished and finished jobs refer to. */
  private async blobsInUse(): Promise<string[]> {
    const rows = await this.db
      .select()
      .from(jobs)
      .where(inArray(jobs.state, ['queued', 'running', 'done']));
    return rows.flatMap((r) => [r.result?.hash ?? '', r.state === 'done' ? '' : r.input.hash]).filter(Boolean);
  }

  /** A file is on its way that will be imported. */
  expectImport(): void {
    this.bench.warm();
  }

  async startImport(file: { hash: string; fileName: string; allowTruncated: boolean }): Promise<Job> {
    return this.add({ kind: 'import', ...file }, null, randomUUID());
  }

  /** Starts what a page asks for. The same asked again is the one that runs or is finished. Throws what its kind throws of the wish. */
  async ask<K extends AskedJob>(projectId: string, kind: K, wanted: JobWanted<K>): Promise<Job> {
    const project = await this.projects.get(projectId);
    const recorded = await askedKind(kind).record(wanted, { project, prints: () => this.prints.ended(projectId) });
    return this.once(projectId, { kind, ...fileOf(project), ...recorded });
  }

  /** Starts a job, or gives the one with the same input that runs or has been done. */
  private async once(projectId: string, input: JobInput): Promise<Job> {
    const key = createHash('sha256').update(JSON.stringify(input)).digest('hex');
    const [known] = await this.db
      .select()
      .from(jobs)
      .where(and(eq(jobs.key, key), inArray(jobs.state, ['queued', 'running', 'done'])))
      .orderBy(desc(jobs.createdAt));
    const live = known && this.live.get(known.id);
    // one that is being stopped gives nothing any more
    if (!known || live?.stop.signal.aborted) return this.add(input, projectId, key);
    if (live) live.waiting++;
    return this.view(known);
  }

  async get(id: string): Promise<Job> {
    return this.view(await this.row(id));
  }

  async file(id: string): Promise<{ hash: string; fileName: string }> {
    const { result } = await this.row(id);
    if (!result) throw new GephyraError('job.noFile', 'This job has no file to fetch.');
    return result;
  }

  /**
   * What an export of beds wrote, for one of them to be printed. Throws GephyraError `print.export` when it is none of that
   * project, `print.bed` when the bed was not in it with these pieces.
   */
  async bedFile(
    id: string,
    wanted: { project: string; bed: string; pieces: readonly { piece: string; copy: number }[] },
  ): Promise<{ hash: string }> {
    const { input, projectId, result } = await this.row(id);
    const written = input.kind === 'export' ? (input as unknown as ExportWish) : null;
    if (!result || written?.as !== 'beds' || projectId !== wanted.project) {
      throw new GephyraError('print.export', 'A print starts from a finished export of beds of its own project.');
    }
    const isWritten = written.beds?.includes(wanted.bed) ?? true;
    const bed = isWritten ? parsePlan(written.plan).beds.find((b) => b.id === wanted.bed) : undefined;
    const lies = (p: { piece: string; copy: number }): boolean =>
      written.pieces.includes(p.piece) && !!bed?.pieces.some((b) => b.piece === p.piece && b.copy === p.copy);
    if (!wanted.pieces.every(lies)) {
      throw new GephyraError(
        'print.bed',
        'The export does not have this bed with these pieces on it. Export the bed again.',
      );
    }
    return result;
  }

  /** Gives a job up: it ends once all who asked for it have done so, or at once for `all`. */
  async cancel(id: string, all = false): Promise<void> {
    if (this.summaries.cancel(id)) return;
    await this.row(id);
    const live = this.live.get(id);
    if (!live) return;
    live.waiting--;
    if (all || live.waiting <= 0) live.stop.abort();
  }

  /** Everything that runs or waits, the oldest first. */
  async underWay(): Promise<JobEntry[]> {
    const rows = await this.db
      .select()
      .from(jobs)
      .where(inArray(jobs.state, ['queued', 'running']))
      .orderBy(asc(jobs.createdAt));
    const names = await this.projects.names();
    const entries = rows.map(
      (row): JobEntry => ({
        ...this.view(row),
        subject: (row.projectId && names.get(row.projectId)) || row.input.fileName,
        since: row.createdAt.toISOString(),
      }),
    );
    return [...entries, ...this.summaries.underWay(names)];
  }

  /** Calls back on every change of a job until it has ended; gives a function that stops watching. */
  watch(id: string, changed: () => void): () => void {
    this.changes.on(id, changed);
    return () => this.changes.off(id, changed);
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
    this.live.set(row.id, { progress: 0, what: 'Waiting for its turn', stop: new AbortController(), waiting: 1 });
    this.carryOut(row)
      .catch(async (error: unknown) => {
        if (!this.closing) await this.fail(row, error);
      })
      .catch((error: unknown) => {
        if (!this.closing) console.error(error);
      })
      .finally(() => {
        this.live.delete(row.id);
        this.changes.emit(row.id);
      });
  }

  private async fail(row: Row, error: unknown): Promise<void> {
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
  }

  /** A refused upload leaves nothing behind, unless a project has the same file. */
  private async discard(input: JobInput): Promise<void> {
    if (input.kind !== 'import') return;
    const { stored } = this.blobs;
    if (!(await this.used()).has(input.hash)) await this.blobs.remove(input.hash, stored);
  }

  private async carryOut(row: Row): Promise<void> {
    const live = this.live.get(row.id)!;
    const { input } = row;
    let begun: Promise<unknown> | null = null;
    const begin = async (): Promise<void> => {
      await this.db
        .update(jobs)
        .set({ state: 'running', attempts: row.attempts + 1 })
        .where(and(eq(jobs.id, row.id), eq(jobs.state, row.state)));
      this.changes.emit(row.id);
    };
    const run = async ({ kind, ...rest }: JobInput): Promise<WorkResult> => {
      const located = <T extends { hash: string }>(file: T) => ({ ...file, path: this.blobs.path(file.hash) });
      // files beside the model that a kind has recorded
      const { prints } = rest as { prints?: readonly { hash: string }[] };
      const request = { do: kind, ...located(rest), ...(prints && { prints: prints.map(located) }) };
      const result = await this.bench.run(request as WorkRequest, {
        project: row.projectId,
        rank: jobKind(kind).isLight(rest) ? 'light' : 'wanted',
        deadline: this.deadlineOf(kind),
        signal: live.stop.signal,
        started: () => {
          live.what = '';
          begun ??= begin().catch((error: unknown) => {
            if (!this.closing) console.error(error);
          });
        },
        progress: (share, what) => {
          live.progress = share;
          live.what = what;
          this.changes.emit(row.id);
        },
      });
      await begun;
      return result;
    };
    const result = await run(input);
    if (result.do === 'import') {
      const projectId = await this.imported(row, result, run);
      // whoever opens the project asks for this first, and the thread still has what it read
      await this.ask(projectId, 'shape', { steps: [], locked: [] });
      this.summaries.wish(projectId);
    } else if (result.do === 'file') {
      const { hash } = await this.blobs.put([result.bytes], result.bytes.length);
      await this.db
        .update(jobs)
        .set({ state: 'done', result: { hash, fileName: result.fileName } })
        .where(eq(jobs.id, row.id));
    }
  }

  /**
   * Makes the project of an import and ends the job, in one; of an archived project with its own name and plan, and its source
   * as the stored file.
   */
  private async imported(
    { id: job, input }: Row,
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
      try {
        const inner = await run({ kind: 'import', hash, fileName, allowTruncated });
        if (inner.do !== 'import' || inner.archived) {
          throw new GephyraError(
            'project.archive',
            `${input.fileName} holds a project inside a project. Unpack it first.`,
          );
        }
        read = inner;
      } catch (error) {
        await this.discard({ kind: 'import', hash, fileName, allowTruncated });
        throw error;
      }
    }
    const plan = archived?.plan ?? parsePlan({ version: 5, printer: { name: 'Desktop 220', size: [220, 220, 250] } });
    const name = archived?.name ?? (plainText(fileName.replace(/\.[^.]*$/, '')) || 'Model');
    const { format, unit, bodies, notes } = read;
    const source = { hash, fileName, format, unit, truncated: allowTruncated, bodies, notes };
    // the same file may stand for several beds
    const hashes = new Map<Uint8Array, string>();
    const printed: { print: EndedPrint; hash: string }[] = [];
    for (const { print, bytes } of archived?.prints ?? []) {
      if (this.live.get(job)?.stop.signal.aborted) throw new GephyraError('job.cancelled', 'It was cancelled.');
      const known = hashes.get(bytes) ?? (await this.blobs.put([bytes], bytes.length)).hash;
      hashes.set(bytes, known);
      printed.push({ print, hash: known });
    }
    return this.projects.create(name, source, plan, async (rows, projectId) => {
      await this.prints.takeOver(rows, projectId, printed);
      await rows.update(jobs).set({ state: 'done', projectId }).where(eq(jobs.id, job));
    });
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

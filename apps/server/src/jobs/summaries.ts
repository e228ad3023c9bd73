import type { JobEntry } from '@gephyra/contract';
import { GephyraError } from '@gephyra/core';
import type { BlobStore } from '../blobs.ts';
import type { Projects } from '../projects.ts';
import type { Workbench } from './workbench.ts';

/** How long the summary of a project waits for the next change while nobody looks at the list of projects, ms. */
const DELAY = 4000;

const idOf = (projectId: string): string => `summary-${projectId}`;
const ID = /^summary-(.+)$/;

/** A card's picture and numbers, waiting or being made. */
interface Summary {
  timer: NodeJS.Timeout | null;
  readonly begin: () => void;
  readonly stop: AbortController;
  readonly since: Date;
  state: 'queued' | 'running';
  progress: number;
  what: string;
}

/**
 * Computes projects' numbers of pieces and their pictures when the maker pauses or looks at the cards, and nothing else is
 * wanted: work that the next change makes void would only take cores from the page. They are not recorded: what is missing is
 * made when a server starts.
 */
export class Summaries {
  private readonly open = new Map<string, Summary>();
  private closing = false;

  constructor(
    private readonly bench: Workbench,
    private readonly blobs: BlobStore,
    private readonly projects: Projects,
    /** how long one may take, ms */
    private readonly deadline: number,
  ) {}

  /** Asks for those of all projects that have changed since theirs was made. */
  async bringUpToDate(): Promise<void> {
    for (const { id, summary } of await this.projects.list()) {
      const { head } = await this.projects.row(id);
      if (summary?.revision !== head) this.wish(id);
    }
  }

  close(): void {
    this.closing = true;
    for (const { timer } of this.open.values()) if (timer) clearTimeout(timer);
  }

  /** Asks for a project's summary. One that is under way for an older plan ends. */
  wish(projectId: string): void {
    this.drop(projectId);
    const summary: Summary = {
      timer: null,
      begin: () => {
        if (summary.timer) clearTimeout(summary.timer);
        summary.timer = null;
        this.make(projectId, summary)
          .catch((error: unknown) => {
            if (!(error instanceof GephyraError) && !this.closing) console.error(error);
          })
          .finally(() => {
            if (this.open.get(projectId) === summary) this.open.delete(projectId);
          });
      },
      stop: new AbortController(),
      since: new Date(),
      state: 'queued',
      progress: 0,
      what: '',
    };
    summary.timer = setTimeout(summary.begin, DELAY);
    summary.timer.unref();
    this.open.set(projectId, summary);
  }

  /** Waits no longer for further changes: somebody looks at the cards. */
  hurry(): void {
    if (this.closing) return;
    for (const { timer, begin } of this.open.values()) if (timer) begin();
  }

  /** Ends the work on a project's summary, if there is any. */
  drop(projectId: string): void {
    const summary = this.open.get(projectId);
    if (!summary) return;
    this.open.delete(projectId);
    if (summary.timer) clearTimeout(summary.timer);
    summary.stop.abort();
  }

  /** Ends one by its id among all work under way; false when the id is none of a summary. */
  cancel(id: string): boolean {
    const projectId = ID.exec(id)?.[1];
    if (projectId === undefined) return false;
    this.drop(projectId);
    return true;
  }

  /** Those that run or wait for a thread. `names`: those of projects by id. */
  underWay(names: ReadonlyMap<string, string>): JobEntry[] {
    return [...this.open]
      .filter(([, s]) => s.timer === null)
      .map(([projectId, { state, progress, what, since }]) => ({
        id: idOf(projectId),
        kind: 'summary',
        state,
        progress,
        what,
        projectId,
        fileName: null,
        error: null,
        subject: names.get(projectId) ?? '',
        since: since.toISOString(),
      }));
  }

  private async make(projectId: string, summary: Summary): Promise<void> {
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
      {
        project: projectId,
        rank: 'aside',
        deadline: this.deadline,
        signal: summary.stop.signal,
        started: () => {
          summary.state = 'running';
        },
        progress: (share, what) => {
          summary.progress = share;
          summary.what = what;
        },
      },
    );
    if (result.do !== 'summary') return;
    const { hash } = await this.blobs.put([result.png], result.png.length);
    await this.projects.keepSummary(projectId, result.summary, hash);
  }
}

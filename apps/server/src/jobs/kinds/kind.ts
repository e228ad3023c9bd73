import type { AskedJob, BodySummary, EndedPrint, JobWanted, PlanSummary, Project } from '@gephyra/contract';
import type { Archived } from '../archive.ts';
import type { ModelRequest } from '../models.ts';

/** Tells how far a task is. */
export type Tell = (share: number, what: string) => void;

export interface ImportResult {
  readonly do: 'import';
  readonly format: string;
  readonly unit: string | null;
  readonly bodies: BodySummary[];
  readonly notes: string[];
  /** the file was a whole project: its name and plan, and the source that was in it */
  readonly archived: Archived | null;
}

export type WorkResult =
  | ImportResult
  | { readonly do: 'file'; readonly bytes: Uint8Array; readonly fileName: string }
  | { readonly do: 'summary'; readonly summary: PlanSummary; readonly png: Uint8Array };

/** Which finished jobs are kept when the server starts: the newest, not older and not larger than this altogether. */
export interface Keep {
  readonly newest: number;
  readonly days: number;
  readonly bytes: number;
}

export const MINUTE = 60_000;
export const MIB = 1024 * 1024;

/**
 * A kind of job: what is told apart by it. One file a kind; the registry is `kinds/index.ts`. `Wish` is what it is asked for
 * beside the model.
 */
export interface JobKind<Wish> {
  /** how long it may take, ms; far more than any model that the page can still show needs */
  readonly deadline: number;
  /** only reads and packs, so it need not wait for long work */
  isLight(wish: Wish): boolean;
  /** null: what comes of it is no file of its own */
  readonly keep: Keep | null;
  /** Done on a worker thread. Throws GephyraError. */
  work(request: ModelRequest & Wish, tell: Tell): Promise<WorkResult> | WorkResult;
}

/** What is at hand when a wish is recorded. */
export interface AtHand {
  readonly project: Project;
  /** its prints that have ended, with what each was printed from */
  readonly prints: () => Promise<{ print: EndedPrint; hash: string }[]>;
}

/** A kind that pages ask for. */
export interface AskedKind<K extends AskedJob, Wish, Recorded = Wish> extends JobKind<Wish> {
  /**
   * What is recorded of a wish beside the model: enough to do it again after a crash, and nothing else, for two that are recorded alike are
   * done once. Throws GephyraError `plan.stale` where it was about a plan that is no longer the newest.
   */
  record(wanted: JobWanted<K>, at: AtHand): Recorded | Promise<Recorded>;
}

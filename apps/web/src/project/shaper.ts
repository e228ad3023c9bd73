import type { Job, JobWish } from '@gephyra/contract';
import { type Plan, splitRecipe } from '@gephyra/core/plan';
import type { ModelView } from '../engine/types.ts';

/** A model, and the steps it is the result of. */
export interface ShapedModel extends ModelView {
  readonly key: string;
}

export interface ShaperState {
  /** the last that was loaded; null before the first */
  readonly model: ShapedModel | null;
  /** work under way on the server */
  readonly working: { readonly progress: number; readonly what: string } | null;
  readonly failure: string | null;
}

/** What the shaper asks of the server and of the page's worker. */
export interface ShaperTools {
  start(wanted: JobWish<'shape'>): Promise<Job>;
  /** until the job ends; throws an Error, with the code `cancelled` when it was */
  follow(job: Job, changed: (job: Job) => void): Promise<Job>;
  cancel(job: string): Promise<void>;
  load(job: string): Promise<ModelView>;
}

/** What decides about the model a plan needs from the server. */
export function heavyPart(plan: Plan): { key: string; steps: Plan['recipe']; locked: string[] } {
  const steps = splitRecipe(plan.recipe).heavy;
  const locked = plan.bodies.filter((b) => b.locked).map((b) => b.id);
  return { key: JSON.stringify([steps.map(({ id: _, ...s }) => s), locked]), steps, locked };
}

interface Run {
  alive: boolean;
  stopped: boolean;
  job: string | null;
}

/**
 * Keeps the model that the heavy steps of a plan make: has the server make it when they change, and the worker load it. What is
 * no longer wanted is given up, and its job cancelled; a reply that comes late for an older wish is not taken.
 */
export class Shaper {
  private now: ShaperState = { model: null, working: null, failure: null };
  private readonly listeners = new Set<() => void>();
  private wanted: ReturnType<typeof heavyPart> | null = null;
  private run: Run | null = null;

  constructor(private readonly tools: ShaperTools) {}

  get state(): ShaperState {
    return this.now;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** The plan as it is now; nothing happens while its heavy steps are those of before. */
  want(plan: Plan): void {
    const part = heavyPart(plan);
    if (part.key === this.wanted?.key) return;
    this.wanted = part;
    this.begin();
  }

  /** Stops the work under way; the model stays that of before. */
  cancel = (): void => {
    if (!this.run) return;
    this.run.stopped = true;
    this.cancelJob(this.run);
  };

  /** Tries again after a failure, or after the work was stopped. */
  retry = (): void => {
    this.set({ failure: null });
    this.begin();
  };

  /** Gives up what is under way, for good. */
  close(): void {
    this.giveUp();
    this.listeners.clear();
  }

  private begin(): void {
    this.giveUp();
    if (!this.wanted) return;
    const run: Run = { alive: true, stopped: false, job: null };
    this.run = run;
    this.carryOut(run, this.wanted).catch((error: unknown) => {
      run.job = null;
      if (!run.alive) return;
      this.run = null;
      const cancelled = (error as { code?: unknown } | null)?.code === 'cancelled';
      const why = error instanceof Error ? error.message : String(error);
      this.set({ working: null, failure: cancelled ? 'The work on the model was stopped.' : why });
    });
  }

  private async carryOut(run: Run, { key, steps, locked }: ReturnType<typeof heavyPart>): Promise<void> {
    const show = (progress: number, what: string): void => {
      if (run.alive) this.set({ working: { progress, what } });
    };
    show(0, 'Reading the model');
    const job = await this.tools.start({ steps, locked });
    run.job = job.id;
    if (run.stopped || !run.alive) this.cancelJob(run);
    await this.tools.follow(job, (now) => show(now.progress, now.what));
    run.job = null;
    if (!run.alive) return;
    const loaded = await this.tools.load(job.id);
    if (!run.alive) return;
    this.run = null;
    this.set({ model: { ...loaded, key }, failure: null, working: null });
  }

  private giveUp(): void {
    if (!this.run) return;
    this.run.alive = false;
    this.cancelJob(this.run);
    this.run = null;
  }

  private cancelJob({ job }: Run): void {
    if (job) void this.tools.cancel(job).catch(() => {});
  }

  private set(part: Partial<ShaperState>): void {
    this.now = { ...this.now, ...part };
    for (const listener of this.listeners) listener();
  }
}

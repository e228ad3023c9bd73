import type { Project } from '@gephyra/contract';
import type { Plan } from '@gephyra/core';
import { type Changing, changed } from './changes.ts';

export type SaveState = 'saved' | 'saving' | 'unsaved';

/** What the record asks of the server. Each throws an Error; one with the code `plan.stale` when the plan has moved on there. */
export interface RecordServer {
  savePlan(id: string, basedOn: number, label: string, plan: Plan): Promise<Project>;
  project(id: string): Promise<Project>;
  undo(id: string, basedOn: number): Promise<Project>;
  redo(id: string, basedOn: number): Promise<Project>;
  rename(id: string, name: string): Promise<{ readonly name: string }>;
}

/** Something to be said to the maker. */
export interface Saying {
  readonly text: string;
  readonly tone?: 'plain' | 'warn' | 'stop';
  readonly action?: { readonly label: string; readonly run: () => void };
}

export interface RecordState {
  readonly project: Project;
  /** the plan as it stands on the screen, saved or just about to be */
  readonly plan: Plan;
  readonly saveState: SaveState;
  readonly savedAt: Date | null;
}

/** What waits to be sent: a plan as it was changed, or a step back or forward. */
type Pending = { readonly label: string; readonly plan: Plan } | { readonly step: 'undo' | 'redo' };

/**
 * An open project and its changes. A change is made at once, on the newest plan, and sent in its turn: one request at a time,
 * each on top of the last. What cannot be sent waits; when another window has changed the plan, its state is taken, and what
 * was not saved is given up with a word.
 */
export class ProjectRecord {
  private now: RecordState;
  private readonly queue: Pending[] = [];
  private readonly listeners = new Set<() => void>();
  private sending = false;
  private anchors: Plan['anchors'] | null = null;

  constructor(
    initial: Project,
    private readonly server: RecordServer,
    private readonly say: (saying: Saying) => void,
  ) {
    this.now = { project: initial, plan: initial.plan, saveState: 'saved', savedAt: new Date(initial.updatedAt) };
  }

  get state(): RecordState {
    return this.now;
  }

  /** Calls back after every change of the state; gives a function that ends it. */
  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** What tells pieces apart, as it was computed for a plan: kept with the next change, if that is made on this plan. */
  keepAnchorsOf = (plan: Plan, { anchors }: { readonly anchors: readonly Plan['anchors'][number][] }): void => {
    if (plan === this.now.plan) this.anchors = [...anchors];
  };

  /** Makes changes as one step. Gives the ids that what they added got instead of those asked for; none when it was refused. */
  change = (label: string, ...changes: Changing[]): ReadonlyMap<string, string> => {
    try {
      // it would be made on a plan that is about to go
      if (this.queue.some((p) => 'step' in p)) throw new Error('A step back or forward is still under way.');
      const made = changed(this.now.plan, changes);
      // a change that brings anchors of its own knows the pieces that it makes
      if (JSON.stringify(made.plan.anchors) !== JSON.stringify(this.now.plan.anchors)) this.anchors = null;
      const next = this.anchors ? { ...made.plan, anchors: [...this.anchors] } : made.plan;
      if (JSON.stringify(next) !== JSON.stringify(this.now.plan)) {
        this.set({ plan: next });
        this.queue.push({ label, plan: next });
        void this.send();
      }
      return made.ids;
    } catch (error) {
      this.say({
        text: `“${label}” was not done. ${messageOf(error)}`,
        tone: 'stop',
        action: { label: 'Do it again', run: () => this.change(label, ...changes) },
      });
      return new Map();
    }
  };

  /** Sends what waits, again after it failed. */
  retry = (): void => void this.send();

  /** Whether a step back or forward can be taken, also one behind what still waits to be sent. */
  can(way: 'undo' | 'redo'): boolean {
    if (this.now.saveState === 'unsaved') return false;
    const waits = this.queue.some((p) => 'plan' in p);
    return way === 'undo' ? waits || this.now.project.undo !== null : !waits && this.now.project.redo !== null;
  }

  /** Takes a step back or forward, once what waits has been sent. */
  step(way: 'undo' | 'redo'): Promise<void> {
    if (!this.can(way)) return Promise.resolve();
    this.queue.push({ step: way });
    return this.send();
  }

  /** Renames the project, and offers the name it had. */
  rename = (name: string): void => {
    const before = this.now.project.name;
    void this.renameTo(name);
    this.say({ text: `Renamed to ${name}.`, action: { label: 'Undo', run: () => void this.renameTo(before) } });
  };

  private async renameTo(wanted: string): Promise<void> {
    try {
      const { name } = await this.server.rename(this.now.project.id, wanted);
      this.set({ project: { ...this.now.project, name } });
    } catch (error) {
      this.say({ text: messageOf(error), tone: 'stop' });
    }
  }

  private async send(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    try {
      while (this.queue.length > 0) {
        this.set({ saveState: 'saving' });
        const [next] = this.queue;
        const { id, revision } = this.now.project;
        if ('plan' in next) {
          const project = await this.server.savePlan(id, revision, next.label, next.plan);
          this.queue.shift();
          this.set({ project });
        } else {
          // whether it works or not, it is not tried again
          await this.take(next.step).finally(() => this.queue.shift());
        }
      }
      this.set({ saveState: 'saved', savedAt: new Date() });
    } catch (error) {
      this.set({ saveState: 'unsaved' });
      if (isStale(error)) await this.reload(messageOf(error));
      else this.say({ text: messageOf(error), tone: 'stop' });
    } finally {
      this.sending = false;
    }
  }

  private async take(way: 'undo' | 'redo'): Promise<void> {
    const { id, revision } = this.now.project;
    if (this.now.project[way] === null) return;
    try {
      const moved = await this.server[way](id, revision);
      this.set({ project: moved, plan: moved.plan });
    } catch (error) {
      if (isStale(error)) throw error;
      this.say({ text: messageOf(error), tone: 'stop' });
    }
  }

  /** Takes the server's state; what waits is only given up once that is here. */
  private async reload(why: string): Promise<void> {
    try {
      const fresh = await this.server.project(this.now.project.id);
      this.queue.length = 0;
      this.anchors = null;
      this.set({ project: fresh, plan: fresh.plan, saveState: 'saved' });
      this.say({ text: why, tone: 'warn' });
    } catch (error) {
      this.say({ text: messageOf(error), tone: 'stop' });
    }
  }

  private set(part: Partial<RecordState>): void {
    this.now = { ...this.now, ...part };
    for (const listener of this.listeners) listener();
  }
}

const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
const isStale = (error: unknown): boolean => (error as { code?: unknown } | null)?.code === 'plan.stale';

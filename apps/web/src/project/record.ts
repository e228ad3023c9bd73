import { type Act, PLAN_LIMIT, type Project, type SavedProject } from '@gephyra/contract';
import { notesByKeys, type Plan } from '@gephyra/core/plan';
import { type Changing, changed } from './changes.ts';
import { rebased } from './rebase.ts';

export type SaveState = 'saved' | 'saving' | 'unsaved';

/**
 * What the record asks of the server. Each throws an Error: one with the code `plan.stale` when the plan has moved on there, one
 * whose status is 0 or from 500 when it is not known whether the act was done.
 */
export interface RecordServer {
  savePlan(id: string, sent: Act, label: string, plan: Plan): Promise<SavedProject>;
  project(id: string): Promise<Project>;
  undo(id: string, sent: Act): Promise<Project>;
  redo(id: string, sent: Act): Promise<Project>;
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

interface Waiting {
  readonly gesture: string;
  /** it was sent, and may have been done: until that is known nothing else is taken from the server */
  sent?: true | undefined;
}

/** Changes that wait to be sent: the plan they were made on, and the one they made. */
interface Gesture extends Waiting {
  readonly label: string;
  readonly changes: readonly Changing[];
  readonly before: Plan;
  readonly plan: Plan;
}

/** What was computed of the pieces of a plan. */
type Known = { readonly [F in 'anchors' | 'codes']: readonly Plan[F][number][] };

/** A step back or forward that waits; the revision that it is meant for, where that was saved when it was wished for. */
interface Step extends Waiting {
  readonly step: 'undo' | 'redo';
  readonly from: number | null;
}

/** Calls back after some ms; gives a function that drops it. */
export type Later = (run: () => void, ms: number) => () => void;

const later: Later = (run, ms) => {
  const timer = setTimeout(run, ms);
  return () => clearTimeout(timer);
};

/** How long it is waited before what was not answered is sent again, ms: the next each time, the last from then on. */
const WAITS = [1000, 2000, 4000, 8000, 15_000];

/** From this share of the largest plan on it is said how large it is. */
const FULL = 0.75;

/** What fills a plan, in words. */
const FILLING: Readonly<Record<string, string>> = {
  log: 'the log of the workshop',
  joints: 'joints',
  seams: 'seams',
  show: 'faces that are to be seen',
  pieces: 'notes on pieces',
  anchors: 'marks of pieces',
  codes: 'codes of pieces',
  beds: 'beds',
};

/** So often in a row others may be first before it is left for later. */
const MOST_RACES = 50;

/**
 * An open project and its changes. A change is made at once, on the newest plan, and sent in its turn: one request at a time,
 * each on top of the last. What cannot be sent waits, and is sent again by itself; each carries a number of its own, so that it
 * is done once, also when only the answer was lost. When another window has changed the plan, what waits here is made on its
 * plan; what cannot be made there is given back with a word.
 */
export class ProjectRecord {
  private now: RecordState;
  private readonly queue: (Gesture | Step)[] = [];
  private readonly listeners = new Set<() => void>();
  private sending = false;
  private known: Known | null = null;
  /** the revision that was told of last */
  private heard: number;
  private failures = 0;
  private toldSize = false;
  private dropRetry: (() => void) | null = null;

  constructor(
    initial: Project,
    private readonly server: RecordServer,
    private readonly say: (saying: Saying) => void,
    private readonly wait: Later = later,
  ) {
    this.now = { project: initial, plan: initial.plan, saveState: 'saved', savedAt: new Date(initial.updatedAt) };
    this.heard = initial.revision;
  }

  get state(): RecordState {
    return this.now;
  }

  /** Calls back after every change of the state; gives a function that ends it. */
  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /**
   * What tells pieces apart and which codes they have, as it was computed for a plan: kept with the next change, if that is made
   * on this plan.
   */
  keepPiecesOf = (plan: Plan, { anchors, codes }: Known): void => {
    if (plan === this.now.plan) this.known = { anchors, codes };
  };

  /** Makes changes as one step. Gives the ids that what they added got instead of those asked for; none when it was refused. */
  change = (label: string, ...changes: Changing[]): ReadonlyMap<string, string> => {
    try {
      // it would be made on a plan that is about to go
      if (this.queue.some((p) => 'step' in p)) throw new Error('A step back or forward is still under way.');
      const before = this.withKnown();
      const made = changed(before, changes);
      const { plan } = made;
      const text = JSON.stringify(plan);
      if (text !== JSON.stringify(before)) {
        this.tellSize(text.length, plan);
        this.known = null;
        this.set({ plan });
        this.queue.push({ gesture: crypto.randomUUID(), label, changes, before, plan });
        void this.send();
      }
      return made.ids;
    } catch (error) {
      this.giveBack(`“${label}” was not done. ${messageOf(error)}`, 'stop', label, changes);
      return new Map();
    }
  };

  /** The plan as it stands, with what is known of its pieces; notes on pieces go by the keys that these have now. */
  private withKnown(): Plan {
    const { plan } = this.now;
    if (!this.known) return plan;
    const { anchors, codes } = this.known;
    return { ...plan, anchors: [...anchors], codes: [...codes], pieces: notesByKeys(plan.pieces, codes) };
  }

  /** Says once that a plan is getting as large as one may be, and what fills it. Throws when it is larger. */
  private tellSize(size: number, plan: Plan): void {
    if (size < FULL * PLAN_LIMIT) return;
    const [[largest]] = Object.entries(plan)
      .map(([field, value]) => [field, JSON.stringify(value ?? null).length] as const)
      .sort((a, b) => b[1] - a[1]);
    const [own, most] = [size, PLAN_LIMIT].map((b) => (b / 1024 / 1024).toFixed(1));
    const what = `${own} of ${most} MB, most of it ${FILLING[largest] ?? 'what was decided'}`;
    if (size > PLAN_LIMIT) throw new Error(`The plan would take ${what}.`);
    if (!this.toldSize) this.say({ text: `The plan takes ${what}. Beyond that nothing can be added.`, tone: 'warn' });
    this.toldSize = true;
  }

  /** Sends what waits, again after it failed. */
  retry = (): void => {
    this.dropRetry?.();
    this.dropRetry = null;
    void this.send();
  };

  /** Takes note of where the project stands on the server; what others made of it is fetched. */
  hear = ({ revision, name }: { readonly revision: number; readonly name: string }): void => {
    if (name !== this.now.project.name) this.set({ project: { ...this.now.project, name } });
    this.heard = revision;
    if (revision !== this.now.project.revision) this.retry();
  };

  /** Whether a step back or forward can be taken, also one behind what still waits to be sent. */
  can(way: 'undo' | 'redo'): boolean {
    if (this.now.saveState === 'unsaved') return false;
    const waits = this.queue.some((p) => 'plan' in p);
    return way === 'undo' ? waits || this.now.project.undo !== null : !waits && this.now.project.redo !== null;
  }

  /** Takes a step back or forward, once what waits has been sent. */
  step(way: 'undo' | 'redo'): Promise<void> {
    if (!this.can(way)) return Promise.resolve();
    const from = this.queue.length === 0 ? this.now.project.revision : null;
    this.queue.push({ gesture: crypto.randomUUID(), step: way, from });
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
      for (let races = 0; ; ) {
        const next = this.queue.at(0);
        if (!next?.sent && this.heard !== this.now.project.revision) {
          const fresh = await this.hearing(() => this.server.project(this.now.project.id));
          this.adopt(fresh, fresh.revision !== this.now.project.revision);
          continue;
        }
        if (!next) break;
        if (this.now.saveState === 'saved') this.set({ saveState: 'saving' });
        try {
          next.sent = true;
          await ('step' in next ? this.carryOutStep(next) : this.carryOut(next));
          races = 0;
        } catch (error) {
          if (!isStale(error) || ++races > MOST_RACES) throw error;
          // it was not done; what the plan is there will be seen
          next.sent = undefined;
          this.heard = -1;
          if ('step' in next) this.giveBackStep();
        }
      }
      this.failures = 0;
      if (this.now.saveState !== 'saved') this.set({ saveState: 'saved', savedAt: new Date() });
    } catch (error) {
      this.failed(error);
    } finally {
      this.sending = false;
    }
  }

  private async carryOutStep({ step, gesture, from }: Step): Promise<void> {
    const { id, revision: basedOn } = this.now.project;
    if (from !== null && from !== basedOn) return this.giveBackStep();
    if (this.now.project[step] === null) {
      this.queue.shift();
      return;
    }
    const moved = await this.answered(() => this.server[step](id, { gesture, basedOn }));
    if (!moved) return;
    this.known = null;
    this.set({ project: moved, plan: moved.plan });
  }

  private async carryOut({ gesture, label, plan }: Gesture): Promise<void> {
    const { id, revision: basedOn } = this.now.project;
    const saved = await this.answered(() => this.server.savePlan(id, { gesture, basedOn }, label, plan));
    if (!saved) return;
    // the answer to one that was sent twice may hold what others did since
    const own = saved.plan === null || JSON.stringify(saved.plan) === JSON.stringify(plan);
    if (own) this.set({ project: { ...saved, plan } });
    else this.adopt({ ...saved, plan: saved.plan! }, true);
  }

  /** The answer to the first that waits, which then waits no more; null when it was refused for good, and given back. */
  private async answered<T extends { readonly revision: number }>(ask: () => Promise<T>): Promise<T | null> {
    try {
      const answer = await this.hearing(ask);
      this.queue.shift();
      return answer;
    } catch (error) {
      if (!isRefusal(error)) throw error;
      const [refused] = this.queue.splice(0, 1);
      if ('step' in refused) this.say({ text: messageOf(error), tone: 'stop' });
      else {
        this.adopt(this.now.project, true);
        this.giveBack(`“${refused.label}” was not done. ${messageOf(error)}`, 'stop', refused.label, refused.changes);
      }
      return null;
    }
  }

  /** An answer, which is the last that was heard, unless something else was while it was on its way. */
  private async hearing<T extends { readonly revision: number }>(ask: () => Promise<T>): Promise<T> {
    const before = this.heard;
    const answer = await ask();
    if (this.heard === before) this.heard = answer.revision;
    return answer;
  }

  /** Takes the project as it is on the server; where its plan is another, what waits here is made on that. */
  private adopt(fresh: Project, moved: boolean): void {
    const { project, plan: shown } = this.now;
    if (!moved) {
      this.set({ project: { ...fresh, plan: project.plan } });
      return;
    }
    const renamed = new Map<string, string>();
    const lost: { readonly it: Gesture; readonly why: string }[] = [];
    let plan = fresh.plan;
    for (const it of this.queue.splice(0)) {
      if ('step' in it) {
        this.queue.push(it);
        continue;
      }
      try {
        const made = rebased(it.before, it.changes, plan, renamed);
        // others may have done the same
        if (JSON.stringify(made) === JSON.stringify(plan)) continue;
        this.queue.push({ ...it, before: plan, plan: made });
        plan = made;
      } catch (error) {
        lost.push({ it, why: messageOf(error) });
      }
    }
    this.known = null;
    this.set({ project: fresh, plan: JSON.stringify(plan) === JSON.stringify(shown) ? shown : plan });
    for (const { it, why } of lost) {
      this.giveBack(
        `“${it.label}” was taken back: the plan was changed elsewhere. ${why}`,
        'warn',
        it.label,
        it.changes,
      );
    }
  }

  /** A step is for what was seen when it was wished for, and never takes back what others did meanwhile. */
  private giveBackStep(): void {
    const { step } = this.queue.shift() as Step;
    this.say({
      text: `“${step === 'undo' ? 'Undo' : 'Redo'}” was not done: the plan was changed elsewhere.`,
      tone: 'warn',
    });
  }

  private giveBack(text: string, tone: 'warn' | 'stop', label: string, changes: readonly Changing[]): void {
    this.say({ text, tone, action: { label: 'Do it again', run: () => this.change(label, ...changes) } });
  }

  /** Keeps what waits, says so once, and tries again by itself where the server may only not have answered. */
  private failed(error: unknown): void {
    if (this.failures === 0) this.say({ text: messageOf(error), tone: 'stop' });
    const wait = WAITS[Math.min(this.failures, WAITS.length - 1)];
    this.failures++;
    if (this.queue.length > 0) this.set({ saveState: 'unsaved' });
    if (isUnknown(error)) {
      this.dropRetry?.();
      this.dropRetry = this.wait(this.retry, wait);
    }
  }

  private set(part: Partial<RecordState>): void {
    this.now = { ...this.now, ...part };
    for (const listener of this.listeners) listener();
  }
}

const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
const isStale = (error: unknown): boolean => codeOf(error) === 'plan.stale';
const codeOf = (error: unknown): unknown => (error as { code?: unknown } | null)?.code;

/** Whether it is not known if an act was done: no answer came, or one of a server that broke off. */
function isUnknown(error: unknown): boolean {
  const status = (error as { status?: unknown } | null)?.status;
  return typeof status !== 'number' || status === 0 || status >= 500;
}

/** Whether the server will never do it: it understood, and said no. */
const isRefusal = (error: unknown): boolean =>
  !isUnknown(error) && !isStale(error) && codeOf(error) !== 'project.unknown';

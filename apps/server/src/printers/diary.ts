import { setImmediate } from 'node:timers/promises';
import type { Act, Print } from '@gephyra/contract';
import {
  applyChange,
  GephyraError,
  happened,
  type LogEntryInput,
  notesOfPrint,
  type Plan,
  progressOf,
} from '@gephyra/core';
import type { Prints } from './prints.ts';

/** How often prints under way are looked at, ms. */
const LOOK = 1000;
/** So many that have ended are noted at a look. */
const AT_ONCE = 50;
/** So often in a row makers may be first before a note waits for the next look. */
const TRIES = 20;

/** The record of plans, as far as notes need it. */
interface Plans {
  get(id: string): Promise<{ readonly plan: Plan; readonly revision: number }>;
  /** throws GephyraError `plan.stale` when the plan has moved on, `project.unknown` when it is gone */
  save(id: string, act: Act, label: string, plan: Plan): Promise<{ readonly before: boolean }>;
}

/**
 * Notes in a project's plan that a bed is printing and how that ended, each once, whether or not a page is open: the gesture of
 * a note is named by the print. Notes are steps like any other, which undo takes back for good.
 */
export class PrintDiary {
  private timer: NodeJS.Timeout | null = null;
  private last: Promise<void> = Promise.resolve();
  /** a print is under way, or may be since something was heard of projects */
  private watching = true;

  constructor(
    private readonly prints: Prints,
    private readonly plans: Plans,
    private readonly changed: (project: string) => void,
  ) {}

  /** Looks after prints from now on. */
  start(): void {
    this.timer = setInterval(() => void this.look(), LOOK);
    this.timer.unref();
  }

  async close(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    await this.last;
  }

  /** There may be something to note: a print was sent, or a project came back. */
  wake(): void {
    this.watching = true;
  }

  /** Notes that a print has begun. */
  async begun(print: Print, who?: string): Promise<void> {
    this.wake();
    await this.note(print, 'begun', `${print.title} is sent to ${print.printer}`, ({ log = [] }) => {
      const { startedAt: at, bed, id, pieces } = print;
      // a project that came from another workshop knows it under another name
      if (log.some((e) => e.to === 'printing' && (e.print === id || (e.at === at && e.bed === bed)))) return [];
      const own = pieces.map(({ piece, copy }) => ({ piece, copy }));
      return [{ at, pieces: own, to: 'printing', bed, print: id, ...(who && { who }) }];
    });
  }

  /** Notes what has ended and is not noted yet. One look after the other. */
  look(): Promise<void> {
    this.last = this.last
      .then(async () => {
        if (!this.watching) return;
        const open = await this.prints.open();
        this.watching = open.length > 0;
        const over = open.filter((p) => p.endedAt !== null);
        for (const print of over.slice(0, AT_ONCE)) {
          await this.ended(print);
          // the embedded database answers at once: without this nobody else would have a turn until all are noted
          await setImmediate();
        }
      })
      .catch((error: unknown) => console.error(error));
    return this.last;
  }

  private async ended(print: Print): Promise<void> {
    const state = print.state as 'done' | 'failed' | 'stopped';
    const how = state === 'done' ? 'is printed' : state === 'failed' ? 'failed' : 'was stopped';
    try {
      // the server may have died between the start and its note
      await this.begun(print);
      await this.note(print, 'ended', `${print.title} ${how}`, (plan) => {
        const progress = progressOf(plan.log ?? [], print.pieces);
        const stateOf = (piece: string, copy: number) =>
          progress.find((p) => p.piece === piece && p.copy === copy)!.state;
        return notesOfPrint({ ...print, state, endedAt: print.endedAt! }, stateOf);
      });
    } catch (error) {
      // a deleted project may come back
      if (error instanceof GephyraError && error.code === 'project.unknown') return;
      throw error;
    }
    await this.prints.noted(print.id);
  }

  private async note(
    print: Print,
    what: 'begun' | 'ended',
    label: string,
    entries: (plan: Plan) => readonly LogEntryInput[],
  ): Promise<void> {
    const gesture = `print-${what}-${print.id}`;
    for (let k = 0; k < TRIES; k++) {
      const { plan, revision } = await this.plans.get(print.project);
      const own = entries(plan);
      if (own.length === 0) return;
      const noted = own.reduce((p, entry) => applyChange(p, happened(p, entry)), plan);
      try {
        const { before } = await this.plans.save(print.project, { gesture, basedOn: revision }, label, noted);
        if (!before) this.changed(print.project);
        return;
      } catch (error) {
        if (!(error instanceof GephyraError && error.code === 'plan.stale')) throw error;
      }
    }
  }
}

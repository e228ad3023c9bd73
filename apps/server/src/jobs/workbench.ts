import { availableParallelism, totalmem } from 'node:os';
import { MessageChannel } from 'node:worker_threads';
import { GephyraError } from '@gephyra/core';
import { Piscina } from 'piscina';
import { bundled } from '../bundled.ts';
import type { WorkRequest, WorkResult } from './kinds/index.ts';
import type { WorkAnswer, WorkProgress } from './worker.ts';

/** How a piece of work stands among others. */
export interface Errand {
  /** whose turn it is: projects take turns; null: nobody's yet, as of an import */
  readonly project: string | null;
  /**
   * light: somebody waits for it, and it takes no longer than its file is large; wanted: somebody waits for it; aside: done
   * when nothing else is waiting, and put off when something comes
   */
  readonly rank: 'light' | 'wanted' | 'aside';
  /** ends the work when it takes longer, ms */
  readonly deadline: number;
  readonly started?: () => void;
  readonly progress?: (share: number, what: string) => void;
  readonly signal?: AbortSignal;
}

interface Task extends Errand {
  readonly request: WorkRequest;
  readonly resolve: (result: WorkResult) => void;
  readonly reject: (error: Error) => void;
}

interface Running {
  readonly task: Task;
  readonly stop: AbortController;
  /** put off: it goes back among the waiting */
  putOff: boolean;
}

/** What a thread runs. */
const WORKER = new URL('./worker.ts', import.meta.url);
/** A thread that has nothing to do ends after this, and gives its memory back, ms. */
const IDLE = 20_000;
/** What a thread with a large model may need, bytes. */
const MEMORY = 3 * 1024 ** 3;

/** Threads for heavy work on this machine: one a core and one more, as far as the memory goes. */
export const usualThreads = (): number =>
  Math.max(2, Math.min(5, availableParallelism() + 1, Math.floor(totalmem() / MEMORY)));

/**
 * Hands work to a pool of threads. Projects take turns, so that one with much to do does not keep the others waiting: a
 * project's second piece of work leaves a thread to other projects, and of three threads one is kept for light work. Work that
 * is cancelled, or takes longer than it may, ends its thread; another starts when it is needed.
 */
export class Workbench {
  private readonly pool: Piscina<unknown, WorkAnswer>;
  private waiting: Task[] = [];
  private readonly running = new Set<Running>();
  /** the source that each thread read last: going on with it saves reading it again */
  private readonly lastRead = new Map<number, string>();
  private turns: (string | null)[] = [];
  private closed = false;

  constructor(readonly threads = usualThreads()) {
    this.pool = new Piscina({
      minThreads: 0,
      maxThreads: threads,
      idleTimeout: IDLE,
      atomics: 'disabled',
      loadBalancer: (task, workers) => {
        const { hash } = task[Piscina.queueOptionsSymbol as never] as { hash: string };
        const free = workers.filter((w) => w.currentUsage === 0 && !w.terminating);
        const chosen = free.find((w) => this.lastRead.get(w.id) === hash) ?? free[0] ?? null;
        if (chosen) this.lastRead.set(chosen.id, hash);
        return chosen;
      },
    });
    this.pool.on('workerDestroy', ({ id }: { id: number }) => this.lastRead.delete(id));
    // a thread that dies outside a task (one that ends within one is told there)
    this.pool.on('error', (error: Error) => {
      if (!this.closed) console.error(error);
    });
  }

  run(request: WorkRequest, errand: Errand): Promise<WorkResult> {
    return new Promise((resolve, reject) => {
      if (errand.signal?.aborted) {
        reject(cancelled());
        return;
      }
      const task: Task = { ...errand, request, resolve, reject };
      errand.signal?.addEventListener('abort', () => this.cancel(task), { once: true });
      this.waiting.push(task);
      this.next();
    });
  }

  /** Starts a thread if there is none: it takes a while, in which a file is still coming. */
  warm(): void {
    if (this.closed || this.pool.threads.length > 0) return;
    const nothing = { [Piscina.queueOptionsSymbol]: { hash: '' } };
    bundled(WORKER)
      .then((filename) => this.pool.run(nothing, { name: 'warm', filename }))
      .catch(() => {});
  }

  async close(): Promise<void> {
    this.closed = true;
    this.waiting = [];
    await this.pool.destroy();
  }

  private cancel(task: Task): void {
    this.waiting = this.waiting.filter((t) => t !== task);
    for (const r of this.running) if (r.task === task) r.stop.abort();
    task.reject(cancelled());
  }

  private next(): void {
    while (!this.closed) {
      const task = this.chosen();
      if (!task) return;
      this.waiting = this.waiting.filter((t) => t !== task);
      this.turns = [...this.turns.filter((p) => p !== task.project), task.project];
      void this.carryOut(task);
    }
  }

  /** What is done next, if a thread is free for it. */
  private chosen(): Task | null {
    const wanted = this.waiting.filter((t) => t.rank !== 'aside');
    if (wanted.length === 0) {
      // what is aside waits until the cores have little else to do, and leaves threads free for what is wanted
      const aside = this.waiting[0];
      return aside && this.running.size < Math.max(1, this.threads - 2) ? aside : null;
    }
    const busy = (project: string | null): boolean =>
      project !== null && [...this.running].some((r) => r.task.rank === 'wanted' && r.task.project === project);
    // who has not had a turn for longest comes first
    const last = (t: Task): number => this.turns.indexOf(t.project);
    const order = wanted.toSorted((a, b) => last(a) - last(b));
    const heavy = [...this.running].filter((r) => r.task.rank === 'wanted').length;
    const mayBegin = (t: Task): boolean =>
      t.rank === 'light' || heavy < (busy(t.project) ? Math.max(1, this.threads - 2) : Math.max(2, this.threads - 1));
    const task = order.find(mayBegin);
    if (!task) return null;
    if (this.running.size < this.threads) return task;
    const aside = [...this.running].find((r) => r.task.rank === 'aside' && !r.putOff);
    if (aside) {
      aside.putOff = true;
      aside.stop.abort();
    }
    return null;
  }

  private async carryOut(task: Task): Promise<void> {
    const running: Running = { task, stop: new AbortController(), putOff: false };
    this.running.add(running);
    task.started?.();
    let late = false;
    const timer = setTimeout(() => {
      late = true;
      running.stop.abort();
    }, task.deadline);
    timer.unref();
    const { port1, port2 } = new MessageChannel();
    port1.on('message', ({ share, what }: WorkProgress) => task.progress?.(share, what));
    port1.unref();
    try {
      const message = {
        request: task.request,
        port: port2,
        [Piscina.queueOptionsSymbol]: { hash: task.request.hash },
      };
      const filename = await bundled(WORKER);
      const answer = await this.pool.run(message, { filename, signal: running.stop.signal, transferList: [port2] });
      if ('error' in answer) {
        const { code, message: text, details } = answer.error;
        task.reject(new GephyraError(code, text, details));
      } else task.resolve(answer.result);
    } catch (error) {
      if (task.signal?.aborted) task.reject(cancelled());
      else if (running.putOff) this.waiting.push(task);
      else if (late) task.reject(tooLong(task.deadline));
      else if (running.stop.signal.aborted || this.closed) task.reject(cancelled());
      else task.reject(diedOf(error as Error));
    } finally {
      clearTimeout(timer);
      port1.close();
      this.running.delete(running);
      this.next();
    }
  }
}

const cancelled = (): GephyraError => new GephyraError('job.cancelled', 'The work was cancelled.');

const tooLong = (deadline: number): GephyraError => {
  const minutes = Math.round(deadline / 60_000);
  return new GephyraError(
    'job.deadline',
    `It was not done after ${minutes > 1 ? `${minutes} minutes` : `${Math.round(deadline / 1000)} seconds`} and was stopped. Simplify the model, or ask for less at once.`,
  );
};

function diedOf(error: Error & { code?: string }): GephyraError {
  const memory = error.code === 'ERR_WORKER_OUT_OF_MEMORY';
  if (!memory) console.error(error);
  return new GephyraError(
    'job.died',
    memory ? 'The model needs more memory than there is. Simplify it first.' : 'The computation broke off.',
  );
}

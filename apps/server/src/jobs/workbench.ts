import { Worker } from 'node:worker_threads';
import { GephyraError } from '@gephyra/core';
import type { WorkMessage, WorkRequest, WorkResult } from './worker.ts';

interface Task {
  readonly request: WorkRequest;
  readonly progress: (share: number, what: string) => void;
  readonly resolve: (result: WorkResult) => void;
  readonly reject: (error: Error) => void;
  readonly signal: AbortSignal | undefined;
}

/** One worker thread that does one task after another; cancelling the running one ends the thread, and a new one starts. */
export class Workbench {
  private worker: Worker | null = null;
  private readonly waiting: Task[] = [];
  private current: Task | null = null;
  private closed = false;

  run(request: WorkRequest, progress: Task['progress'], signal?: AbortSignal): Promise<WorkResult> {
    return new Promise((resolve, reject) => {
      const task: Task = { request, progress, resolve, reject, signal };
      signal?.addEventListener('abort', () => this.cancel(task), { once: true });
      this.waiting.push(task);
      this.next();
    });
  }

  async close(): Promise<void> {
    this.closed = true;
    await this.worker?.terminate();
  }

  private cancel(task: Task): void {
    const at = this.waiting.indexOf(task);
    if (at >= 0) this.waiting.splice(at, 1);
    else if (this.current === task) void this.drop();
    else return;
    task.reject(new GephyraError('job.cancelled', 'The work was cancelled.'));
  }

  private async drop(): Promise<void> {
    const worker = this.worker;
    this.worker = null;
    this.current = null;
    worker?.removeAllListeners();
    await worker?.terminate();
    this.next();
  }

  private next(): void {
    if (this.current || this.closed) return;
    const task = this.waiting.shift();
    if (!task) return;
    this.current = task;
    this.worker ??= this.start();
    this.worker.postMessage(task.request);
  }

  private start(): Worker {
    const worker = new Worker(new URL('./thread.mjs', import.meta.url));
    worker.on('message', (message: WorkMessage) => {
      const task = this.current;
      if (!task) return;
      if (message.type === 'progress') {
        task.progress(message.share, message.what);
        return;
      }
      this.current = null;
      if (message.type === 'done') task.resolve(message.result);
      else task.reject(new GephyraError(message.error.code, message.error.message, message.error.details));
      this.next();
    });
    const died = (error: Error): void => {
      const task = this.current;
      console.error(error);
      void this.drop();
      const memory = (error as NodeJS.ErrnoException).code === 'ERR_WORKER_OUT_OF_MEMORY';
      task?.reject(
        new GephyraError(
          'job.died',
          memory ? 'The model needs more memory than there is. Simplify it first.' : 'The computation broke off.',
        ),
      );
    };
    worker.on('error', died);
    worker.unref();
    return worker;
  }
}

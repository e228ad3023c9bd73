// Runs on a worker thread: reads a blob, computes, answers.
import type { MessagePort } from 'node:worker_threads';
import { GephyraError } from '@gephyra/core';
import { jobKind, type WorkRequest, type WorkResult } from './kinds/index.ts';
import { paced } from './paced.ts';

/** What a task says on its way, through its own port. */
export interface WorkProgress {
  readonly share: number;
  readonly what: string;
}

/** What a task came to. Errors are told as data: a thread's own would lose their codes on the way. */
export type WorkAnswer =
  | { readonly result: WorkResult }
  | { readonly error: { code: string; message: string; details: Record<string, string | number | boolean> } };

/** Does one task. Throws only when the thread itself is broken. */
export default async function work({
  request,
  port,
}: {
  request: WorkRequest;
  port: MessagePort;
}): Promise<WorkAnswer> {
  const tell = paced((share, what) => port.postMessage({ share, what } satisfies WorkProgress));
  try {
    return { result: await jobKind(request.do).work(request, tell) };
  } catch (error) {
    const known = error instanceof GephyraError;
    if (!known) console.error(error);
    return {
      error: known
        ? { code: error.code, message: error.message, details: { ...error.details } }
        : {
            code: 'server.error',
            message: 'Something unforeseen went wrong; the server’s log says more.',
            details: {},
          },
    };
  } finally {
    port.close();
  }
}

/** Nothing: the thread is only to be there. */
export const warm = (): null => null;

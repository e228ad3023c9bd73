import * as Comlink from 'comlink';
import { ALIVE } from './alive.ts';
import type { Engine } from './live.ts';

/** A worker that computes. */
export interface StartedEngine {
  readonly engine: Comlink.Remote<Engine>;
  /** ends it and frees what it held */
  readonly stop: () => void;
  /** resolves when it dies of itself, as when there is no memory left; what was asked of it is rejected with an EngineDied */
  readonly died: Promise<void>;
}

/** The worker that was asked is gone, and what it computed with it. */
export class EngineDied extends Error {
  override readonly name = 'EngineDied';
  override readonly message =
    'The computation broke off, most likely for want of memory. The plan is unchanged. Try again, or simplify the model first.';
}

/**
 * Starts a worker. No event tells that a worker was ended by the browser, but the locks it holds are freed: it takes one of its
 * own name, and the page waits for that.
 */
export function startEngine(): StartedEngine {
  const name = `gephyra engine ${crypto.randomUUID()}`;
  const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module', name });
  const waiting = new AbortController();
  const died = new Promise<void>((resolve) => {
    worker.addEventListener('error', () => resolve());
    worker.addEventListener('message', ({ data }: MessageEvent<unknown>) => {
      if (data !== ALIVE) return;
      navigator.locks?.request(name, { signal: waiting.signal }, () => resolve()).catch(() => {});
    });
  });
  const remote = Comlink.wrap<Engine>(worker);
  return {
    engine: failingWith(
      remote,
      died.then(() => {
        throw new EngineDied();
      }),
    ),
    died,
    stop: () => {
      waiting.abort();
      remote[Comlink.releaseProxy]();
      worker.terminate();
    },
  };
}

/** A remote whose calls fail when something else does first. */
export function failingWith(remote: Comlink.Remote<Engine>, failure: Promise<never>): Comlink.Remote<Engine> {
  failure.catch(() => {});
  return new Proxy(remote, {
    get(target, name) {
      const call: unknown = Reflect.get(target, name);
      if (typeof name === 'symbol' || typeof call !== 'function') return call;
      return (...args: unknown[]) => Promise.race([Reflect.apply(call, target, args), failure]);
    },
  });
}

/**
 * Runs the newest request and forgets those in between: while one is under way, only the last of the following waits. `supersede` is
 * told when one begins to wait, and what the one under way fails of then is forgotten.
 */
export function latest<A extends unknown[], R>(
  run: (...args: A) => Promise<R>,
  done: (result: R) => void,
  failed: (error: unknown) => void,
  supersede: () => void = () => {},
): (...args: A) => void {
  let busy = false;
  let next: A | null = null;
  const go = async (args: A): Promise<void> => {
    busy = true;
    try {
      done(await run(...args));
    } catch (error) {
      if (!next) failed(error);
    }
    busy = false;
    if (next) {
      const waiting = next;
      next = null;
      void go(waiting);
    }
  };
  return (...args) => {
    if (!busy) {
      void go(args);
      return;
    }
    if (!next) supersede();
    next = args;
  };
}

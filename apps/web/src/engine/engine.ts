import * as Comlink from 'comlink';
import type { Engine } from './live.ts';

/** Starts a worker that computes. `stop` ends it and frees what it held. */
export function startEngine(): { engine: Comlink.Remote<Engine>; stop: () => void } {
  const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module', name: 'gephyra engine' });
  const engine = Comlink.wrap<Engine>(worker);
  return {
    engine,
    stop: () => {
      engine[Comlink.releaseProxy]();
      worker.terminate();
    },
  };
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

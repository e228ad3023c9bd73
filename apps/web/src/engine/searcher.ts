import * as Comlink from 'comlink';
import PQueue from 'p-queue';
import { EngineDied, startEngine } from './engine.ts';
import type { Engine } from './live.ts';
import type { Tell } from './tell.ts';

export interface Asking {
  /** ends the search at once, even within a computation: its worker is stopped, and another started when it is needed */
  readonly cancel?: AbortSignal;
  /** the answer is no longer wanted: a search that has not begun never does */
  readonly forget?: AbortSignal;
  readonly tell?: Tell;
  /** somebody looks at the clock: not behind what nobody waits for */
  readonly first?: boolean;
}

/** A search, asked of the worker. */
export type Run<R> = (engine: Comlink.Remote<Engine>, tell: Tell) => Promise<R>;
type Started = ReturnType<typeof startEngine> & { readonly url: string; readonly loaded: Promise<unknown> };

/** Answers of searches that were ended or forgotten are errors of this name. */
const ENDED = 'AbortError';
export const wasEnded = (error: unknown): boolean => (error as Error | null)?.name === ENDED;
const ended = (): Error => new DOMException('The search was ended.', ENDED);

/**
 * Long searches on a model, in a worker of their own, so that the worker behind the live view is free for what is being dragged.
 * What somebody waits for is done one after the other, the rest one after the other beside it: it lets others have their turn.
 * The worker is started, and reads the model, when the first search is asked for.
 */
export class Searcher {
  private readonly waited = new PQueue({ concurrency: 1 });
  private readonly behind = new PQueue({ concurrency: 1 });
  private started: Started | null = null;
  private url: string | null = null;
  private closed = false;
  /** told when the worker is stopped: what runs in it never answers */
  private readonly lost = new Set<() => void>();

  constructor(private readonly start: typeof startEngine = startEngine) {}

  /** The address of the model that searches are made in from now on. */
  open(url: string): void {
    this.url = url;
  }

  /** Asks for a search. Rejects with what it throws, and with an AbortError when it is cancelled or forgotten. */
  ask<R>(run: Run<R>, { cancel, forget, tell = () => {}, first = false }: Asking = {}): Promise<R> {
    const task = async (): Promise<R> => {
      for (;;) {
        if (this.closed || cancel?.aborted || forget?.aborted) throw ended();
        const answer = await this.attempt(run, tell, cancel);
        // when another search was cancelled, this one went down with it and is begun again
        if (answer) return answer.value;
      }
    };
    return (first ? this.waited : this.behind).add(task) as Promise<R>;
  }

  /** Ends everything and frees what the worker held. */
  close(): void {
    this.closed = true;
    this.stop();
  }

  /** Null when the worker was stopped before it answered. */
  private attempt<R>(run: Run<R>, tell: Tell, cancel?: AbortSignal): Promise<{ readonly value: R } | null> {
    const stop = (): void => this.stop();
    let lost = (): void => {};
    const gone = new Promise<null>((resolve) => {
      lost = () => resolve(null);
    });
    this.lost.add(lost);
    cancel?.addEventListener('abort', stop, { once: true });
    const answer = this.ready()
      .then((engine) => run(engine, Comlink.proxy(tell)))
      .then((value) => ({ value }))
      .catch((error: unknown) => {
        // the next search starts another worker
        if (error instanceof EngineDied) {
          this.lost.delete(lost);
          this.stop();
        }
        throw error;
      });
    return Promise.race([answer, gone]).finally(() => {
      this.lost.delete(lost);
      cancel?.removeEventListener('abort', stop);
    });
  }

  private async ready(): Promise<Comlink.Remote<Engine>> {
    const { url } = this;
    if (url === null) throw new Error('There is no model to search in.');
    if (this.started?.url !== url) {
      const kept = this.started ?? this.start();
      this.started = { ...kept, url, loaded: kept.engine.load(url) };
    }
    const { engine, loaded } = this.started;
    try {
      await loaded;
    } catch (error) {
      // what could not be loaded is tried again by the next search
      if (this.started?.loaded === loaded) {
        this.started.stop();
        this.started = null;
      }
      throw error;
    }
    return engine;
  }

  private stop(): void {
    this.started?.stop();
    this.started = null;
    for (const tell of [...this.lost]) tell();
  }
}

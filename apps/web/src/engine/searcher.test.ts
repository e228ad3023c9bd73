import { describe, expect, it } from 'vitest';
import { EngineDied, failingWith } from './engine.ts';
import { Searcher, wasEnded } from './searcher.ts';

/** Workers whose searches are ended by hand; `log` is what happened to them, in order. */
function workers() {
  const log: string[] = [];
  let made = 0;
  const start = () => {
    const name = `w${++made}`;
    log.push(`start ${name}`);
    return {
      engine: { name, load: async (url: string) => void log.push(`${name} load ${url}`) },
      stop: () => void log.push(`stop ${name}`),
    };
  };
  const searcher = new Searcher(start as never);
  searcher.open('/m1');
  return { searcher, log };
}

/** A search that answers when it is told to. */
function held<R>(answer: R) {
  let end = (): void => {};
  let begun = (): void => {};
  const running = new Promise<void>((resolve) => {
    begun = resolve;
  });
  const run = () =>
    new Promise<R>((resolve) => {
      end = () => resolve(answer);
      begun();
    });
  return { run: run as never, running, end: () => end() };
}

describe('a searcher', () => {
  it('starts no worker before it is asked, and loads the model once', async () => {
    const { searcher, log } = workers();
    expect(log).toEqual([]);
    expect(await searcher.ask(async () => 1)).toBe(1);
    expect(await searcher.ask(async () => 2)).toBe(2);
    expect(log).toEqual(['start w1', 'w1 load /m1']);
    searcher.open('/m2');
    await searcher.ask(async () => 3);
    expect(log.slice(2)).toEqual(['w1 load /m2']);
  });

  it('does one search after the other, what is waited for not behind the rest', async () => {
    const { searcher } = workers();
    const first = held('a');
    const order: string[] = [];
    const a = searcher.ask(first.run).then(() => order.push('a'));
    await first.running;
    const b = searcher.ask(async () => 'b').then(() => order.push('b'));
    const c = searcher.ask(async () => 'c', { first: true }).then(() => order.push('c'));
    await c;
    expect(order).toEqual(['c']);
    first.end();
    await Promise.all([a, b]);
    expect(order).toEqual(['c', 'a', 'b']);
  });

  it('ends a running search by stopping its worker, and makes the others again in another', async () => {
    const { searcher, log } = workers();
    const nameOf = async (engine: unknown) => (engine as { name: string }).name;
    const beside = held('never');
    let runs = 0;
    const again = searcher.ask((engine) => (runs++ === 0 ? (beside.run as () => Promise<string>)() : nameOf(engine)));
    await beside.running;
    const long = held(0);
    const cancel = new AbortController();
    const ended = searcher
      .ask(long.run, { cancel: cancel.signal, first: true })
      .catch((error: unknown) => wasEnded(error));
    await long.running;
    const next = searcher.ask(nameOf, { first: true });
    cancel.abort();
    expect(await ended).toBe(true);
    expect(await next).toBe('w2');
    expect(await again).toBe('w2');
    expect(log).toEqual(['start w1', 'w1 load /m1', 'stop w1', 'start w2', 'w2 load /m1']);
  });

  it('never begins what was forgotten, and lets a search that runs be', async () => {
    const { searcher, log } = workers();
    const running = held('kept');
    const forget = new AbortController();
    let begun = false;
    const a = searcher.ask(running.run, { forget: forget.signal });
    await running.running;
    const b = searcher
      .ask(
        async () => {
          begun = true;
        },
        { forget: forget.signal },
      )
      .catch((error: unknown) => wasEnded(error));
    forget.abort();
    running.end();
    expect(await a).toBe('kept');
    expect(await b).toBe(true);
    expect(begun).toBe(false);
    expect(log).not.toContain('stop w1');
  });

  it('tells what a search throws, and goes on', async () => {
    const { searcher } = workers();
    const failed = searcher.ask(async () => {
      throw new Error('no such face');
    });
    await expect(failed).rejects.toThrow('no such face');
    expect(await searcher.ask(async () => 4)).toBe(4);
  });

  it('loads the model again after it could not be had', async () => {
    let loads = 0;
    const stops: number[] = [];
    const start = () => ({
      engine: {
        load: async () => {
          if (++loads === 1) throw new Error('The model cannot be fetched.');
        },
      },
      stop: () => void stops.push(loads),
    });
    const searcher = new Searcher(start as never);
    searcher.open('/m1');
    await expect(searcher.ask(async () => 1)).rejects.toThrow('cannot be fetched');
    expect(await searcher.ask(async () => 2)).toBe(2);
    expect(stops).toEqual([1]);
  });

  it('a closed one begins nothing more', async () => {
    const { searcher, log } = workers();
    await searcher.ask(async () => 1);
    searcher.close();
    expect(log.at(-1)).toBe('stop w1');
    await expect(searcher.ask(async () => 2)).rejects.toThrow('ended');
  });

  it('says so when its worker dies, and asks the next search of another', async () => {
    const { searcher, log } = workers();
    const dies = searcher.ask(async () => {
      throw new EngineDied();
    });
    await expect(dies).rejects.toThrow('The plan is unchanged.');
    expect(await searcher.ask(async () => 'well')).toBe('well');
    expect(log).toEqual(['start w1', 'w1 load /m1', 'stop w1', 'start w2', 'w2 load /m1']);
  });
});

describe('a worker’s remote', () => {
  it('answers as long as the worker lives, and fails with what ended it', async () => {
    let end = (_: Error): void => {};
    const death = new Promise<never>((_, reject) => {
      end = reject;
    });
    const remote = failingWith(
      { quick: async (x: number) => 2 * x, never: () => new Promise(() => {}) } as never,
      death,
    ) as unknown as { quick(x: number): Promise<number>; never(): Promise<void> };
    expect(await remote.quick(4)).toBe(8);
    const waiting = remote.never();
    end(new EngineDied());
    await expect(waiting).rejects.toThrow(EngineDied);
    await expect(remote.quick(1).then(() => remote.never())).rejects.toThrow(EngineDied);
  });
});

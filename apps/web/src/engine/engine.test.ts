import { describe, expect, it } from 'vitest';
import { latest } from './engine.ts';

/** Work whose every call is ended by hand. */
function byHand() {
  const started: number[] = [];
  const ends: ((fail?: Error) => void)[] = [];
  const done: number[] = [];
  const failed: string[] = [];
  const superseded: number[] = [];
  const run = latest(
    (x: number) =>
      new Promise<number>((resolve, reject) => {
        started.push(x);
        ends.push((fail) => (fail ? reject(fail) : resolve(x)));
      }),
    (x) => done.push(x),
    (error) => failed.push((error as Error).message),
    () => superseded.push(started.length),
  );
  const settle = async (i: number, fail?: Error) => {
    ends[i](fail);
    for (let k = 0; k < 5; k++) await Promise.resolve();
  };
  return { run, settle, started, done, failed, superseded };
}

describe('latest', () => {
  it('runs one at a time, and of those that came meanwhile only the last', async () => {
    const { run, settle, started, done, superseded } = byHand();
    for (const x of [1, 2, 3, 4]) run(x);
    expect(started).toEqual([1]);
    // told once, when the second came
    expect(superseded).toEqual([1]);
    await settle(0);
    expect(started).toEqual([1, 4]);
    await settle(1);
    expect(done).toEqual([1, 4]);
    run(5);
    expect(started).toEqual([1, 4, 5]);
  });

  it('goes on after a failure', async () => {
    const { run, settle, done, failed } = byHand();
    run(1);
    run(2);
    await settle(0, new Error('no'));
    await settle(1);
    // nobody waits for what failed
    expect([failed, done]).toEqual([[], [2]]);
    run(3);
    await settle(2, new Error('no'));
    expect(failed).toEqual(['no']);
  });
});

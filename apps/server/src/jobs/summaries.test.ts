import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { BlobStore } from '../blobs.ts';
import type { Projects } from '../projects.ts';
import { Summaries } from './summaries.ts';
import type { Workbench } from './workbench.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** Summaries of a project that is saved again and again, and the revisions that they were begun for. */
function watched() {
  const begun: number[] = [];
  let revision = 1;
  const projects = {
    get: async () => ({ revision, plan: {}, source: { hash: 'x', fileName: 'bell.stl', truncated: false } }),
  };
  const bench = {
    run: (request: { revision: number }) => {
      begun.push(request.revision);
      return new Promise(() => {});
    },
  };
  const blobs = { path: () => '' };
  const summaries = new Summaries(
    bench as unknown as Workbench,
    blobs as unknown as BlobStore,
    projects as unknown as Projects,
    60_000,
  );
  const save = (): void => {
    revision++;
    summaries.wish('bell');
  };
  return { summaries, save, begun };
}

describe('the card of a project', () => {
  it('is left alone while its maker goes from change to change', async () => {
    const { save, begun } = watched();
    for (let i = 0; i < 8; i++) {
      save();
      await vi.advanceTimersByTimeAsync(1500);
    }
    expect(begun).toEqual([]);
    await vi.advanceTimersByTimeAsync(5000);
    expect(begun).toEqual([9]);
  });

  it('is made at once, and once, when somebody looks', async () => {
    const { summaries, save, begun } = watched();
    save();
    save();
    summaries.hurry();
    summaries.hurry();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(begun).toEqual([3]);
  });

  it('is not made any more when its project is gone', async () => {
    const { summaries, save, begun } = watched();
    save();
    summaries.drop('bell');
    summaries.hurry();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(begun).toEqual([]);
  });
});

// @vitest-environment jsdom
import { type Plan, type PlanChange, parsePlan } from '@gephyra/core';
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Searcher } from '../engine/searcher.ts';
import { type Changing, changed } from './changes.ts';
import { useFrozen } from './frozen.ts';
import type { ProjectRecord } from './record.ts';

afterEach(cleanup);

const seam = (z: number) => ({
  id: 's1',
  kind: 'flat' as const,
  origin: [0, 0, z] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
});
const start = parsePlan({
  version: 5,
  printer: { size: [220, 220, 250] },
  seams: [seam(10)],
  log: [{ at: '2026-11-14T08:20:00.000Z', pieces: [{ piece: 'b1/s1+', copy: 1 }], to: 'printed' }],
});
const move: PlanChange = { do: 'setSeam', id: 's1', set: { origin: [0, 0, 20] } };

/** A record that keeps its plan here, and a worker that answers as it is told. */
function guarded(
  answers: { changedFiles?: () => Promise<string[]>; sparing?: () => Promise<PlanChange | null> },
  plan: Plan = start,
) {
  const state = { plan };
  const elsewhere = changed(plan, [move]).plan;
  const made: string[] = [];
  const record = {
    state,
    step: async (way: 'undo' | 'redo') => {
      made.push(way);
      state.plan = way === 'undo' ? plan : elsewhere;
    },
    change: (label: string, ...changes: Changing[]) => {
      const next = changed(state.plan, changes);
      state.plan = next.plan;
      made.push(label);
      return next.ids;
    },
  } as unknown as ProjectRecord;
  const ask = vi.fn((run: (engine: unknown) => unknown) => Promise.resolve(run(answers)));
  const say = vi.fn();
  const hook = renderHook(() => useFrozen(record, { ask } as unknown as Searcher, say));
  const change = (...changes: Changing[]) => act(async () => void hook.result.current.change('Move it', ...changes));
  return { state, made, ask, say, change, hook, question: () => hook.result.current.question };
}
const height = (plan: Plan) => plan.seams[0].origin[2];

describe('changes of a plan with printed pieces', () => {
  it('are made at once when no piece is printed, or nothing that has a shape is changed', async () => {
    const fresh = guarded({}, parsePlan({ ...start, log: [] }));
    await fresh.change(move);
    expect([height(fresh.state.plan), fresh.ask.mock.calls.length]).toEqual([20, 0]);
    const named = guarded({});
    await named.change({ do: 'setSeam', id: 's1', set: { name: 'Waist' } });
    expect([named.state.plan.seams[0].name, named.ask.mock.calls.length]).toEqual(['Waist', 0]);
  });

  it('are made when the files of printed pieces stay as they are', async () => {
    const { change, state, question } = guarded({ changedFiles: async () => [] });
    await change(move);
    await waitFor(() => expect(height(state.plan)).toBe(20));
    expect(question()).toBeNull();
  });

  it('are asked about when they do not, and not made when they are dropped', async () => {
    const { change, state, question, made } = guarded({ changedFiles: async () => ['b1/s1+'] });
    await change(move);
    await waitFor(() => expect(question()).not.toBeNull());
    expect(question()).toMatchObject({
      label: 'Move it',
      pieces: [{ key: 'b1/s1+', since: '2026-11-14T08:20:00.000Z' }],
    });
    act(() => question()!.drop());
    expect([question(), height(state.plan), made]).toEqual([null, 10, []]);
  });

  it('are made with the pieces put back to be printed, in one step', async () => {
    const { change, state, question, made } = guarded({ changedFiles: async () => ['b1/s1+'] });
    await change(move);
    await waitFor(() => expect(question()).not.toBeNull());
    act(() => question()!.again());
    expect([height(state.plan), made]).toEqual([20, ['Move it']]);
    expect(state.plan.log!.at(-1)).toMatchObject({ to: 'toPrint', pieces: [{ piece: 'b1/s1+', copy: 1 }] });
    expect(question()).toBeNull();
  });

  it('wait in line while one is asked about, and are made in their order, none lost', async () => {
    const { change, state, question, made } = guarded({ changedFiles: async () => ['b1/s1+'] });
    await change(move);
    await change({ do: 'setSeam', id: 's1', set: { origin: [0, 0, 30] } });
    await change({ do: 'setSeam', id: 's1', set: { name: 'Waist' } });
    await waitFor(() => expect(question()).not.toBeNull());
    expect([height(state.plan), made]).toEqual([10, []]);
    await act(async () => question()!.drop());
    await waitFor(() => expect(question()).not.toBeNull());
    await act(async () => question()!.again());
    await waitFor(() => expect(state.plan.seams[0].name).toBe('Waist'));
    expect([height(state.plan), made.length, question()]).toEqual([30, 2, null]);
  });

  it('are made only as far as they spare printed pieces, and tell when that is nothing', async () => {
    const rest: PlanChange = { do: 'setSeam', id: 's1', set: { name: 'Waist' } };
    const sparing = vi.fn<() => Promise<PlanChange | null>>(async () => rest);
    const { change, state, question } = guarded({ changedFiles: async () => ['b1/s1+'], sparing });
    await change(move, rest);
    await waitFor(() => expect(question()).not.toBeNull());
    let did: boolean | null = null;
    await act(async () => {
      did = await question()!.spare();
    });
    expect([did, height(state.plan), state.plan.seams[0].name]).toEqual([true, 10, 'Waist']);
    sparing.mockResolvedValue(null);
    await change(move);
    await waitFor(() => expect(question()).not.toBeNull());
    await act(async () => {
      did = await question()!.spare();
    });
    expect([did, height(state.plan), question()]).toEqual([false, 10, null]);
  });

  it('taken back or forward tell of printed pieces that they change, and lead back', async () => {
    const { state, made, say, hook } = guarded({ changedFiles: async () => ['b1/s1+'] });
    await act(() => hook.result.current.step('redo'));
    expect(height(state.plan)).toBe(20);
    expect(say).toHaveBeenCalledWith(
      expect.objectContaining({ text: 'This changed a piece that is printed already.', tone: 'warn' }),
    );
    const { action } = say.mock.lastCall![0];
    expect(action.label).toBe('Undo');
    act(() => action.run());
    await waitFor(() => expect(height(state.plan)).toBe(10));
    expect(made).toEqual(['redo', 'undo']);
    const quiet = guarded({ changedFiles: async () => [] });
    await act(() => quiet.hook.result.current.step('redo'));
    expect([height(quiet.state.plan), quiet.say.mock.calls]).toEqual([20, []]);
  });

  it('that are refused are refused in the record’s words, and a search that fails is told of', async () => {
    const refused = guarded({ changedFiles: async () => [] });
    expect(() => refused.hook.result.current.change('Move it', { do: 'setSeam', id: 's9', set: {} })).toThrow();
    const broken = guarded({ changedFiles: () => Promise.reject(new Error('The kernel does not load.')) });
    await broken.change(move);
    await waitFor(() =>
      expect(broken.say).toHaveBeenCalledWith({
        text: '“Move it” was not done. The kernel does not load.',
        tone: 'stop',
      }),
    );
    expect(height(broken.state.plan)).toBe(10);
  });
});

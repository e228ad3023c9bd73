import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../../../packages/core/testing/runs.ts';
import { type SimulatedPrint, simulated } from './simulated.ts';

const START = Date.UTC(2026, 10, 3, 9);
const order = { seconds: 3600, layers: 300, pace: 1 };
const after = (seconds: number): number => START + seconds * 1000;

describe('a simulated printer', () => {
  it('heats for two minutes, prints in its time, and is done then, whenever it is asked', () => {
    const kept = simulated.begin(order, START);
    expect(simulated.look(kept, after(60))).toEqual({ state: 'heating', share: 0, secondsLeft: 3660, endedAt: null });
    expect(simulated.look(kept, after(120 + 900))).toMatchObject({ state: 'printing', share: 0.25, secondsLeft: 2700 });
    // asked days later, it ended when it ended
    expect(simulated.look(kept, after(1e6))).toEqual({ state: 'done', share: 1, secondsLeft: 0, endedAt: after(3720) });
    const fast = simulated.begin({ ...order, pace: 3600 }, START);
    expect(simulated.look(fast, after(1.1))).toMatchObject({ state: 'done', endedAt: START + (3720 / 3600) * 1000 });
  });

  it('fails where it is told to, and not before', () => {
    const kept = simulated.begin({ ...order, failAt: 0.4 }, START);
    expect(simulated.look(kept, after(120 + 0.39 * 3600)).state).toBe('printing');
    expect(simulated.look(kept, after(1e5))).toEqual({
      state: 'failed',
      share: 0.4,
      secondsLeft: 0,
      endedAt: after(120 + 0.4 * 3600),
    });
  });

  it('never goes back, works only while it is not paused, and tells the same from its data as from memory', () => {
    const step = fc.record({
      do: fc.constantFrom('wait', 'pause', 'resume', 'stop', 'restart'),
      seconds: fc.integer({ min: -600, max: 1500 }),
    });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 20 }), (steps) => {
        let kept: SimulatedPrint = simulated.begin(order, START);
        let now = START;
        let share = 0;
        let end: number | null = null;
        let forward = 0;
        for (const s of steps) {
          const before = simulated.look(kept, now);
          const working = before.state === 'heating' || before.state === 'printing';
          now += s.seconds * 1000;
          if (s.do === 'pause' || s.do === 'resume' || s.do === 'stop') kept = simulated[s.do](kept, now);
          // the server was started anew: all that is known is what was stored
          if (s.do === 'restart') kept = JSON.parse(JSON.stringify(kept)) as SimulatedPrint;
          if (working) forward += Math.max(0, s.seconds);
          const look = simulated.look(kept, now);
          // a clock that is set back may only slow it down
          expect(look.share).toBeLessThanOrEqual(Math.max(0, forward - 120 + 600 * steps.length) / 3600 + 1e-9);
          if (s.seconds >= 0 || !working) expect(look.share).toBeGreaterThanOrEqual(share - 1e-9);
          share = look.share;
          if (end !== null && s.seconds >= 0) expect(look.endedAt).toBe(end);
          end = look.endedAt;
          if (look.state === 'paused') expect(simulated.look(kept, now + 1e7)).toEqual(look);
        }
      }),
      { numRuns: runs(300) },
    );
  });

  it('that has ended is not paused, resumed or stopped any more', () => {
    const kept = simulated.begin(order, START);
    const late = after(1e5);
    for (const what of ['pause', 'resume', 'stop'] as const) expect(simulated[what](kept, late)).toBe(kept);
    const stopped = simulated.stop(kept, after(1000));
    expect(simulated.look(stopped, late)).toMatchObject({ state: 'stopped', endedAt: after(1000) });
    expect(simulated.resume(stopped, late)).toBe(stopped);
  });
});

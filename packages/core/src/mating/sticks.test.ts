import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Stock } from '../joints/index.ts';
import { cutsWords, sticksFor, sticksWords } from './sticks.ts';

const part = (what: string, length: number | null, count: number, stock: Stock | null = 'wood') => ({
  what,
  length,
  count,
  stock,
});

describe('sticks to buy', () => {
  it('hold every length once with a saw cut between two, and are few', () => {
    const list = fc.array(fc.tuple(fc.integer({ min: 5, max: 360 }), fc.integer({ min: 1, max: 6 })), {
      minLength: 1,
      maxLength: 12,
    });
    fc.assert(
      fc.property(list, (lengths) => {
        const parts = lengths.map(([length, count]) => part('dowel 8', length, count));
        const wanted = lengths.flatMap(([x, n]) => Array(n).fill(x) as number[]).sort((a, b) => a - b);
        const sticks = sticksFor(parts);
        const [{ cuts, over }] = sticks;
        expect([...cuts.flat(), ...over].sort((a, b) => a - b)).toEqual(wanted);
        for (const c of cuts) expect(c.reduce((s, x) => s + x, 2 * (c.length - 1))).toBeLessThanOrEqual(300);
        // none has room for what a later one begins with
        const used = cuts.map((c) => c.reduce((sum, x) => sum + x + 2, 0));
        for (const [j, [longest]] of cuts.entries()) {
          for (let i = 0; i < j; i++) expect(used[i] + longest).toBeGreaterThan(300);
        }
      }),
    );
  });

  it('are of each stock by itself, without what is printed or has no length, and said in words', () => {
    const parts = [
      part('dowel 8', 140, 3),
      part('rod 3', 60, 2, 'rod'),
      part('magnet 10', null, 4, null),
      part('printed rod 8', 50, 2, 'printed'),
      part('filament 1.75', 20, 9, 'filament'),
    ];
    expect(sticksFor(parts)).toEqual([
      { what: 'dowel 8', length: 300, cuts: [[140, 140], [140]], over: [] },
      { what: 'rod 3', length: 250, cuts: [[60, 60]], over: [] },
    ]);
    expect(sticksWords({ length: 300, cuts: [[140, 140], [140]], over: [] })).toBe('2 sticks of 300 mm');
    expect(sticksWords({ length: 300, cuts: [[60]], over: [340] })).toBe('1 stick of 300 mm and one of 340 mm');
  });

  it('are told by how often each length is cut from them, not length by length', () => {
    expect(cutsWords({ cuts: [Array(8).fill(40)] })).toBe('8 × 40 mm from it');
    expect(cutsWords({ cuts: [Array(8).fill(35.5), Array(8).fill(35.5)] })).toBe('8 × 35.5 mm from each');
    const mixed = [Array(6).fill(48), Array(6).fill(48), [48, 20, 20]];
    expect(cutsWords({ cuts: mixed })).toBe('6 × 48 mm from each of 2; 1 × 48 and 2 × 20 mm from one');
  });
});

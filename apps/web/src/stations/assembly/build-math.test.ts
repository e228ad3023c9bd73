import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { confluence, levelsOf } from './build-math.ts';

/** Steps that join all of some pieces, two groups at a time, chosen by numbers. */
const joinings = fc
  .tuple(fc.integer({ min: 2, max: 24 }), fc.array(fc.nat(), { minLength: 48, maxLength: 48 }))
  .map(([n, picks]) => {
    const keys = Array.from({ length: n }, (_, i) => `k${i}`);
    let groups = keys.map((k) => [k]);
    const steps: { parts: string[][] }[] = [];
    for (let i = 0; groups.length > 1; i++) {
      const a = groups[picks[2 * i] % groups.length];
      const rest = groups.filter((g) => g !== a);
      const b = rest[picks[2 * i + 1] % rest.length];
      steps.push({ parts: [a, b] });
      groups = [...rest.filter((g) => g !== b), [...a, ...b]];
    }
    return { keys, steps };
  });

describe('the confluence', () => {
  it('has each piece in a row of its own, each group in rows that follow each other, and lines that end where they are joined on', () => {
    fc.assert(
      fc.property(joinings, ({ keys, steps }) => {
        const { rows, flows, nodes } = confluence(steps, keys);
        expect([...rows].sort()).toEqual([...keys].sort());
        steps.forEach(({ parts }, i) => {
          const own = parts.flat().map((k) => rows.indexOf(k));
          expect(Math.max(...own) - Math.min(...own)).toBe(own.length - 1);
          expect(nodes[i][1]).toBeGreaterThanOrEqual(Math.min(...own));
          expect(nodes[i][1]).toBeLessThanOrEqual(Math.max(...own));
        });
        expect(flows).toHaveLength(2 * steps.length);
        for (const { from, to } of flows) expect(from[0]).toBeLessThan(to[0]);
      }),
    );
  });

  it('counts how deep steps are nested', () => {
    const row = (parts: string[][]) => ({ parts });
    expect(
      levelsOf([
        row([['a'], ['b']]),
        row([['c'], ['d']]),
        row([
          ['a', 'b'],
          ['c', 'd'],
        ]),
      ]),
    ).toBe(2);
    expect(levelsOf([row([['a'], ['b']]), row([['a', 'b'], ['c']]), row([['a', 'b', 'c'], ['d']])])).toBe(3);
  });
});

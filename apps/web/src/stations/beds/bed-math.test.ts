import { beyondBed, boxOfShadow, parsePlan, placed, sharedArea } from '@gephyra/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../../../../packages/core/testing/runs.ts';
import type { PrintView } from '../../engine/prints.ts';
import { freePlace, middleOf, onBed, pathOfShadow, printerOfBed, sumOfBed, unplaced } from './bed-math.ts';

const rectangle = (w: number, h: number): Float64Array[] => [
  Float64Array.of(-w / 2, -h / 2, w / 2, -h / 2, w / 2, h / 2, -w / 2, h / 2),
];
const print = (key: string, shadow: Float64Array[], more: object = {}): PrintView =>
  ({
    key,
    of: key,
    mirrored: false,
    copies: 1,
    shadow,
    estimate: { hours: 2, grams: 30 },
    ...more,
  }) as unknown as PrintView;
const prints = [print('b1', rectangle(60, 40)), print('b2', rectangle(30, 30), { copies: 3 })];
const byKey = new Map(prints.map((p) => [p.key, p]));
const printer = {
  name: 'Desktop 220',
  size: [220, 220, 250] as [number, number, number],
  margin: 2,
  keepOut: [{ at: [0, 200] as [number, number], size: [20, 20] as [number, number] }],
};
const planOf = (pieces: object[], more: object = {}) =>
  parsePlan({ version: 5, printer, beds: [{ id: 'bed1', printer: 'Desktop 220', pieces }], ...more });

describe('a bed, drawn', () => {
  it('marks what overlaps, leaves the bed or lies where it is kept free, and nothing else', () => {
    const bad = (...pieces: object[]) => {
      const plan = planOf(pieces);
      return onBed(plan.beds[0], byKey, plan.printer, plan.bedding).map((o) => o.bad);
    };
    expect(bad({ piece: 'b1', x: 60, y: 60 }, { piece: 'b2', x: 160, y: 60 })).toEqual([false, false]);
    expect(bad({ piece: 'b1', x: 60, y: 60 }, { piece: 'b2', x: 95, y: 60 })).toEqual([true, true]);
    expect(bad({ piece: 'b1', x: 31, y: 60 })).toEqual([true]);
    expect(bad({ piece: 'b1', x: 32, y: 60 })).toEqual([false]);
    expect(bad({ piece: 'b1', x: 40, y: 190 })).toEqual([true]);
    // turned by a right angle it is deeper than wide
    expect(bad({ piece: 'b1', x: 22, y: 60, spin: Math.PI / 2 })).toEqual([false]);
    expect(bad({ piece: 'gone', x: 22, y: 60 })).toEqual([]);
  });

  it('a brim counts', () => {
    const plan = planOf([{ piece: 'b1', x: 34, y: 60 }], { bedding: { brim: 5 } });
    expect(onBed(plan.beds[0], byKey, plan.printer, plan.bedding)[0].bad).toBe(true);
  });

  it('adds up hours with the time to warm up, grams, and the share that is covered', () => {
    const plan = planOf([
      { piece: 'b1', x: 60, y: 60 },
      { piece: 'b2', x: 160, y: 60 },
    ]);
    const { hours, grams, share } = sumOfBed(plan.beds[0], byKey, plan.printer);
    expect(hours).toBeCloseTo(4.1, 9);
    expect(grams).toBe(60);
    expect(share).toBeCloseTo((60 * 40 + 30 * 30) / (216 * 216), 9);
  });

  it('falls back on the main printer when its own is gone', () => {
    const plan = planOf([]);
    expect(printerOfBed(plan, { printer: 'Sold 150' }).name).toBe('Desktop 220');
  });

  it('knows which copies lie nowhere', () => {
    const plan = planOf([{ piece: 'b2', copy: 2, x: 60, y: 60 }]);
    expect(unplaced(plan, prints).map(({ print: p, copy }) => [p.key, copy])).toEqual([
      ['b1', 1],
      ['b2', 1],
      ['b2', 3],
    ]);
  });
});

describe('a free place', () => {
  it('covers nothing and is on the bed, as long as there is one', () => {
    const at = fc.integer({ min: 30, max: 190 });
    fc.assert(
      fc.property(fc.array(fc.tuple(at, at), { maxLength: 4 }), (places) => {
        const plan = planOf(places.map(([x, y], i) => ({ piece: 'b2', copy: i + 1, x, y })));
        const others = onBed(plan.beds[0], byKey, plan.printer, plan.bedding);
        const { x, y, spin } = freePlace(prints[0], others, plan.printer, plan.bedding);
        const there = placed(prints[0].shadow, x, y, spin);
        expect(beyondBed(there, plan.bedding.brim, plan.printer)).toEqual({ over: 0, blocked: false });
        for (const o of others) expect(sharedArea(there, o.shadow)).toBeLessThan(0.02);
      }),
      { numRuns: runs(40) },
    );
  });

  it('of a piece too large is the middle', () => {
    const plan = planOf([]);
    expect(freePlace(print('b3', rectangle(300, 300)), [], plan.printer, plan.bedding)).toEqual({
      x: 110,
      y: 110,
      spin: 0,
    });
  });
});

describe('the drawing of an outline', () => {
  it('has a line for each loop, closed, y upwards', () => {
    expect(pathOfShadow(rectangle(4, 2))).toBe('M-2.00 1.00L2.00 1.00L2.00 -1.00L-2.00 -1.00Z');
  });

  it('has its code inside: also of a ring, and of an L', () => {
    const ring = [...rectangle(100, 100), Float64Array.of(-35, -35, -35, 35, 35, 35, 35, -35)];
    const ell = [Float64Array.of(0, 0, 100, 0, 100, 20, 20, 20, 20, 100, 0, 100)];
    for (const shadow of [ring, ell]) {
      const [x, y] = middleOf(shadow, 0.7);
      const turned = placed(shadow, 0, 0, 0.7);
      const dot = placed(rectangle(2, 2), x, y, 0);
      expect(sharedArea(dot, turned)).toBeGreaterThan(3.9);
      const { min, max } = boxOfShadow(turned);
      expect(x > min[0] && x < max[0] && y > min[1] && y < max[1]).toBe(true);
    }
  });
});

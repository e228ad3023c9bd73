import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { regionsOfLoops } from '../../cut/index.ts';
import { bendingOf } from './bending.ts';

const regionOf = (loop: readonly (readonly [number, number])[]) => ({
  flat: regionsOfLoops([Float64Array.from(loop.flat())])[0],
});

const turned = (loop: readonly (readonly [number, number])[], by: number, [x, y]: readonly [number, number]) =>
  loop.map(([u, v]) => [x + u * Math.cos(by) - v * Math.sin(by), y + u * Math.sin(by) + v * Math.cos(by)] as const);

/** What bends a face: so heavy and so deep that it comes to so many N mm. */
const bentBy = (moment: number) => [
  { volume: (2 * moment) / 5e-6 / 100, deep: 100 },
  { volume: 1e12, deep: 500 },
];

describe('the bending of a face', () => {
  it('is that of a round bar: 32 M / π d³, wherever its section lies', () => {
    fc.assert(
      fc.property(fc.integer({ min: 4, max: 60 }), fc.integer({ min: -200, max: 200 }), (d, x) => {
        const circle = Array.from({ length: 180 }, (_, i) => {
          const a = (i / 180) * 2 * Math.PI;
          return [x + (d / 2) * Math.cos(a), 3 * x + (d / 2) * Math.sin(a)] as const;
        });
        const modulus = (Math.PI * d ** 3) / 32;
        expect(bendingOf([regionOf(circle)], bentBy(2 * modulus))).toBeCloseTo(2, 2);
      }),
    );
  });

  it('is about the weaker way of a strip, w h² / 6, however it is turned', () => {
    const short = fc.double({ min: 3, max: 30, noNaN: true });
    const slender = fc.double({ min: 1.2, max: 10, noNaN: true });
    fc.assert(
      fc.property(short, slender, fc.double({ min: 0, max: 6, noNaN: true }), (h, by, a) => {
        const w = h * by;
        const corners = [
          [-w / 2, -h / 2],
          [w / 2, -h / 2],
          [w / 2, h / 2],
          [-w / 2, h / 2],
        ] as const;
        const least = (w * h ** 2) / 6;
        const told = bendingOf([regionOf(turned(corners, a, [90, -40]))], bentBy(3 * least));
        expect(told).toBeCloseTo(3, 3);
      }),
    );
  });

  it('is shared by the regions that are cut, and is that of the lighter part', () => {
    const square = regionOf([
      [0, 0],
      [10, 0],
      [10, 10],
      [0, 10],
    ]);
    const one = bendingOf([square], bentBy(1000));
    expect(bendingOf([square, square], bentBy(1000))).toBeCloseTo(one / 2, 9);
    expect(bendingOf([square], [...bentBy(1000), { volume: 1, deep: 1 }])).toBeLessThan(1e-6);
  });
});

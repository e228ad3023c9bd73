import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { loopArea, nearestOnLoop } from '../mesh/index.ts';
import { besideLoop, besidePath } from './beside.ts';

const whole = (low: number, high: number) => fc.integer({ min: low, max: high });

/** A star-shaped loop of uneven corners, counter-clockwise or turned. */
const loops = fc
  .tuple(fc.array(whole(40, 70), { minLength: 8, maxLength: 30 }), fc.boolean())
  .map(([radii, turned]) => {
    const points = radii.map((r, i) => {
      const a = (i / radii.length) * 2 * Math.PI;
      return [r * Math.cos(a), r * Math.sin(a)];
    });
    return Float64Array.from((turned ? points.reverse() : points).flat());
  });

describe('a line beside another', () => {
  it('runs the same way as its loop, on its left, nowhere nearer than it should be', () => {
    fc.assert(
      fc.property(loops, whole(1, 30), (loop, tenths) => {
        const by = tenths / 10;
        const line = besideLoop(loop, by)!;
        expect(Math.sign(loopArea(line))).toBe(Math.sign(loopArea(loop)));
        expect(loopArea(line)).toBeLessThan(loopArea(loop));
        let least = Infinity;
        for (let i = 0; i < line.length; i += 2)
          least = Math.min(least, nearestOnLoop(loop, line[i], line[i + 1]).distance);
        for (let i = 0; i < loop.length; i += 2)
          least = Math.min(least, nearestOnLoop(line, loop[i], loop[i + 1]).distance);
        // points are left out where the line stays within 0.0015 mm
        expect(least).toBeGreaterThan(by - 0.0016);
        expect(least).toBeLessThan(by + 1e-5);
      }),
    );
  });

  it('is nothing where there is no room for it', () => {
    expect(besideLoop(Float64Array.of(0, 0, 10, 0, 10, 10, 0, 10), 6)).toBeNull();
    expect(besideLoop(Float64Array.of(0, 0, 10, 0, 10, 10, 0, 10), 4)).toHaveLength(8);
  });

  it('of an open path begins and ends square beside its ends, and is straight where the path is', () => {
    const line = besidePath(
      [
        [0, 0],
        [10, 0],
        [20, 10],
      ],
      2,
    )!;
    const near = (p: readonly number[], x: number, y: number) => {
      expect(p[0]).toBeCloseTo(x, 5);
      expect(p[1]).toBeCloseTo(y, 5);
    };
    near(line[0], 0, 2);
    near(line[line.length - 1], 20 - Math.SQRT2, 10 + Math.SQRT2);
    const corner = 10 - 2 * Math.tan(Math.PI / 8);
    near(line[1], corner, 2);
    expect(line).toHaveLength(3);
  });
});

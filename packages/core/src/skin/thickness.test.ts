import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../mesh/index.ts';
import { type ThickPlace, tilted, varying } from './thickness.ts';

const within = (low: number, high: number) => fc.double({ min: low, max: high, noNaN: true });
const point = fc.tuple(within(-60, 60), within(-60, 60), within(-60, 60)) as fc.Arbitrary<Vec3>;
const place: fc.Arbitrary<ThickPlace> = fc.record({ at: point, radius: within(1, 25), thickness: within(0.6, 8) });
const taper = fc.record({
  along: fc.constant<Vec3>([0, 0, 1]),
  from: within(-50, -10),
  to: within(10, 50),
  thickness: within(0.6, 8),
});

describe('a wall that is not as thick everywhere', () => {
  it('stays between its least and its most, and is as thick as a marked place says within its radius', () => {
    fc.assert(
      fc.property(
        within(1, 6),
        fc.option(taper),
        fc.array(place, { maxLength: 4 }),
        point,
        (thickness, ends, places, p) => {
          const wall = varying(thickness, ends, places);
          const here = wall.at(...p);
          expect(here).toBeGreaterThanOrEqual(wall.least - 1e-9);
          expect(here).toBeLessThanOrEqual(wall.most + 1e-9);
          // where places overlap the later one counts
          const last = places.at(-1);
          if (last) expect(wall.at(...last.at)).toBeCloseTo(last.thickness, 9);
        },
      ),
    );
  });

  it('changes by no more for each mm than it says, round one place or from end to end', () => {
    const one = fc.oneof(fc.tuple(taper, fc.constant<ThickPlace[]>([])), fc.tuple(fc.constant(null), fc.tuple(place)));
    fc.assert(
      fc.property(within(1, 6), one, point, point, (thickness, [ends, places], p, q) => {
        const wall = varying(thickness, ends, places);
        const apart = Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
        expect(Math.abs(wall.at(...p) - wall.at(...q))).toBeLessThanOrEqual(wall.steep * apart + 1e-9);
      }),
    );
  });

  it('tapers evenly: half way it is half as much thicker', () => {
    const wall = varying(2, { along: [1, 0, 0], from: 0, to: 40, thickness: 6 }, []);
    expect([-5, 0, 20, 40, 50].map((x) => wall.at(x, 3, -8))).toEqual([2, 2, 4, 6, 6]);
    const out = new Float64Array(3);
    wall.growth!(20, 0, 0, out);
    expect([...out]).toEqual([expect.closeTo(0.1, 6), 0, 0]);
  });

  it('turns the way a distance rises towards where it is thicker, and keeps it of unit length', () => {
    const wall = varying(2, { along: [1, 0, 0], from: 0, to: 40, thickness: 6 }, []);
    const out = Float64Array.of(0, 0, 1);
    tilted(wall, 20, 0, 0, 1, out);
    expect(Math.hypot(...out)).toBeCloseTo(1, 12);
    expect(out[0] / out[2]).toBeCloseTo(0.1, 6);
    // along the way itself nothing is turned, nor where it is as thick everywhere
    const along = Float64Array.of(1, 0, 0);
    tilted(wall, 20, 0, 0, 1, along);
    expect([...along]).toEqual([1, 0, 0]);
    tilted(varying(2, null, []), 20, 0, 0, 1, along);
    expect([...along]).toEqual([1, 0, 0]);
  });
});

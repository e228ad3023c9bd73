import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { volume } from '../mesh/index.ts';
import { makeFrame } from './frame.ts';
import { prismOf } from './prism.ts';
import { regionsOfLoops } from './regions.ts';

/** A star of some corners, counter-clockwise. */
const star = (radii: readonly number[]): Float64Array =>
  Float64Array.from(
    radii.flatMap((r, i) => {
      const a = (2 * Math.PI * i) / radii.length;
      return [r * Math.cos(a), r * Math.sin(a)];
    }),
  );

describe('a prism', () => {
  it('of any region with a hole, anywhere, is closed and as large as its area times its height', () => {
    const radii = fc.array(fc.double({ min: 10, max: 40, noNaN: true }), { minLength: 3, maxLength: 24 });
    const part = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        radii,
        fc.boolean(),
        fc.double({ min: 0.5, max: 60, noNaN: true }),
        fc.tuple(part, part, part).filter((d) => Math.hypot(...d) > 0.2),
        (list, holed, height, normal) => {
          const outer = star(list.map((r) => r + 10));
          // the other way round
          const hole = star([4, 4, 4, 4, 4]).reverse();
          for (let i = 0; i < hole.length; i += 2) [hole[i], hole[i + 1]] = [hole[i + 1], hole[i]];
          const [region] = regionsOfLoops(holed ? [outer, hole] : [outer]);
          const mesh = prismOf(region, makeFrame([5, -7, 11], normal), -1, height - 1, fallback);
          expect(volume(mesh) / (region.area * height)).toBeCloseTo(1, 9);
          expect(judge(mesh)).toMatchObject({ status: 'NoError', closed: true });
        },
      ),
      { numRuns: runs(60) },
    );
  });
});

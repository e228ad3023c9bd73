import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { meetsBox } from './meets-box.ts';

const number = fc.double({ min: -9, max: 9, noNaN: true });
const point = fc.tuple(number, number, number);

describe('whether a triangle meets a box', () => {
  it('is told as by the kernel, which cuts a thin prism on the triangle by the box', () => {
    let met = 0;
    fc.assert(
      fc.property(point, point, point, point, fc.tuple(point, point), ([...a], [...b], [...c], at, [p, q]) => {
        const min = at.map((x, k) => Math.min(x, x + p[k]) / 2);
        const max = at.map((x, k) => Math.max(x, x + p[k]) / 2 + Math.abs(q[k]) / 4 + 0.1);
        // a prism that the triangle lies in the middle of
        const normal = [0, 1, 2].map((k) => {
          const [i, j] = [(k + 1) % 3, (k + 2) % 3];
          return (b[i] - a[i]) * (c[j] - a[j]) - (b[j] - a[j]) * (c[i] - a[i]);
        });
        const length = Math.hypot(...normal);
        fc.pre(length > 0.5);
        const thin = 0.002;
        const corners = [a, b, c].flatMap((v) =>
          [-thin, thin].map((s) => v.map((x, k) => x + (s * normal[k]) / length) as [number, number, number]),
        );
        const prism = kernel.Manifold.hull(corners);
        const box = kernel.Manifold.cube([max[0] - min[0], max[1] - min[1], max[2] - min[2]]).translate([
          min[0],
          min[1],
          min[2],
        ]);
        const gap = prism.minGap(box, 1);
        const told = meetsBox(
          { positions: Float64Array.from([...a, ...b, ...c]), triangles: Uint32Array.of(0, 1, 2) },
          { min: [min[0], min[1], min[2]], max: [max[0], max[1], max[2]] },
        );
        for (const solid of [prism, box]) solid.delete();
        // the prism is a little thicker than the triangle: nearer than that either answer will do
        if (gap > 3 * thin) expect(told).toBe(false);
        else if (gap === 0 && !told) {
          const grown = { min: min.map((x) => x - 3 * thin), max: max.map((x) => x + 3 * thin) };
          expect(
            meetsBox(
              { positions: Float64Array.from([...a, ...b, ...c]), triangles: Uint32Array.of(0, 1, 2) },
              { min: [grown.min[0], grown.min[1], grown.min[2]], max: [grown.max[0], grown.max[1], grown.max[2]] },
            ),
          ).toBe(true);
        }
        if (told) met++;
      }),
      { numRuns: runs(300) },
    );
    expect(met).toBeGreaterThan(30);
  });
});

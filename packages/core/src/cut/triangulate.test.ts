import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback } from '../../testing/judges.ts';
import { loopArea } from '../mesh/index.ts';
import { sweepTriangulate } from './sweep.ts';
import { triangulate } from './triangulate.ts';

/** A star-shaped loop with the given radii; clockwise when `hole`. */
function star(radii: readonly number[], hole = false, x = 0, y = 0): Float64Array {
  const n = radii.length;
  const out = new Float64Array(n * 2);
  for (let i = 0; i < n; i++) {
    const a = ((hole ? -i : i) / n) * 2 * Math.PI;
    out[i * 2] = x + radii[i] * Math.cos(a);
    out[i * 2 + 1] = y + radii[i] * Math.sin(a);
  }
  return out;
}

function sumOfAreas(loops: readonly Float64Array[], t: Uint32Array): number {
  const flat = loops.flatMap((l) => [...l]);
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i], t[i + 1], t[i + 2]];
    const twice =
      (flat[b * 2] - flat[a * 2]) * (flat[c * 2 + 1] - flat[a * 2 + 1]) -
      (flat[c * 2] - flat[a * 2]) * (flat[b * 2 + 1] - flat[a * 2 + 1]);
    expect(twice).toBeGreaterThanOrEqual(-1e-9);
    sum += twice / 2;
  }
  return sum;
}

const radii = fc.array(fc.integer({ min: 40, max: 100 }), { minLength: 3, maxLength: 60 });
const small = fc.array(fc.integer({ min: 2, max: 9 }), { minLength: 3, maxLength: 12 });

describe('triangulate', () => {
  it('covers star-shaped polygons with holes exactly, by the sweep alone', () => {
    fc.assert(
      fc.property(radii, small, small, (outer, a, b) => {
        const loops = [star(outer.map((r) => r + 40)), star(a, true, 12, 3), star(b, true, -12, -3)];
        const swept = sweepTriangulate(loops);
        const points = loops.reduce((n, l) => n + l.length / 2, 0);
        expect(swept).toHaveLength((points + 2) * 3);
        const area = loops.reduce((s, l) => s + loopArea(l), 0);
        expect(sumOfAreas(loops, swept!)).toBeCloseTo(area, 6);
      }),
    );
  });

  it('takes rows of points on straight edges, level and upright, where many lie at one height', () => {
    const side = (n: number, f: (t: number) => [number, number]): number[] =>
      Array.from({ length: n }, (_, i) => f(i / n)).flat();
    const square = Float64Array.from([
      ...side(7, (t) => [t * 10, 0]),
      ...side(5, (t) => [10, t * 10]),
      ...side(9, (t) => [10 - t * 10, 10]),
      ...side(4, (t) => [0, 10 - t * 10]),
    ]);
    const hole = Float64Array.of(3, 3, 3, 5, 3, 7, 7, 7, 7, 3);
    const t = triangulate(square, [hole], fallback);
    expect(t).toHaveLength((25 + 5) * 3);
    expect(sumOfAreas([square, hole], t)).toBeCloseTo(84, 9);
  });

  it('closes loops that cross by the kernel, and loops without area by a fan', () => {
    const bow = Float64Array.of(0, 0, 10, 10, 10, 0, 0, 12);
    expect(triangulate(bow, [], fallback)).toHaveLength(6);
    const flat = Float64Array.of(0, 0, 5, 0, 10, 0, 5, 0);
    expect(triangulate(flat, [], () => new Uint32Array(0))).toEqual(Uint32Array.of(0, 1, 2, 0, 2, 3));
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../testing/runs.ts';
import { dot, normalize, type Vec3 } from '../mesh/index.ts';
import { excessOf, type Guide, wayOut } from './way.ts';

const part = fc.integer({ min: -10, max: 10 });
const direction = fc
  .tuple(part, part, part)
  .filter((d) => Math.hypot(...d) > 2)
  .map((d) => normalize(d));
const guide = fc.record({
  axis: direction,
  freedom: fc.constantFrom(0, 0, 0.07, Math.PI / 4, Math.PI / 3),
});

/** Directions all over the sphere (Fibonacci's lattice). */
const SPHERE: Vec3[] = Array.from({ length: 4000 }, (_, i) => {
  const z = 1 - (2 * i + 1) / 4000;
  const a = i * Math.PI * (3 - Math.sqrt(5));
  const r = Math.sqrt(1 - z * z);
  return [r * Math.cos(a), r * Math.sin(a), z];
});

const allowed = (way: Vec3, normals: readonly Vec3[], guides: readonly Guide[], ease: number): boolean =>
  normals.every((n) => Math.asin(Math.max(-1, Math.min(1, dot(way, n)))) >= -ease) &&
  guides.every((g) => excessOf(way, g) <= ease);

describe('the way out', () => {
  it('goes against no face and within every joint’s freedom; where any direction does with ease, one is found', () => {
    fc.assert(
      fc.property(
        fc.array(direction, { minLength: 1, maxLength: 4 }),
        fc.array(guide, { maxLength: 3 }),
        (normals, guides) => {
          const way = wayOut(normals, guides);
          if (way) {
            expect(Math.hypot(...way)).toBeCloseTo(1, 9);
            expect(allowed(way, normals, guides, 2e-6)).toBe(true);
          } else {
            expect(SPHERE.some((d) => allowed(d, normals, guides, -0.06))).toBe(false);
          }
        },
      ),
      { numRuns: runs(400) },
    );
  });

  it('of straight joints is their common axis, and there is none when they differ', () => {
    const up: Guide = { axis: [0, 0, 1], freedom: 0 };
    expect(wayOut([[0, 0, 1]], [up, up])).toEqual([0, 0, 1]);
    const off: Guide = { axis: normalize([0.1, 0, 1]), freedom: 0 };
    expect(wayOut([[0, 0, 1]], [up, off])).toBeNull();
    expect(wayOut([[0, 0, 1]], [up, { ...off, freedom: 0.2 }])).toEqual([0, 0, 1]);
    // another face closes the way along which the joint would go
    expect(wayOut([[0, 0, 1], normalize([1, 0, -1])], [up])).toBeNull();
    expect(wayOut([[0, 0, 1], normalize([1, 0, -1])], [])).not.toBeNull();
  });
});

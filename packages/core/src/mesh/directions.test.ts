import { describe, expect, it } from 'vitest';
import { sphereDirections } from './directions.ts';
import { dot } from './vec.ts';

describe('directions over the sphere', () => {
  it('are of length one, and no place of the sphere is far from all of them', () => {
    const all = sphereDirections(200);
    for (const d of all) expect(Math.hypot(...d)).toBeCloseTo(1, 12);
    // 200 caps of this angle would cover the sphere more than twice
    const near = Math.cos((12 * Math.PI) / 180);
    for (const d of sphereDirections(1000)) expect(Math.max(...all.map((x) => dot(x, d)))).toBeGreaterThan(near);
  });

  it('begin with those of the upper half', () => {
    const heights = sphereDirections(80).map((d) => d[2]);
    expect(heights.slice(0, 40).every((z) => z > 0)).toBe(true);
    expect(heights.slice(40).every((z) => z < 0)).toBe(true);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newellNormal } from './newell.ts';

describe('the normal of a polygon', () => {
  it('is square to it and as long as twice its area, wherever it is, concave or not', () => {
    const whole = fc.integer({ min: -1000, max: 1000 });
    fc.assert(
      fc.property(whole, whole, whole, fc.integer({ min: 3, max: 40 }), (x, y, z, n) => {
        // a star in the plane z, every second corner drawn in
        const corners = Array.from({ length: 2 * n }, (_, i) => {
          const [a, r] = [(i / (2 * n)) * 2 * Math.PI, i % 2 === 0 ? 10 : 6];
          return [x * 1000 + r * Math.cos(a), y * 1000 + r * Math.sin(a), z];
        });
        const [u, v, w] = newellNormal(corners.length, (i, axis) => corners[i][axis]);
        expect(Math.hypot(u, v)).toBeLessThan(1e-6);
        // 2 n triangles with sides of 10 and 6 about the middle
        expect(w).toBeCloseTo(2 * n * 60 * Math.sin(Math.PI / n), 3);
        const [, , back] = newellNormal(corners.length, (i, axis) => corners[corners.length - 1 - i][axis]);
        expect(back).toBeCloseTo(-w, 3);
      }),
    );
  });
});

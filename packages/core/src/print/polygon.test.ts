import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../testing/runs.ts';
import { depthInside, hull2, type Polygon } from '../mesh/index.ts';
import { narrowest, sharpest, turnToFit } from './polygon.ts';

const coordinate = fc.integer({ min: -100, max: 100 });
const points = fc.array(fc.tuple(coordinate, coordinate), { minLength: 3, maxLength: 400 });
const polygon = (...corners: readonly (readonly [number, number])[]): Polygon => Float64Array.from(corners.flat());
const turned = (p: Polygon, angle: number): Polygon =>
  p.map((_, i) => {
    const k = i - (i % 2);
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    return i % 2 === 0 ? p[k] * c - p[k + 1] * s : p[k] * s + p[k + 1] * c;
  });
const rectangle = (w: number, h: number): Polygon => polygon([0, 0], [w, 0], [w, h], [0, h]);

describe('the hull of points', () => {
  it('holds them all, has only them as corners, and turns left at each', () => {
    fc.assert(
      fc.property(points, (list) => {
        const hull = hull2(list.flat());
        if (hull.length < 6) return;
        const known = new Set(list.map((p) => p.join()));
        const n = hull.length / 2;
        for (let i = 0; i < n; i++) {
          expect(known.has([hull[2 * i], hull[2 * i + 1]].join())).toBe(true);
          const [a, b, c] = [i, (i + 1) % n, (i + 2) % n].map((k) => [hull[2 * k], hull[2 * k + 1]]);
          expect((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0])).toBeGreaterThan(0);
        }
        for (const [x, y] of list) expect(depthInside(hull, x, y)).toBeGreaterThan(-1e-9);
      }),
      { numRuns: runs(60) },
    );
  });

  it('is nothing for points in a line, and has no inside there', () => {
    const line = hull2([0, 0, 1, 1, 2, 2, 5, 5]);
    expect(line.length).toBeLessThan(6);
    expect(depthInside(line, 1, 1)).toBe(-Infinity);
  });

  it('tells how deep a place lies inside, and how far outside', () => {
    const p = rectangle(40, 20);
    expect(depthInside(p, 20, 10)).toBeCloseTo(10, 12);
    expect(depthInside(p, 3, 10)).toBeCloseTo(3, 12);
    expect(depthInside(p, 20, 26)).toBeCloseTo(-6, 12);
  });
});

describe('what is asked of a hull', () => {
  const angle = fc.double({ min: -3, max: 3, noNaN: true });

  it('its sharpest corner and its narrowest width do not depend on how it lies', () => {
    fc.assert(
      fc.property(angle, fc.integer({ min: 5, max: 80 }), (turn, base) => {
        const wedge = polygon([0, 0], [100, -base / 2], [100, base / 2]);
        const tip = 2 * Math.atan(base / 200);
        const sharp = Math.min(tip, (Math.PI - tip) / 2);
        expect(sharpest(turned(wedge, turn))).toBeCloseTo(sharp, 9);
        const bar = turned(rectangle(100, base), turn);
        const { width, long } = narrowest(hull2(bar));
        expect(width).toBeCloseTo(Math.min(100, base), 6);
        expect(long).toBeCloseTo(Math.max(100, base), 6);
        expect(sharpest(bar)).toBeCloseTo(Math.PI / 2, 9);
      }),
      { numRuns: runs(60) },
    );
    expect(sharpest(polygon())).toBe(Math.PI);
    expect(sharpest(polygon([0, 0], [1, 0]))).toBe(Math.PI);
  });

  it('it is turned so that it fits a room where that can be done, and told by how much it cannot', () => {
    fc.assert(
      fc.property(angle, (turn) => {
        const bar = turned(rectangle(200, 30), turn);
        const { spin, over } = turnToFit(hull2(bar), 210, 40);
        expect(Math.max(...over)).toBeLessThanOrEqual(0);
        const lying = turned(bar, spin);
        const side = (k: number): number => {
          const along = [...lying].filter((_, i) => i % 2 === k);
          return Math.max(...along) - Math.min(...along);
        };
        expect(side(0)).toBeLessThanOrEqual(210 + 1e-6);
        expect(side(1)).toBeLessThanOrEqual(40 + 1e-6);
        const tight = turnToFit(hull2(bar), 190, 40);
        expect(Math.max(...tight.over)).toBeGreaterThan(0);
      }),
      { numRuns: runs(60) },
    );
  });
});

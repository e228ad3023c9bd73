import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { dot, sub, topology, type Vec3, volume } from '../mesh/index.ts';
import { boreSolid, routeThrough } from './route.ts';

const corner: Vec3[] = [
  [0, 0, 0],
  [100, 0, 0],
  [100, 80, 0],
];

describe('a route', () => {
  it('rounds its corners: straight, an arc of the radius, straight', () => {
    const { line, length } = routeThrough(corner, 20);
    expect(length).toBeCloseTo(80 + 60 + 10 * Math.PI, 1);
    expect(line[1].at).toEqual([80, 0, 0]);
    expect(line.at(-2)!.at.map((x) => Math.round(x * 1e9) / 1e9)).toEqual([100, 20, 0]);
    // all of the arc is as far from its middle as its radius
    for (const { at } of line.slice(1, -1)) expect(Math.hypot(...sub(at, [80, 20, 0]))).toBeCloseTo(20, 9);
  });

  it('turns smoothly, starts and ends where it is told to, and is as long when it is run the other way', () => {
    const whole = fc.integer({ min: -100, max: 100 });
    const places = fc.array(fc.tuple(whole, whole, whole), { minLength: 2, maxLength: 5 });
    fc.assert(
      fc.property(places, fc.integer({ min: 0, max: 12 }), (points, radius) => {
        let route: ReturnType<typeof routeThrough>;
        try {
          route = routeThrough(points, radius);
        } catch {
          fc.pre(false);
          throw new Error('unreached');
        }
        const { line, length } = route;
        expect(line[0].at).toEqual(points[0]);
        expect(line.at(-1)!.at).toEqual(points.at(-1));
        for (const { way } of line) expect(Math.hypot(...way)).toBeCloseTo(1, 9);
        const turns = line.slice(1).map(({ way }, i) => dot(way, line[i].way));
        if (radius > 0) expect(Math.min(...turns)).toBeGreaterThan(0.85);
        // never longer than from corner to corner
        const corners = points.slice(1).reduce((sum, p, i) => sum + Math.hypot(...sub(p, points[i])), 0);
        expect(length).toBeLessThan(corners + 1e-6);
        expect(routeThrough(points.toReversed(), radius).length).toBeCloseTo(length, 6);
      }),
      { numRuns: runs(200) },
    );
  });

  it('leaves out places that are given twice, and needs two that differ', () => {
    expect(routeThrough([corner[0], corner[0], corner[1]], 5).line).toHaveLength(2);
    expect(() => routeThrough([corner[0], corner[0]], 5)).toThrow(/not the same/);
    expect(() => routeThrough(corner, 90)).toThrow(
      /Between place 2 and place 3 the bends take 90 mm, and there are 80 mm/,
    );
  });
});

describe('what a bore takes', () => {
  it('is a closed rod of its diameter that goes on beyond both ends, or stops at a blind one', () => {
    const straight = routeThrough([corner[0], corner[1]], 0);
    const rod = boreSolid(kernel, straight, 10, { mouth: 0, blind: false });
    expect(topology(rod).watertight).toBe(true);
    expect(volume(rod) / (Math.PI * 25 * 120)).toBeCloseTo(1, 2);
    expect(volume(boreSolid(kernel, straight, 10, { mouth: 0, blind: true })) / (Math.PI * 25 * 110)).toBeCloseTo(1, 2);
  });

  it('is one closed solid when it crosses itself', () => {
    const loop = routeThrough(
      [
        [0, 0, 0],
        [60, 0, 0],
        [60, 40, 0],
        [30, 40, 0],
        [30, -40, 0],
      ],
      8,
    );
    const rod = boreSolid(kernel, loop, 6, { mouth: 0.5, blind: false });
    expect(topology(rod).watertight).toBe(true);
    // what two stretches have in common is counted once
    expect(volume(rod)).toBeLessThan(Math.PI * 9 * (loop.length + 13) * 1.3);
  });
});

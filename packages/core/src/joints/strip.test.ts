import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
// lines beside an edge are the kernel's work
import '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import type { FlatRegion } from '../cut/index.ts';
import { loopArea, loopLength, nearestOnLoop } from '../mesh/index.ts';
import { lapLine } from './kinds/lap/line.ts';
import { endsOf, stripOf, waysAlong } from './strip.ts';

const region = (outer2: Float64Array, ...holes2: Float64Array[]): FlatRegion => ({
  outer2,
  holes2,
  area: [outer2, ...holes2].reduce((sum, l) => sum + loopArea(l), 0),
});

/** A strip along an arc: thickness, radius of its middle, angle it spans, begun anywhere along its outline. */
function arcStrip(thickness: number, radius: number, angle: number, shift: number): FlatRegion {
  const n = Math.max(8, Math.ceil((radius * angle) / 3));
  const at = (r: number, i: number): [number, number] => [r * Math.cos((angle * i) / n), r * Math.sin((angle * i) / n)];
  const outer = Array.from({ length: n + 1 }, (_, i) => at(radius + thickness / 2, i));
  const inner = Array.from({ length: n + 1 }, (_, i) => at(radius - thickness / 2, n - i));
  const points = [...outer, ...inner];
  const start = shift % points.length;
  return region(Float64Array.from([...points.slice(start), ...points.slice(0, start)].flat()));
}

const strips = fc
  .tuple(
    fc.integer({ min: 15, max: 40 }),
    fc.integer({ min: 30, max: 120 }),
    fc.integer({ min: 6, max: 50 }),
    fc.nat(100),
  )
  .map(([t, radius, a, shift]) => ({ thickness: t / 10, radius, angle: a / 10, shift }))
  .filter((s) => s.angle < 5.6 && s.radius * s.angle > 20 * s.thickness);

/** The place at a way along a loop. */
function placeAt(l: Float64Array, way: number): [number, number] {
  const along = waysAlong(l);
  const i = along.findIndex((a, k) => a <= way && along[k + 1] > way);
  const k = ((i + 1) % (l.length / 2)) * 2;
  const s = (way - along[i]) / (along[i + 1] - along[i]);
  return [l[i * 2] + (l[k] - l[i * 2]) * s, l[i * 2 + 1] + (l[k + 1] - l[i * 2 + 1]) * s];
}

describe('a strip', () => {
  it('has the thickness and length it was made with, and its ends where it was ended', () => {
    fc.assert(
      fc.property(strips, ({ thickness, radius, angle, shift }) => {
        const r = arcStrip(thickness, radius, angle, shift);
        const found = stripOf(r);
        expect(found.thickness / thickness).toBeCloseTo(1, 1);
        expect(found.length / (radius * angle)).toBeCloseTo(1, 1);
        const ends = endsOf(r)!;
        for (const end of ends) {
          const [u, v] = placeAt(r.outer2, end);
          const off = Math.atan2(v, u);
          const turned = off < -0.2 ? off + 2 * Math.PI : off;
          expect(Math.min(Math.abs(turned), Math.abs(turned - angle))).toBeLessThan(1e-6);
          expect(Math.abs(Math.hypot(u, v) - radius)).toBeLessThan(0.1 * thickness);
        }
        expect(Math.abs(ends[1] - ends[0])).toBeGreaterThan(0.3 * loopLength(r.outer2));
      }),
    );
  });

  it('round a corner still has two ends; a ring and a blob have none', () => {
    const corner = region(Float64Array.of(0, 0, 60, 0, 60, 3, 3, 3, 3, 50, 0, 50));
    expect(endsOf(corner)!.map((e) => placeAt(corner.outer2, e))).toEqual([
      [60, expect.closeTo(1.5, 9)],
      [expect.closeTo(1.5, 9), 50],
    ]);
    expect(endsOf(region(Float64Array.of(0, 0, 30, 0, 30, 30, 0, 30)))).toBeNull();
  });
});

describe('the line of a lap', () => {
  const sizes = { lip: 0.8, depth: 3, edge: 'inside' as const, setback: 2 };

  it('keeps as far from the wall’s edge as the lip is thick, on the side that was asked for, and from the ends', () => {
    fc.assert(
      fc.property(strips, fc.boolean(), ({ thickness, radius, angle, shift }, outside) => {
        const r = arcStrip(Math.max(2.2, thickness), radius, angle, shift);
        const line = lapLine(r, [0, 0], { ...sizes, edge: outside ? 'outside' : 'inside' }, 0.2);
        if (typeof line === 'string') throw new Error(line);
        const half = Math.max(2.2, thickness) / 2;
        for (const [side, by] of [
          [line.lip, 0.8],
          [line.rebate, 1],
        ] as const) {
          for (const [u, v] of side.step) {
            const depth = outside ? radius + half - Math.hypot(u, v) : Math.hypot(u, v) - (radius - half);
            // a polygon's middle lies inside the arc by its sagitta
            expect(Math.abs(depth - by)).toBeLessThan(0.06);
            expect(nearestOnLoop(r.outer2, u, v).distance).toBeCloseTo(by, 2);
          }
          const [first, last] = [side.step[0], side.step[side.step.length - 1]];
          for (const [u, v] of [first, last]) {
            const a = Math.atan2(v, u) < -0.2 ? Math.atan2(v, u) + 2 * Math.PI : Math.atan2(v, u);
            expect(Math.min(a, angle - a) * radius).toBeGreaterThan(0.9 * sizes.setback);
          }
        }
        expect(line.closed).toBe(false);
        expect(line.turns).toBe(false);
      }),
      { numRuns: runs(60) },
    );
  });

  it('goes round a closed wall, and turns in itself only when that is a circle', () => {
    const circle = (r: number, back: boolean, squash = 1) =>
      Float64Array.from({ length: 240 }, (_, k) => {
        const a = ((back ? -1 : 1) * Math.floor(k / 2) * 2 * Math.PI) / 120;
        return k % 2 === 0 ? r * Math.cos(a) : squash * r * Math.sin(a);
      });
    const round = lapLine(region(circle(40, false), circle(37, true)), [38, 0], sizes, 0.2);
    const oval = lapLine(region(circle(40, false, 0.8), circle(37, true, 0.8)), [38, 0], sizes, 0.2);
    for (const line of [round, oval]) expect(line).toMatchObject({ closed: true, loop: 1 });
    expect([round, oval].map((l) => typeof l === 'object' && l.turns)).toEqual([true, false]);
    expect(lapLine(region(circle(40, false)), [0, 0], sizes, 0.2)).toMatch(/this face is none/);
    expect(lapLine(arcStrip(2, 30, 0.27, 0), [0, 0], sizes, 0.2)).toMatch(/too short|not two ends/);
  });
});

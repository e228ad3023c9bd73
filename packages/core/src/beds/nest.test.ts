import { Clipper, FillRule, type PathsD } from 'clipper2-ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blob, torus } from '../../testing/shapes.ts';
import { SOLIDS } from '../../testing/solids.ts';
import { type NestItem, type NestRoom, nest } from './nest.ts';
import { boxOfShadow, grown, placed, type Shadow, shadowArea, shadowOf } from './outline.ts';

const paths = (shadow: Shadow): PathsD =>
  shadow.map((l) => Array.from({ length: l.length / 2 }, (_, i) => ({ x: l[2 * i], y: l[2 * i + 1] })));
const polygon = (...points: readonly [number, number][]): Shadow => [Float64Array.from(points.flat())];
const rectangle = (w: number, h: number): Shadow => polygon([0, 0], [w, 0], [w, h], [0, h]);
const item = (id: string, shadow: Shadow, like = id): NestItem => ({ id, like, shadow, hours: 1, height: 10 });
const room = (more: Partial<NestRoom> = {}): NestRoom => ({
  width: 216,
  depth: 216,
  spacing: 4,
  brim: 0,
  keepOut: [],
  ...more,
});

/** What a 2D library says of a nesting: nothing nearer than the spacing (less rounding), nothing outside. */
function judge(items: readonly NestItem[], r: NestRoom, found: ReturnType<typeof nest>): void {
  const by = new Map(items.map((i) => [i.id, i]));
  expect([...found.placements.map((p) => p.id), ...found.left].sort()).toEqual([...by.keys()].sort());
  for (let bed = 0; bed < found.beds; bed++) {
    const on = found.placements.filter((p) => p.bed === bed);
    const lying = on.map((p) => placed(by.get(p.id)!.shadow, p.x, p.y, p.spin));
    lying.forEach((a, i) => {
      const { min, max } = boxOfShadow(a);
      expect(Math.min(...min) - r.brim).toBeGreaterThan(-0.07);
      expect(max[0] + r.brim).toBeLessThan(r.width + 0.07);
      expect(max[1] + r.brim).toBeLessThan(r.depth + 0.07);
      // half of the spacing round each, less the share of a cell that rounding may take
      const near = grown(a, r.brim + r.spacing / 2 - 0.07);
      for (const b of lying.slice(i + 1)) {
        const common = Clipper.intersectD(
          paths(near),
          paths(grown(b, r.brim + r.spacing / 2 - 0.07)),
          FillRule.NonZero,
          4,
        );
        expect(Math.abs(Clipper.areaD(common[0] ?? []))).toBeLessThan(1e-3);
      }
      for (const { at, size } of r.keepOut) {
        const box = [
          [at[0], at[1]],
          [at[0] + size[0], at[1]],
          [at[0] + size[0], at[1] + size[1]],
          [at[0], at[1] + size[1]],
        ].map(([x, y]) => ({ x, y }));
        const common = Clipper.intersectD(paths(a), [box], FillRule.NonZero, 4);
        expect(Math.abs(Clipper.areaD(common[0] ?? []))).toBeLessThan(0.1);
      }
    });
  }
}

describe('the shadow of a piece', () => {
  it('is what its triangles cover from above, united by another way', () => {
    for (const mesh of [
      SOLIDS.sphere(20),
      SOLIDS.tee(),
      SOLIDS.table(),
      SOLIDS.tube(20, 12, 10),
      torus(40, 48, 24, () => 9),
      blob(30, 20, 60, (a) => 20 + 6 * Math.sin(3 * a)),
    ]) {
      const { positions: p, triangles: t } = mesh;
      const all: PathsD = [];
      for (let i = 0; i < t.length; i += 3) {
        const path = [0, 1, 2].map((k) => ({ x: p[3 * t[i + k]], y: p[3 * t[i + k] + 1] }));
        if (Clipper.areaD(path) > 1e-9) all.push(path);
      }
      const whole = Clipper.unionD(all, [], FillRule.NonZero, 4).reduce((s, path) => s + Clipper.areaD(path), 0);
      expect(Math.abs(shadowArea(shadowOf(mesh)) / whole - 1)).toBeLessThan(1e-3);
    }
  });

  it('keeps the hole of a ring', () => {
    const ring = shadowOf(SOLIDS.tube(20, 12, 10));
    expect(ring).toHaveLength(2);
    expect(Math.abs(shadowArea(ring) / (Math.PI * (400 - 144)) - 1)).toBeLessThan(1e-3);
  });
});

describe('nesting', () => {
  it('takes what just fills the room, and says what is too large', () => {
    const items = [
      item('full', rectangle(216, 216)),
      item('wide', rectangle(217, 120)),
      item('long', rectangle(10, 305)),
    ];
    const found = nest(items, room());
    judge(items, room(), found);
    expect(found).toMatchObject({ beds: 1, left: ['wide', 'long'] });
    // turned by 45° it fits
    expect(nest([item('narrow', rectangle(217, 20))], room()).left).toEqual([]);
  });

  it('lays a long rod across, and small things into the hole of a ring', () => {
    const ring: Shadow = [
      Float64Array.from(
        Array.from({ length: 72 }, (_, i) => [100 * Math.cos(i / 11.459), 100 * Math.sin(i / 11.459)]).flat(),
      ),
      Float64Array.from(
        Array.from({ length: 72 }, (_, i) => [80 * Math.cos(-i / 11.459), 80 * Math.sin(-i / 11.459)]).flat(),
      ),
    ];
    const items = [item('ring', ring), item('block', rectangle(100, 90)), item('rod', rectangle(290, 6))];
    const found = nest(items, room());
    judge(items, room(), found);
    expect(found.left).toEqual([]);
    const bedOf = (id: string) => found.placements.find((p) => p.id === id)!.bed;
    expect(bedOf('block')).toBe(bedOf('ring'));
  });

  it('nothing lies over anything else or beyond the bed, whatever the shapes, spacing, brim and keep-out boxes', () => {
    const shape = fc
      .array(fc.tuple(fc.integer({ min: 5, max: 90 }), fc.integer({ min: 5, max: 90 })), { minLength: 1, maxLength: 3 })
      .map(
        // crosses, Ls and rectangles: boxes with a common corner region
        (boxes) => {
          const all = Clipper.unionD(
            boxes.map(([w, h]) => paths(rectangle(w, h))[0]),
            [],
            FillRule.NonZero,
            4,
          );
          return all.map((path) => Float64Array.from(path.flatMap(({ x, y }) => [x, y]))) as Shadow;
        },
      );
    fc.assert(
      fc.property(
        fc.array(shape, { minLength: 1, maxLength: 12 }),
        fc.integer({ min: 0, max: 8 }),
        fc.integer({ min: 0, max: 3 }),
        fc.boolean(),
        (shapes, spacing, brim, blocked) => {
          const r = room({
            width: 150.5,
            depth: 120,
            spacing,
            brim,
            keepOut: blocked ? [{ at: [0, 0], size: [30.3, 18] }] : [],
          });
          const items = shapes.map((s, i) => item(`p${i}`, s));
          const found = nest(items, r);
          judge(items, r, found);
          expect(nest(items, r)).toEqual(found);
        },
      ),
      { numRuns: 10 },
    );
  });

  it('goes on with a bed that was begun, round what is fixed there', () => {
    const fixed = [{ shadow: placed(rectangle(216, 100), 0, 58, 0), hours: 1, height: 10 }];
    const items = ['a', 'b', 'c'].map((id) => item(id, rectangle(100, 50), 'like'));
    const found = nest(items, room(), [fixed]);
    expect(found.beds).toBe(1);
    for (const p of found.placements) {
      const { min, max } = boxOfShadow(placed(rectangle(100, 50), p.x, p.y, p.spin));
      expect(max[1] < 54.1 || min[1] > 161.9).toBe(true);
    }
  });

  it('keeps to what may be on a bed together', () => {
    const items = Array.from({ length: 6 }, (_, i) => item(`p${i}`, rectangle(20, 20), 'like'));
    const found = nest(items, room({ together: (hours) => hours.length <= 2 }));
    expect(found.beds).toBe(3);
  });

  it('a spacing wider than the bed leaves one on each', () => {
    const items = [item('a', rectangle(20, 20)), item('b', rectangle(20, 20))];
    const found = nest(items, room({ spacing: 400 }));
    expect([found.beds, found.left]).toEqual([2, []]);
  });
});

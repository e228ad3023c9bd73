import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, torus } from '../../testing/shapes.ts';
import { SOLIDS } from '../../testing/solids.ts';
import { loopArea } from '../mesh/index.ts';
import { type NestItem, type NestRoom, nest } from './nest.ts';
import { boxOfShadow, placed, type Shadow, shadowArea, shadowOf } from './outline.ts';

/** A shadow as the kernel sees it, grown by so many mm. */
const section = (shadow: Shadow, by = 0) =>
  new kernel.CrossSection(
    shadow.map((l) => Array.from({ length: l.length / 2 }, (_, i): [number, number] => [l[2 * i], l[2 * i + 1]])),
    'NonZero',
  ).offset(by, 'Round', 2, 64);
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

/** What the kernel says of a nesting: nothing nearer than the spacing (less rounding), nothing outside. */
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
      const near = section(a, r.brim + r.spacing / 2 - 0.07);
      for (const b of lying.slice(i + 1)) {
        expect(near.intersect(section(b, r.brim + r.spacing / 2 - 0.07)).area()).toBeLessThan(1e-3);
      }
      for (const { at, size } of r.keepOut) {
        const kept = placed(rectangle(size[0], size[1]), at[0], at[1], 0);
        expect(section(a).intersect(section(kept)).area()).toBeLessThan(0.1);
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
      const all: [number, number][][] = [];
      for (let i = 0; i < t.length; i += 3) {
        const corners = [0, 1, 2].map((k): [number, number] => [p[3 * t[i + k]], p[3 * t[i + k] + 1]]);
        if (loopArea(Float64Array.from(corners.flat())) > 0) all.push(corners);
      }
      const whole = new kernel.CrossSection(all, 'Positive').area();
      expect(Math.abs(shadowArea(shadowOf(mesh)) / whole - 1)).toBeLessThan(1e-3);
    }
  });

  it('keeps the hole of a ring', () => {
    const ring = shadowOf(SOLIDS.tube(20, 12, 10));
    expect(ring).toHaveLength(2);
    expect(Math.abs(shadowArea(ring) / (Math.PI * (400 - 144)) - 1)).toBeLessThan(1e-3);
  });

  it('is there of a crumb, too, which has a place on the bed like everything else', () => {
    const crumb = shadowOf(box([3, 4, 0], [3.1, 4.2, 0.1]));
    expect(boxOfShadow(crumb)).toEqual({ min: [3, 4], max: [3.1, 4.2] });
    expect(shadowArea(crumb)).toBeCloseTo(0.02, 9);
    const items = [item('plate', rectangle(100, 100)), item('crumb', crumb)];
    for (const some of [items, items.slice(1)]) {
      const found = nest(some, room());
      judge(some, room(), found);
      expect(found.placements.every((p) => Number.isFinite(p.x) && Number.isFinite(p.y))).toBe(true);
      expect(found.left).toEqual([]);
    }
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
          const all = new kernel.CrossSection(
            boxes.map(([w, h]): [number, number][] => [
              [0, 0],
              [w, 0],
              [w, h],
              [0, h],
            ]),
          );
          return all.toPolygons().map((l) => Float64Array.from(l.flat())) as Shadow;
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
      { numRuns: runs(10) },
    );
  });

  it('ends, whatever nearly fills the bed, with keep-out boxes that overlap and leave it', () => {
    const side = fc.integer({ min: 90, max: 101 });
    const box = fc.record({
      at: fc.tuple(fc.integer({ min: -40, max: 110 }), fc.integer({ min: -40, max: 110 })),
      size: fc.tuple(fc.integer({ min: 1, max: 60 }), fc.integer({ min: 1, max: 60 })),
    });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(side, side, fc.integer({ min: 0, max: 7 })), { minLength: 1, maxLength: 6 }),
        fc.array(box, { maxLength: 3 }),
        fc.integer({ min: 0, max: 4 }),
        fc.integer({ min: 0, max: 2 }),
        (sizes, keepOut, spacing, brim) => {
          const r = room({ width: 100, depth: 100, spacing, brim, keepOut });
          const items = sizes.map(([w, h, turn], i) =>
            item(`p${i}`, placed(rectangle(w, h), 0, 0, (turn * Math.PI) / 4), `${w} ${h} ${turn}`),
          );
          const found = nest(items, r);
          judge(items, r, found);
          // each that is left really has no place on an empty bed, and no bed is empty
          for (const { id } of found.placements) expect(found.left).not.toContain(id);
          expect(new Set(found.placements.map((p) => p.bed)).size).toBe(found.beds);
        },
      ),
      { numRuns: runs(60) },
    );
  });

  it('a plate that fits beside what is kept free is laid, also where that reaches beyond the bed', () => {
    const found = nest([item('plate', rectangle(209.5, 192.5))], {
      ...room({ width: 210, depth: 210, spacing: 3, keepOut: [{ at: [-5, -5], size: [220, 20] }] }),
    });
    expect([found.placements.length, found.left]).toEqual([1, []]);
  });

  it('a plate that fits the bed only turned by 45° is laid', () => {
    const found = nest([item('plate', placed(rectangle(215.6, 215.6), 0, 0, Math.PI / 4))], room({ spacing: 4 }));
    expect(found.placements[0].spin % (Math.PI / 2)).toBeCloseTo(Math.PI / 4, 9);
    expect(found.beds).toBe(1);
  });

  it('a plate that fits by less than a cell, and one that fits at its own turn only, have a bed each', () => {
    const r = room({ width: 299.6, depth: 99.6, spacing: 3 });
    const turn = (13 * Math.PI) / 180;
    const items = [item('exact', rectangle(299.5, 99.5)), { ...item('slanted', rectangle(305, 10)), turn }];
    const found = nest(items, r);
    judge(items, r, found);
    expect(found).toMatchObject({ beds: 2, left: [] });
    expect(nest([item('slanted', rectangle(305, 10))], r).left).toEqual(['slanted']);
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

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, torus } from '../../testing/shapes.ts';
import { buildBlocks, loopArea, loopLength, nearestOnLoop, winding } from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';
import { atOffset, fromFrame, makeFrame } from './frame.ts';
import { profileAlong, slabBox } from './profile.ts';
import { inRegion, regionsOf, regionsOfLoops } from './regions.ts';
import { sectionAt } from './section.ts';

describe('makeFrame', () => {
  const part = fc.integer({ min: -20, max: 20 }).map((x) => x / 10);
  const direction = fc.tuple(part, part, part).filter((d) => Math.hypot(...d) > 0.05);

  it('is right-handed and of unit length, whatever is given as up', () => {
    fc.assert(
      fc.property(direction, fc.option(direction, { nil: undefined }), (n, up) => {
        const f = makeFrame([1, 2, 3], n, up);
        const dot = (a: readonly number[], b: readonly number[]) => a.reduce((s, x, i) => s + x * b[i], 0);
        for (const a of [f.u, f.v, f.normal]) expect(dot(a, a)).toBeCloseTo(1, 9);
        expect(dot(f.u, f.v)).toBeCloseTo(0, 9);
        expect(dot(f.u, f.normal)).toBeCloseTo(0, 9);
        const cross = [
          f.u[1] * f.v[2] - f.u[2] * f.v[1],
          f.u[2] * f.v[0] - f.u[0] * f.v[2],
          f.u[0] * f.v[1] - f.u[1] * f.v[0],
        ];
        expect(dot(cross, f.normal)).toBeCloseTo(1, 9);
        expect(dot(fromFrame(f, 4, 5), f.normal)).toBeCloseTo(f.offset, 9);
        expect(dot(atOffset(f, 7).origin, f.normal)).toBeCloseTo(7, 9);
      }),
    );
  });

  it('takes the axis least along the normal for up', () => {
    expect(makeFrame([0, 0, 0], [0, 0, 1]).v).toEqual([0, 1, 0]);
    expect(makeFrame([0, 0, 0], [0, 0, 1]).u).toEqual([1, 0, 0]);
    expect(makeFrame([0, 0, 0], [1, 0, 0]).v).toEqual([0, 0, 1]);
    expect(makeFrame([0, 0, 0], [0, -2, 0]).v).toEqual([0, 0, 1]);
  });
});

describe('polygons', () => {
  const square = Float64Array.of(0, 0, 4, 0, 4, 3, 0, 3);
  it('have area, length, inside and nearest point', () => {
    expect([loopArea(square), loopLength(square)]).toEqual([12, 14]);
    expect(loopArea(square.map((x) => x + 1e8))).toBe(12);
    expect([winding(square, 1, 1), winding(square, 5, 1)]).toEqual([1, 0]);
    expect(winding(Float64Array.of(0, 3, 4, 3, 4, 0, 0, 0), 1, 1)).toBe(-1);
    expect(nearestOnLoop(square, 1, -2)).toEqual({ distance: 2, x: 1, y: 0 });
  });
});

describe('sectionAt', () => {
  it('has the area the kernel’s slice has, with and without an index', () => {
    const mesh = blob(30, 34, 200, (a, z) => 60 + 9 * Math.cos(4 * a) + 8 * z);
    const blocks = buildBlocks(mesh);
    const solid = toKernel(kernel, mesh);
    fc.assert(
      fc.property(fc.double({ min: -95, max: 95, noNaN: true }), (z) => {
        const frame = makeFrame([0, 0, z], [0, 0, 1]);
        const { area, loops } = sectionAt(mesh, frame, blocks);
        expect(area).toBeCloseTo(sectionAt(mesh, frame).area, 6);
        expect(Math.abs(area - solid.slice(z).area())).toBeLessThan(0.02);
        expect(loops).toHaveLength(1);
      }),
      { numRuns: runs(40) },
    );
    solid.delete();
  });

  it('winds round solid, so that a hollow takes its area off', () => {
    const ring = torus(50, 120, 60, () => 20);
    const level = sectionAt(ring, makeFrame([0, 0, 0.3], [0, 0, 1]));
    expect(level.loops.map((l) => Math.sign(loopArea(l))).sort()).toEqual([-1, 1]);
    expect(level.area / (Math.PI * (70 ** 2 - 30 ** 2))).toBeCloseTo(1, 2);
    const upright = sectionAt(ring, makeFrame([0, 0, 0], [0, 1, 0]));
    expect(upright.loops).toHaveLength(2);
    expect(upright.area / (2 * Math.PI * 400)).toBeCloseTo(1, 2);
  });

  it('leaves out what does not close', () => {
    const lid = box([0, 0, 0], [10, 10, 10]);
    const open = { ...lid, triangles: lid.triangles.slice(0, -6), tags: lid.tags.slice(0, -2) };
    expect(sectionAt(open, makeFrame([0, 0, 5], [0, 0, 1])).loops).toHaveLength(0);
  });
});

describe('profileAlong', () => {
  const up = makeFrame([0, 0, 0], [0, 0, 1]);

  it('follows areas, perimeters and regions over the whole length, and more closely where they change', () => {
    const meshes = [box([0, 0, 0], [10, 10, 40]), box([20, 0, 20], [25, 10, 60])];
    const profile = profileAlong(meshes, up, 120);
    expect([profile.from, profile.to]).toEqual([0, 60]);
    profile.at.forEach((z, i) => {
      expect(profile.area[i]).toBeCloseTo((z < 40 ? 100 : 0) + (z > 20 ? 50 : 0), 9);
      expect(profile.perimeter[i]).toBeCloseTo((z < 40 ? 40 : 0) + (z > 20 ? 30 : 0), 9);
      expect(profile.regions[i]).toBe(z > 20 && z < 40 ? 2 : 1);
    });
    const gaps = [20, 40].map((z) => {
      const i = profile.at.findIndex((x) => x > z);
      return profile.at[i] - profile.at[i - 1];
    });
    for (const gap of gaps) expect(gap).toBeLessThan(60 / 120 / 4);
  });

  it('has the same areas as single sections, on a tilted direction and with hollows', () => {
    const mesh = torus(60, 48, 24, () => 20);
    const frame = makeFrame([3, 4, 5], [0.2, 0.9, 0.3]);
    const profile = profileAlong([mesh], frame, 60);
    for (let i = 0; i < profile.at.length; i += 7) {
      const single = sectionAt(mesh, atOffset(frame, profile.at[i]));
      expect(profile.area[i]).toBeCloseTo(single.area, 6);
      expect(profile.regions[i]).toBe(regionsOfLoops(single.loops).length);
    }
  });

  it('knows the box of what lies between two places', () => {
    const profile = profileAlong([box([0, 0, 0], [10, 10, 40]), box([20, 0, 20], [25, 10, 60])], up, 200);
    expect(slabBox(profile, -1, 100)).toEqual({ min: [0, 0, 0], max: [25, 10, 60] });
    const lower = slabBox(profile, 0, 19)!;
    expect([lower.min[0], lower.max[0]]).toEqual([0, 10]);
    expect(lower.max[2]).toBeGreaterThan(18.9);
    expect(lower.max[2]).toBeLessThan(19.5);
    expect(slabBox(profile, 70, 80)).toBeNull();
  });
});

describe('regionsOf', () => {
  it('gives holes to the smallest loop around them and islands in holes to nobody', () => {
    const ring = (r: number, clockwise: boolean, from: number) => ({
      ids: Uint32Array.from({ length: 24 }, (_, i) => from + (clockwise ? 23 - i : i)),
      points: Array.from({ length: 24 }, (_, i) => [
        r * Math.cos((i / 24) * 2 * Math.PI),
        r * Math.sin((i / 24) * 2 * Math.PI),
        0,
      ]),
    });
    const rings = [ring(40, false, 0), ring(30, true, 24), ring(20, false, 48), ring(10, true, 72)];
    const positions = Float64Array.from(rings.flatMap((r) => r.points.flat()));
    const cap = { seam: 's', side: -1 as const, loops: rings.map((r) => r.ids) };
    const regions = regionsOf({ positions }, cap, makeFrame([0, 0, 0], [0, 0, 1]));
    expect(regions.map((r) => [r.outer[0], r.holes.map((h) => Math.min(...h))])).toEqual([
      [48, [72]],
      [0, [24]],
    ]);
    expect([inRegion(regions[0], 15, 0), inRegion(regions[0], 5, 0), inRegion(regions[1], 35, 0)]).toEqual([
      true,
      false,
      true,
    ]);
  });
});

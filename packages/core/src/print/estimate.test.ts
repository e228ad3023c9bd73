import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { SOLIDS } from '../../testing/solids.ts';
import { makeFrame, sectionAt } from '../cut/index.ts';
import { printSettingOf } from '../document/index.ts';
import { boxOf, loopLength, volume } from '../mesh/index.ts';
import { amountsOf, estimateOf, learnedFactor } from './estimate.ts';
import { UPRIGHT } from './pose.ts';
import { printMesh } from './print-mesh.ts';
import { slicesOf } from './slices.ts';

const SETTING = {
  ...printSettingOf({ kind: 'filament', nozzle: 0.4 }),
  layer: 0.2,
  line: 0.5,
  walls: 2,
  top: 5,
  bottom: 5,
  infill: 0.2,
  wallSpeed: 50,
  fillSpeed: 100,
  flow: 8,
  layerSeconds: 3,
  density: 1.25,
  price: 20,
};

describe('slices', () => {
  it('of a sphere have the outline and area of its circles, and add up to its volume', () => {
    const mesh = SOLIDS.sphere(20);
    const { thickness, outline, area } = slicesOf(mesh, 40, 80);
    expect(thickness).toBe(0.5);
    for (const k of [8, 20, 40, 70]) {
      const z = (k + 0.5) * thickness - 20;
      const r = Math.sqrt(400 - z * z);
      expect(Math.abs(outline[k] / (2 * Math.PI * r) - 1)).toBeLessThan(0.002);
      expect(Math.abs(area[k] / (Math.PI * r * r) - 1)).toBeLessThan(0.002);
    }
    expect(Math.abs((area.reduce((a, b) => a + b) * thickness) / volume(mesh) - 1)).toBeLessThan(0.001);
  });

  it('agree with sections that are cut one by one, hollows and all', () => {
    for (const mesh of [SOLIDS.table(), SOLIDS.tube(15, 9, 30), SOLIDS.shelf()]) {
      const height = boxOf(mesh.positions).max[2];
      const { thickness, outline, area } = slicesOf(mesh, height, 18);
      for (let k = 0; k < 18; k++) {
        const section = sectionAt(mesh, makeFrame([0, 0, (k + 0.5) * thickness], [0, 0, 1]));
        const long = section.loops.reduce((sum, points) => sum + loopLength(points), 0);
        expect(area[k]).toBeCloseTo(section.area, 6);
        expect(outline[k]).toBeCloseTo(long, 6);
      }
    }
  });
});

describe('the estimate', () => {
  it('of a cube is what its layers come to by hand', () => {
    const cube = printMesh(kernel, SOLIDS.cube(20));
    // walls: 80 mm round, 1 mm wide, 20 mm tall; solid: 10 layers of 0.2 mm over the 80 % that are no wall
    const walls = 80 * 1 * 20;
    const solid = 10 * 0.2 * 400 * 0.8;
    const inside = 8000 - walls - solid;
    expect(amountsOf(cube, UPRIGHT, SETTING)).toMatchObject({
      height: 20,
      walls: expect.closeTo(walls, 6),
      solid: expect.closeTo(solid, 6),
      inside: expect.closeTo(inside, 6),
    });
    // 0.1 mm² of bead: 50 mm/s are 5 mm³/s, 100 mm/s would be 10 and are held at 8
    const seconds = walls / 5 + (solid + 0.2 * inside) / 8 + 100 * 3;
    const grams = ((walls + solid + 0.2 * inside) / 1000) * 1.25;
    expect(estimateOf(cube, UPRIGHT, 0, SETTING, 'filament')).toEqual({
      hours: expect.closeTo(seconds / 3600, 9),
      grams: expect.closeTo(grams, 9),
      cost: expect.closeTo((grams / 1000) * 20, 9),
      supportHours: 0,
      supportGrams: 0,
      layers: 100,
    });
  });

  it('of a tube with thin walls is all wall; support comes on top, and is told apart', () => {
    const tube = printMesh(kernel, SOLIDS.tube(15, 14, 30));
    const area = Math.PI * (15 * 15 - 14 * 14);
    const seconds = (area * 30) / 5 + 150 * 3;
    const held = 640 / 8;
    const e = estimateOf(tube, UPRIGHT, 640, SETTING, 'filament', 1.5);
    expect(e.hours / (((seconds + held) / 3600) * 1.5)).toBeCloseTo(1, 3);
    expect(e.supportHours).toBeCloseTo((held / 3600) * 1.5, 9);
    expect(e.grams / ((area * 0.03 + 0.64) * 1.25)).toBeCloseTo(1, 3);
    expect(e.supportGrams).toBeCloseTo(0.8, 9);
  });

  it('of a thick tube has its walls on both sides, and solid ends between them', () => {
    const tube = printMesh(kernel, SOLIDS.tube(30, 10, 40));
    const round = 2 * Math.PI * 40;
    const area = Math.PI * 800;
    const walls = round * 40;
    const solid = 2 * area * (1 - round / area);
    const a = amountsOf(tube, UPRIGHT, SETTING);
    expect(a.walls / walls).toBeCloseTo(1, 3);
    expect(a.solid / solid).toBeCloseTo(1, 3);
    expect(a.inside / (area * 40 - walls - solid)).toBeCloseTo(1, 3);
  });

  it('in resin depends on nothing but the height', () => {
    const s = { ...SETTING, layer: 0.05, exposure: 2, liftSeconds: 6, baseLayers: 4, baseExposure: 30 };
    const upright = estimateOf(printMesh(kernel, SOLIDS.tube(5, 4, 20)), UPRIGHT, 0, s, 'resin');
    expect(upright.hours).toBeCloseTo((400 * 6 + 4 * 30 + 396 * 2) / 3600, 9);
    const solid = estimateOf(printMesh(kernel, SOLIDS.cube(20)), UPRIGHT, 0, s, 'resin');
    expect(solid.hours).toBe(upright.hours);
    expect(solid.grams).toBeCloseTo(8 * s.density, 9);
  });

  it('walls, solid and inside make up the volume, whatever the pose', () => {
    const mesh = printMesh(kernel, SOLIDS.shelf());
    const n = fc.integer({ min: -7, max: 7 });
    fc.assert(
      fc.property(fc.tuple(n, n, fc.integer({ min: 1, max: 7 })), (up) => {
        const a = amountsOf(mesh, { up, spin: 0 }, SETTING);
        expect(Math.abs((a.walls + a.solid + a.inside) / mesh.volume - 1)).toBeLessThan(0.01);
        expect(Math.min(a.walls, a.solid, a.inside)).toBeGreaterThanOrEqual(0);
      }),
      { numRuns: runs(40) },
    );
  });
});

describe('what is learned from prints', () => {
  const today = new Date('2026-06-01');
  const print = (date: string, ratio: number) => ({ date, hours: 2 * ratio, estimate: 2 });

  it('is the median of real over estimated hours, with its count', () => {
    expect(learnedFactor([], today)).toEqual({ factor: 1, count: 0 });
    const three = [print('2026-05-01', 1.3), print('2026-04-01', 0.9), print('2026-03-01', 1.1)];
    expect(learnedFactor(three, today)).toEqual({ factor: expect.closeTo(1.1, 9), count: 3 });
    expect(learnedFactor([...three, print('2026-05-09', 1.2)], today).factor).toBeCloseTo(1.15, 9);
  });

  it('old prints fade', () => {
    const old = ['2021-01-01', '2021-02-01', '2021-03-01'].map((d) => print(d, 2));
    expect(learnedFactor([...old, print('2026-05-01', 1.1)], today).factor).toBeCloseTo(1.1, 9);
    expect(learnedFactor(old, today).factor).toBeCloseTo(2, 9);
    expect(learnedFactor([{ date: '2026-05-01', hours: 0, estimate: 2 }], today).count).toBe(0);
  });
});

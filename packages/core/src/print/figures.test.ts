import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel, meshOfSolid } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { SOLIDS } from '../../testing/solids.ts';
import { type IndexedMesh, mapped, mapVector, turning, type Vec3, volume } from '../mesh/index.ts';
import { radians } from '../units.ts';
import { columnsOf, columnsVolume } from './columns.ts';
import { measurePose, type PrintRule } from './figures.ts';
import { layDown, type Pose, UPRIGHT } from './pose.ts';
import { printMesh } from './print-mesh.ts';

const RULE: PrintRule = { room: [216, 216, 248], overhang: radians(45), layer: 0.2, density: 0.2, kind: 'filament' };

const measured = (mesh: IndexedMesh, pose: Pose = UPRIGHT, rule = RULE) =>
  measurePose(printMesh(kernel, mesh), pose, rule, 0.5, true);

/** Within two in a hundred. */
const near = (value: number, wanted: number) => {
  expect(Math.abs(value - wanted)).toBeLessThanOrEqual(0.02 * wanted + 1e-6);
};

describe('the raster of columns', () => {
  it.each(Object.keys(SOLIDS) as (keyof typeof SOLIDS)[])('holds the volume of a %s, every column closed', (name) => {
    const mesh = (SOLIDS[name] as (a: number, b: number, c: number) => IndexedMesh)(20, 12, 30);
    const raster = columnsOf(mesh, 0.4);
    near(columnsVolume(raster), volume(mesh));
    // in and out by turns, and out at last
    const open = Array.from({ length: raster.nx * raster.ny }, (_, c) => c).filter((c) => {
      let depth = 0;
      for (let i = raster.first[c]; i < raster.first[c + 1]; i++) {
        depth += raster.out[i] ? -1 : 1;
        if (depth !== 0 && depth !== 1) return true;
      }
      return depth !== 0;
    });
    expect(open).toEqual([]);
  });

  it('meets every edge once, wherever the mesh lies on the grid', () => {
    const mesh = SOLIDS.sphere(15);
    const direction = fc.tuple(
      fc.integer({ min: -9, max: 9 }),
      fc.integer({ min: -9, max: 9 }),
      fc.integer({ min: 1, max: 9 }),
    );
    fc.assert(
      fc.property(direction, fc.integer({ min: 3, max: 12 }), (up, tenths) => {
        const laid = layDown(mesh.positions, { up, spin: tenths });
        near(columnsVolume(columnsOf({ ...mesh, positions: laid.positions }, tenths / 10)), volume(mesh));
      }),
      { numRuns: runs(30) },
    );
  });
});

describe('the figures of a pose', () => {
  it('a T stands on its post and needs support under both arms', () => {
    const { figures: f } = measured(SOLIDS.tee());
    near(f.restArea, 100);
    near(f.overhangArea, 400);
    near(f.columnVolume, 400 * 30);
    near(f.supportVolume, 400 * 30 * RULE.density);
    expect([f.height, f.onPiece, f.locked]).toEqual([40, 0, 0]);
    near(f.footprint, 500);
  });

  it('a T on its head needs none', () => {
    const { figures: f } = measured(SOLIDS.tee(), { up: [0, 0, -1], spin: 0 });
    near(f.restArea, 500);
    expect([f.overhangArea, f.columnVolume]).toEqual([0, 0]);
    near(f.stand, 5);
  });

  it('a bridge is supported under its deck, a table under its top', () => {
    const bridge = measured(SOLIDS.bridge()).figures;
    near(bridge.restArea, 400);
    near(bridge.overhangArea, 40 * 20);
    near(bridge.columnVolume, 40 * 20 * 25);
    const table = measured(SOLIDS.table()).figures;
    near(table.restArea, 4 * 36);
    near(table.overhangArea, 60 * 40 - 4 * 36);
    near(table.columnVolume, (60 * 40 - 4 * 36) * 36);
    expect(table.stand).toBeGreaterThan(19);
  });

  it('a shelf carries its support on the foot below, where a hand can reach it', () => {
    const { figures: f, supports } = measured(SOLIDS.shelf());
    near(f.overhangArea, 30 * 20);
    near(f.columnVolume, 30 * 20 * 15);
    expect([f.onPiece, f.locked]).toEqual([1, 0]);
    near(supports.footing[0], 600);
  });

  it('support in a closed hollow cannot be taken out', () => {
    const hollow = kernel.Manifold.cube([30, 30, 30]).subtract(kernel.Manifold.cube([20, 20, 20]).translate([5, 5, 5]));
    const { figures: f } = measured(meshOfSolid(hollow));
    near(f.columnVolume, 20 * 20 * 20);
    expect([f.onPiece, f.locked]).toEqual([1, 1]);
  });

  it('a cone on its point overhangs only when it is wider than the limit allows', () => {
    // leaning 39.8° from upright, then 50.2°
    expect(measured(SOLIDS.cone(25, 30)).figures.overhangArea).toBe(0);
    const { figures: f } = measured(SOLIDS.cone(30, 25));
    near(f.overhangArea, Math.PI * 30 * Math.hypot(30, 25));
    near(f.columnVolume, (Math.PI * 30 * 30 * 25 * 2) / 3);
    near(f.restArea, Math.PI * (0.1 * (30 / 25)) ** 2);
    expect(f.stand).toBeLessThan(2);
  });

  it('a sphere rests on the disc within half a layer, and hangs over below 45°', () => {
    const radius = 20;
    const { figures: f } = measured(SOLIDS.sphere(radius));
    const rest = 2 * radius * 0.1 - 0.01;
    near(f.restArea, Math.PI * rest);
    // the cap below 45° less the one that rests; areas of caps are 2 π r h
    const cap = radius * (1 - Math.SQRT1_2);
    near(f.overhangArea, 2 * Math.PI * radius * (cap - 0.1));
    // a cylinder round that cap, less the cap itself and the disc that rests
    const wide = radius * Math.SQRT1_2;
    near(f.columnVolume, Math.PI * wide * wide * cap - ((Math.PI * cap * cap) / 3) * (3 * radius - cap));
  });

  it('do not change when model and pose are turned together', () => {
    const mesh = SOLIDS.shelf();
    const turn = fc.tuple(
      fc.integer({ min: -5, max: 5 }),
      fc.integer({ min: -5, max: 5 }),
      fc.integer({ min: 1, max: 5 }),
    );
    fc.assert(
      fc.property(turn, turn, fc.integer({ min: 0, max: 62 }), (axis, up, tenths) => {
        const m = turning(axis, tenths / 10, [3, 1, 4]);
        const a = measured(mesh, { up, spin: 0 }).figures;
        const b = measured(mapped(mesh, m), { up: mapVector(m, up as Vec3), spin: 0 }).figures;
        expect(b.restArea).toBeCloseTo(a.restArea, 4);
        expect(b.overhangArea).toBeCloseTo(a.overhangArea, 4);
        expect(b.height).toBeCloseTo(a.height, 6);
        expect(b.fits).toBe(a.fits);
        // the raster lies otherwise on it
        expect(Math.abs(b.columnVolume - a.columnVolume)).toBeLessThan(0.03 * volume(mesh));
      }),
      { numRuns: runs(25) },
    );
  });

  it('a rod that is longer than the bed fits across its corners, and says how far it must turn', () => {
    const { positions, triangles, tags } = SOLIDS.cube(1);
    const rod: IndexedMesh = { positions: positions.map((x, i) => x * [270, 8, 8][i % 3]), triangles, tags };
    const across = measured(rod).figures;
    expect(across.fits).toBe(true);
    expect(Math.abs(across.turn)).toBeGreaterThan(radians(30));
    const long = measured({ ...rod, positions: rod.positions.map((x) => x * 1.2) }).figures;
    expect(long.fits).toBe(false);
    expect(Math.max(...long.over)).toBeGreaterThan(0);
    expect(measured(rod, { up: [1, 0, 0], spin: 0 }).figures.over[2]).toBeCloseTo(270 - 248, 4);
  });
});

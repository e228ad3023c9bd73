import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { kernel, meshOfSolid } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { SOLIDS } from '../../testing/solids.ts';
import { type IndexedMesh, mapped, mapVector, turning, type Vec3 } from '../mesh/index.ts';
import { loadSimplifier } from '../solid/index.ts';
import { radians } from '../units.ts';
import { posesFor, scoreOf } from './choose.ts';
import { measurePose, type PrintRule } from './figures.ts';
import type { Pose } from './pose.ts';
import { type PrintMesh, printMesh, SURFACE } from './print-mesh.ts';

const RULE: PrintRule = { room: [216, 216, 248], overhang: radians(45), layer: 0.2, density: 0.2, kind: 'filament' };
const print = (mesh: IndexedMesh): PrintMesh => printMesh(kernel, mesh);
const best = (mesh: PrintMesh, wish: Parameters<typeof posesFor>[2] = 'support', rule = RULE) =>
  posesFor(mesh, rule, wish)[0];

/** As finely as what is shown. */
const byHand = (mesh: PrintMesh, pose: Pose) => measurePose(mesh, pose, RULE, 0.5).figures;

beforeAll(loadSimplifier);

describe('the choice of a pose', () => {
  it('lays a T, a table and a bridge so that no support is left: the table on its top', () => {
    for (const mesh of [SOLIDS.tee(), SOLIDS.table(), SOLIDS.bridge()]) {
      expect(best(print(mesh)).figures.columnVolume).toBe(0);
    }
    expect(best(print(SOLIDS.table())).pose.up[2]).toBeCloseTo(-1, 9);
  });

  it('leaves a cube as it was modelled, and gives up to six that differ by more than 12°', () => {
    const found = posesFor(print(SOLIDS.cube(30)), RULE, 'support');
    expect(found[0].pose.up).toEqual([0, 0, 1]);
    expect(found[0].why).toEqual({ kind: 'axis', axis: 2, sign: 1 });
    expect(found.length).toBeLessThanOrEqual(6);
    found.forEach(({ pose: a }, i) => {
      for (const { pose: b } of found.slice(i + 1)) {
        const cosine = a.up[0] * b.up[0] + a.up[1] * b.up[1] + a.up[2] * b.up[2];
        expect(cosine).toBeLessThan(Math.cos(radians(12)));
      }
    });
    expect(found.map((o) => o.score)).toEqual(found.map((o) => o.score).sort((x, y) => x - y));
  });

  it('takes one that fits before one that needs less support', () => {
    const { positions, triangles, tags } = SOLIDS.cube(1);
    const post = print({ positions: positions.map((x, i) => x * [30, 30, 270][i % 3]), triangles, tags });
    const { figures, pose } = best(post);
    expect(figures.fits).toBe(true);
    // 270 mm fit across the corner of the bed only
    expect(Math.abs(pose.up[2])).toBeLessThan(0.1);
    expect(pose.spin).not.toBe(0);
  });

  it('does what is wished for: fast poses are lower, strong ones lay pegs down, clean ones turn show faces up', () => {
    const peg = { ...print(SOLIDS.cube(30)), pegs: [{ joint: 'j1', axis: [0, 0, 1] as Vec3 }] };
    expect(best(peg, 'support').figures.pegsAcross).toBe(1);
    expect(best(peg, 'strong').figures.pegsAcross).toBeLessThan(0.01);
    for (const mesh of [SOLIDS.tube(20, 12, 60), SOLIDS.shelf(), SOLIDS.bridge()].map(print)) {
      const [fast, plain] = [best(mesh, 'fast').figures, best(mesh, 'support').figures];
      expect(fast.height).toBeLessThanOrEqual(plain.height + 1e-6);
      expect(fast.columnVolume).toBeGreaterThanOrEqual(plain.columnVolume - 1e-6);
    }
    // the underside of the shelf is to be seen: standing on the foot would put support under it
    const shelf = print(SOLIDS.shelf());
    const surface = shelf.surface.slice();
    for (let i = 0; i < surface.length; i++) {
      if (shelf.normals[3 * i + 2] < -0.9) surface[i] = SURFACE.show;
    }
    expect(best({ ...shelf, surface }, 'show').figures.showScars).toBe(0);
  });

  it('is the same for a piece that was turned by a quarter', () => {
    const mesh = SOLIDS.shelf();
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 2 }), fc.integer({ min: 1, max: 3 }), (axis, quarters) => {
        const m = turning(
          [Number(axis === 0), Number(axis === 1), Number(axis === 2)],
          (quarters * Math.PI) / 2,
          [0, 0, 0],
        );
        const a = best(print(mesh));
        const b = best(print(mapped(mesh, m)));
        expect(b.score).toBeCloseTo(a.score, 1);
        expect(b.figures.columnVolume).toBeCloseTo(a.figures.columnVolume, -2);
      }),
      { numRuns: runs(9) },
    );
  });

  it('says no otherwise when it is asked again, and by hand measures the same', () => {
    const mesh = print(SOLIDS.shelf());
    const found = posesFor(mesh, RULE, 'support');
    expect(posesFor(mesh, RULE, 'support')).toEqual(found);
    const hand = byHand(mesh, found[0].pose);
    expect(hand).toEqual({ ...found[0].figures, turn: hand.turn });
  });

  it('resin leans what would lie flat', () => {
    const plate = { ...SOLIDS.cube(1) };
    const mesh = print({ ...plate, positions: plate.positions.map((x, i) => x * [60, 60, 4][i % 3]) });
    const resin = posesFor(mesh, { ...RULE, kind: 'resin', overhang: radians(30) }, 'support');
    const kinds = resin.map((o) => o.why.kind);
    expect(resin[0].figures.restArea).toBeLessThan(400);
    expect(kinds).toContain('tilt');
    expect(posesFor(mesh, RULE, 'support').map((o) => o.why.kind)).not.toContain('tilt');
  });

  it('a very fine mesh is looked at by a stand-in that measures the same', () => {
    const fine = SOLIDS.sphere(30);
    const heavy = meshOfSolid(kernel.Manifold.sphere(30, 620).translate([0, 0, 30]));
    const [a, b] = [print(fine), print(heavy)];
    expect(heavy.triangles.length / 3).toBeGreaterThan(150_000);
    expect(b.triangles.length).toBeLessThan(heavy.triangles.length / 4);
    expect(b.volume / ((4 / 3) * Math.PI * 27_000)).toBeCloseTo(1, 3);
    const [f, g] = [a, b].map((m) => byHand(m, { up: [0, 0, 1], spin: 0 }));
    for (const name of ['overhangArea', 'columnVolume', 'height', 'footprint'] as const) {
      expect([name, g[name] / f[name]]).toEqual([name, expect.closeTo(1, 1.5)]);
    }
  });

  it('scores the same at any scale', () => {
    const small = print(SOLIDS.shelf());
    const large = print(mapped(SOLIDS.shelf(), [3, 0, 0, 0, 0, 3, 0, 0, 0, 0, 3, 0]));
    const up = { up: mapVector([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0], [0, 0, 1]), spin: 0 };
    const scores = [small, large].map((mesh) => scoreOf(byHand(mesh, up), mesh.volume, 'support'));
    expect(scores[1]).toBeCloseTo(scores[0], 1);
  });
});

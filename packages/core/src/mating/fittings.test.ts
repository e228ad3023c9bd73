import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judge, kernel, meshOfSolid } from '../../testing/judges.ts';
import { cutBy, flat } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { box } from '../../testing/shapes.ts';
import { type PlanInput, parsePlan } from '../document/index.ts';
import { type Evaluation, pieceMesh } from '../evaluate/index.ts';
import { boxOf, type Vec3, volume } from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';
import { type Fitting, fittingsOf } from './index.ts';

type Joint = NonNullable<PlanInput['joints']>[number];

const BLOCK: readonly [Vec3, Vec3] = [
  [-40, -30, -40],
  [40, 30, 40],
];
const fitted = (joint: object, tilt = 0): { e: Evaluation; fittings: Fitting[] } => {
  const e = cutBy(box(...BLOCK), [flat('s1', [0, 0, 0], [tilt, 0, 1])], {
    joints: [{ id: 'j1', seam: 's1', at: [3, -2], ...joint } as Joint],
  });
  expect(e.joints.every((j) => j.built)).toBe(true);
  return { e, fittings: fittingsOf(e.context.plan, e) };
};

/** mm³ of what is put in that lie in the material of pieces. */
const inPieces = (e: Evaluation, fittings: readonly Fitting[]): number[] =>
  fittings.flatMap(({ mesh }) => {
    expect(judge(mesh)).toMatchObject({ status: 'NoError', closed: true });
    expect(volume(mesh)).toBeGreaterThan(1);
    return e.pieces.map((p) =>
      toKernel(kernel, mesh)
        .intersect(toKernel(kernel, pieceMesh(p).mesh))
        .volume(),
    );
  });

describe('loose parts where they belong', () => {
  it('lie in what was made for them, whatever their kind and sizes, and stay with their piece', () => {
    const joint = fc.oneof(
      fc.record({
        kind: fc.constant('dowel'),
        shape: fc.constantFrom('round', 'square'),
        diameter: fc.integer({ min: 4, max: 10 }),
        depth: fc.integer({ min: 6, max: 20 }),
        male: fc.constantFrom('+', '-'),
      }),
      fc.record({
        kind: fc.constant('magnet'),
        shape: fc.constantFrom('disc', 'block'),
        diameter: fc.integer({ min: 5, max: 14 }),
        height: fc.integer({ min: 4, max: 12 }),
        thickness: fc.integer({ min: 2, max: 5 }),
        cover: fc.constantFrom(0, 0.4),
      }),
      fc.record({
        kind: fc.constant('hinge'),
        diameter: fc.constant(9),
        length: fc.integer({ min: 24, max: 36 }),
        pin: fc.constantFrom(2, 3),
      }),
    );
    const turn = fc.double({ min: -1.5, max: 1.5, noNaN: true });
    const tilt = fc.double({ min: -0.2, max: 0.2, noNaN: true });
    fc.assert(
      fc.property(joint, turn, tilt, (fields, angle, lean) => {
        const { e, fittings } = fitted({ ...fields, turn: angle }, fields.kind === 'hinge' ? 0 : lean);
        expect(fittings.length).toBeGreaterThan(0);
        for (const v of inPieces(e, fittings)) expect(v).toBeLessThan(0.01);
        const [{ male, socket }] = e.joints;
        for (const f of fittings) expect([male, socket]).toContain(f.piece);
      }),
      { numRuns: runs(25) },
    );
  });

  it('are drawn to each other where they are magnets: what faces is north and south', () => {
    const { e, fittings } = fitted({ kind: 'magnet', diameter: 10, thickness: 3, cover: 0.4 });
    const height = (f: Fitting): number =>
      Math.abs(boxOf(f.mesh.positions).max[2] + boxOf(f.mesh.positions).min[2]) / 2;
    expect(fittings.map(height).sort()).toEqual([1.15, 1.15, 2.65, 2.65].map((x) => expect.closeTo(x, 6)));
    const near = fittings.filter((f) => height(f) < 2);
    expect(near.map((f) => f.tone).sort()).toEqual(['north', 'south']);
    expect(new Set(near.map((f) => f.piece))).toEqual(new Set(e.pieces.map((p) => p.key)));
  });

  it('are a screw with its head in the own piece, clear of it', () => {
    const { e, fittings } = fitted({ kind: 'screw', size: 'M4', grip: 8, into: 'nut' });
    const own = e.pieces.filter((p) => p.key === e.joints[0].male);
    for (const v of inPieces({ ...e, pieces: own }, fittings)) expect(v).toBeLessThan(0.01);
    const { min, max } = boxOf(fittings[0].mesh.positions);
    // a head of 4 mm below the 8 mm that it grips, as wide as 7
    expect([min, max].map(([x]) => x)).toEqual([-0.5, 6.5].map((x) => expect.closeTo(x, 1)));
    expect(Math.max(-min[2], max[2])).toBeCloseTo(12, 6);
  });

  it('stay the same as long as nothing about them changes', () => {
    const { e, fittings } = fitted({ kind: 'dowel', diameter: 6, depth: 9 });
    expect(fittingsOf(e.context.plan, e)[0].mesh).toBe(fittings[0].mesh);
    expect(fitted({ kind: 'dowel', diameter: 6, depth: 9.5 }).fittings[0].mesh).not.toBe(fittings[0].mesh);
  });

  it('are what runs through bores, along their way, and strips across their seam', () => {
    const bore = {
      kind: 'bore',
      points: [
        [-40, 0, 9],
        [40, 0, 9],
      ],
      diameter: 5,
      stock: 'tube',
    };
    const plan = parsePlan({ version: 5, printer: { size: [200, 200, 200] }, recipe: [bore] } as PlanInput);
    const [tube] = fittingsOf(plan, { map: [1, 0, 0, 5, 0, 1, 0, 0, 0, 0, 1, 0], joints: [], faces: [], loose: [] });
    expect(tube.piece).toBeNull();
    expect(volume(tube.mesh) / ((80 * Math.PI * 25) / 4)).toBeCloseTo(0.98, 1);
    expect(boxOf(tube.mesh.positions).max[0]).toBeCloseTo(45, 9);

    const pipe = kernel.Manifold.cylinder(80, 30, 30, 48, true).subtract(
      kernel.Manifold.cylinder(99, 26, 26, 48, true),
    );
    const backing = { width: 12, thickness: 2, gap: 0.3 };
    const e = cutBy(meshOfSolid(pipe), [flat('s1', [0, 0, 7], [0, 0, 1], { backing })]);
    const [strip] = fittingsOf(e.context.plan, e);
    const band = toKernel(kernel, strip.mesh);
    expect(band.boundingBox().min[2]).toBeCloseTo(1, 4);
    expect(band.boundingBox().max[2]).toBeCloseTo(13, 4);
    expect(band.intersect(pipe).volume()).toBeLessThan(1e-3);
    expect(band.minGap(pipe, 2)).toBeCloseTo(0.3, 2);
  });
});

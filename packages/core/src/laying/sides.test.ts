import { beforeAll, describe, expect, it } from 'vitest';
import { fallback, kernel, meshOfSolid } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { printer } from '../../testing/plans.ts';
import { bodiesOf } from '../body/index.ts';
import { applyChange, type Plan, type PlanInput, parsePlan } from '../document/index.ts';
import { evaluate } from '../evaluate/index.ts';
import type { IndexedMesh } from '../mesh/index.ts';
import { alikePieces, sharedFiles } from '../output/index.ts';
import { loadSimplifier } from '../solid/index.ts';
import { printFindings } from './print-findings.ts';
import { type PrintContext, piecePrints } from './prints.ts';
import { spoiltRests } from './sides.ts';

beforeAll(loadSimplifier);

const { Manifold } = kernel;
/** A dome of radius 40 on a post of half its width: they part at z = 50. */
const lamp = meshOfSolid(
  Manifold.sphere(40, 64)
    .trimByPlane([0, 0, 1], 0)
    .translate([0, 0, 50])
    .add(Manifold.cylinder(50, 25, 25, 64)),
);
/** Two domes, back to back at z = 0. */
const lens = meshOfSolid(Manifold.sphere(40, 64));

const pegs = (male: '+' | '-', n = 2) =>
  Array.from({ length: n }, (_, i) => ({
    id: `j${i + 1}`,
    seam: 's',
    kind: 'pin' as const,
    at: [i === 0 ? -12 : 12, 0] as [number, number],
    diameter: 6,
    depth: 8,
    male,
  }));

function contextOf(mesh: IndexedMesh, plan: Plan): PrintContext {
  const { bodies } = bodiesOf(modelOfMeshes([mesh]), 'Prop');
  const evaluation = evaluate(plan, bodies, { fallback, kernel });
  return {
    kernel,
    plan,
    evaluation,
    shared: sharedFiles(evaluation, alikePieces(evaluation, plan.alike), plan.pieces),
  };
}
const planOf = (z: number, more: Partial<PlanInput>): Plan =>
  parsePlan({
    version: 5,
    printer,
    seams: [{ id: 's', name: 'Brim', kind: 'flat', origin: [0, 0, z], normal: [0, 0, 1] }],
    ...more,
  });
const upperOf = ({ evaluation }: PrintContext): string =>
  [...evaluation.pieces].sort((a, b) => b.box.max[2] - a.box.max[2])[0].key;
const of = (context: PrintContext) => spoiltRests(context, [...piecePrints(context)]);

describe('pegs that spoil a rest', () => {
  it('go over to the neighbour that lies on another face, and the piece then needs what was said', () => {
    const context = contextOf(lamp, planOf(50, { joints: pegs('+') }));
    const [found, ...others] = of(context);
    expect(others).toEqual([]);
    expect(found).toMatchObject({ piece: upperOf(context), seam: 's', joints: ['j1', 'j2'], way: 'swap' });
    expect(found.before).toBeGreaterThan(3 * found.after);
    const next = contextOf(lamp, applyChange(context.plan, found.change));
    expect(next.plan.joints.map((j) => j.male)).toEqual(['-', '-']);
    const print = [...piecePrints(next)].find((p) => p.key === upperOf(next))!;
    expect(print.pose.up[2]).toBeCloseTo(1, 6);
    expect(print.why).toBe('on its face at Brim');
    expect(Math.abs(print.figures.supportVolume - found.after)).toBeLessThan(0.1 * found.before);
    // and there is nothing left to say
    expect(of(next)).toEqual([]);
    const said = printFindings(context, [...piecePrints(context)]).filter((f) => f.code === 'print.side');
    expect(said).toHaveLength(1);
    expect(said[0].message).toMatch(/^2 pegs keep A2 from lying on its face at Brim: with them on A1 it needs/);
    expect(said[0].mend?.label).toBe('Put them on A1');
  });

  it('become loose dowels where both lie on the face', () => {
    const plan = planOf(0, { joints: pegs('+', 1), alike: 0 });
    const upright = contextOf(lens, plan);
    const lower = upright.evaluation.pieces.find((p) => p.key !== upperOf(upright))!;
    // the lower dome is printed upside down, on its cut
    const turned = applyChange(plan, {
      do: 'setPiece',
      key: lower.key,
      set: { pose: { up: [0, 0, -1], spin: 0, by: 'search' } },
    });
    const context = contextOf(lens, turned);
    const [found] = of(context).filter((s) => s.piece === upperOf(context));
    expect(found.way).toBe('dowel');
    const next = contextOf(lens, applyChange(turned, found.change));
    expect(next.plan.joints.map((j) => j.kind)).toEqual(['dowel']);
    const prints = [...piecePrints(next)];
    expect(prints.every((p) => p.figures.supportVolume < 0.3 * found.before)).toBe(true);
    const said = printFindings(context, [...piecePrints(context)]).find((f) => f.code === 'print.side');
    expect(said?.message).toMatch(/^A peg keeps A2 .* with loose dowels/);
  });

  it('stay where they are: without pegs, on a snap both lie on, for a pose set by hand, for pieces that share a file', () => {
    expect(of(contextOf(lamp, planOf(50, {})))).toEqual([]);
    // two snaps on a face on which both domes lie: no rod catches
    const snaps = planOf(0, {
      alike: 0,
      joints: [{ id: 'j1', seam: 's', kind: 'snap', at: [0, 0], diameter: 8, depth: 14, barb: 0.5, male: '+' }],
    });
    const below = contextOf(lens, snaps).evaluation.pieces.find((p) => p.box.max[2] < 5)!;
    const lying = { up: [0, 0, -1] as [number, number, number], spin: 0, by: 'search' as const };
    const both = contextOf(lens, applyChange(snaps, { do: 'setPiece', key: below.key, set: { pose: lying } }));
    expect(of(both).filter((x) => x.piece === upperOf(both))).toEqual([]);
    // the pegs are on the post already
    expect(of(contextOf(lamp, planOf(50, { joints: pegs('-') })))).toEqual([]);
    const plan = planOf(50, { joints: pegs('+') });
    const key = upperOf(contextOf(lamp, plan));
    const byHand = applyChange(plan, { do: 'setPiece', key, set: { pose: { up: [0, 0, 1], spin: 0, by: 'hand' } } });
    expect(of(contextOf(lamp, byHand))).toEqual([]);
    const context = contextOf(lamp, plan);
    const lower = context.evaluation.pieces.find((p) => p.key !== key)!.key;
    const shared = new Map([[key, { of: lower, mirrored: false }]]) as unknown as PrintContext['shared'];
    expect(of({ ...context, shared })).toEqual([]);
  });
});

describe('rests that lift', () => {
  const { Manifold } = kernel;
  const abs = { ...printer, material: 'ABS', size: [320, 320, 320] as [number, number, number] };
  const wedge = (width: number) =>
    meshOfSolid(
      Manifold.extrude(
        [
          [
            [0, 0],
            [140, -width / 2],
            [140, width / 2],
          ],
        ],
        20,
      ),
    );
  const said = (mesh: IndexedMesh, more: Partial<PlanInput> = {}) => {
    const context = contextOf(mesh, parsePlan({ version: 5, printer: abs, ...more }));
    const [print] = piecePrints(context);
    return { print, warps: printFindings(context, [print]).filter((f) => f.code === 'print.warps') };
  };

  it('lift sooner at a sharp corner, which is told with its angle', () => {
    const { print, warps } = said(wedge(60));
    expect((print.figures.restCorner * 180) / Math.PI).toBeCloseTo((2 * Math.atan(30 / 140) * 180) / Math.PI, 3);
    expect(warps).toHaveLength(1);
    expect(warps[0].message).toContain('a corner of 24°');
    // as long, and blunt
    const bar = meshOfSolid(Manifold.cube([140, 40, 20]));
    expect((said(bar).print.figures.restCorner * 180) / Math.PI).toBeCloseTo(90, 6);
    const limit = warps[0].limit! / 0.7;
    expect(said(bar).warps.length).toBe(said(bar).print.figures.restLength > limit ? 1 : 0);
  });

  it('are held by a brim, which is the mend', () => {
    const mesh = wedge(60);
    const { warps } = said(mesh);
    expect(warps[0].mend?.label).toBe('Give everything a brim of 5 mm');
    const plan = applyChange(parsePlan({ version: 5, printer: abs }), warps[0].mend!.change);
    expect(plan.bedding.brim).toBe(5);
    const braced = said(mesh, { bedding: plan.bedding });
    const held = warps[0].limit! * 1.5;
    expect(braced.warps.map((f) => f.limit)).toEqual(braced.print.figures.restLength > held ? [held] : []);
    for (const f of braced.warps) expect(f.mend).toBeUndefined();
  });
});

import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { flat, printer } from '../../testing/plans.ts';
import { box, moved } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/bodies.ts';
import { applyChange } from '../document/change.ts';
import { ampleWall } from '../document/limits.ts';
import { type PlanInput, parsePlan } from '../document/schema.ts';
import { EvalCache } from '../evaluate/eval-cache.ts';
import { evaluate } from '../evaluate/evaluate.ts';
import type { Evaluation } from '../evaluate/model.ts';
import { pieceMesh } from '../evaluate/piece-mesh.ts';
import { toPrintable } from '../formats/printable.ts';
import { boxOf, volume } from '../mesh/measure.ts';
import { topology } from '../mesh/topology.ts';
import type { IndexedMesh } from '../mesh/types.ts';
import { toKernel } from '../solid/kernel.ts';

const kit = (...meshes: IndexedMesh[]) => bodiesOf(modelOfMeshes(meshes), 'Kit').bodies;
const evaluated = (bodies: ReturnType<typeof kit>, more: Partial<PlanInput> = {}): Evaluation =>
  evaluate(parsePlan({ version: 5, printer, ...more }), bodies, { fallback });

const plinth = box([-40, -30, -20], [40, 30, 0]);
const block = (gap: number) => box([-20, -20, gap], [30, 45, 50]);

describe('faces between separate bodies', () => {
  it('are found where they lie against each other, as large as what both have in common', () => {
    const e = evaluated(kit(plinth, block(0)));
    expect(e.faces.map((f) => [f.contact, f.bodies, Math.round(f.area)])).toEqual([[true, ['b1', 'b2'], 50 * 50]]);
    expect(e.contacts).toEqual([{ id: 'c1', bodies: ['b1', 'b2'], origin: [0, 0, 0], normal: [0, 0, 1] }]);
    expect(e.findings.map((f) => [f.code, f.severity])).toEqual([['face.bare', 'note']]);
    for (const p of e.pieces) expect(topology(pieceMesh(p).mesh).watertight).toBe(true);
  });

  it('within the plan’s reach, or a little tilted, but no farther', () => {
    const reach = (gap: number, mm: number) => evaluated(kit(plinth, block(gap)), { reach: mm }).faces.length;
    expect([reach(0.15, 0.2), reach(0.4, 0.2), reach(0.4, 0.5)]).toEqual([1, 0, 1]);
    const tilted = moved(block(0), (x, y, z) => [x, y, z + (x + 20) * 0.01]);
    expect(evaluated(kit(plinth, tilted), { reach: 1 }).faces).toHaveLength(1);
    const steep = moved(block(0), (x, y, z) => [x, y, z + (x + 20) * 0.1]);
    expect(evaluated(kit(plinth, steep), { reach: 1 }).faces).toHaveLength(0);
  });

  it('take joints as a seam does, in every piece that touches there, and keep them', () => {
    const bodies = kit(plinth, block(0));
    const seams = [flat('s1', [8, 0, 0], [1, 0, 0])];
    const first = evaluated(bodies, { seams });
    const touching = first.faces.filter((f) => f.contact);
    expect(touching.map((f) => f.pieces)).toEqual([
      ['b1/s1-', 'b2/s1-'],
      ['b1/s1+', 'b2/s1+'],
    ]);
    const joint = { id: 'j1', kind: 'key' as const, seam: 'c1', at: [36, 0] as [number, number], width: 8, depth: 6 };
    let plan = parsePlan({ version: 5, printer, seams, contacts: [...first.contacts] });
    plan = applyChange(plan, { do: 'addJoint', joint });
    const cache = new EvalCache();
    const e = evaluate(plan, bodies, { fallback, cache });
    expect(e.findings.filter((f) => f.severity === 'stop')).toEqual([]);
    expect(e.joints[0]).toMatchObject({ built: true, male: 'b1/s1+', socket: 'b2/s1+' });
    const [male, socket] = [e.joints[0].male, e.joints[0].socket].map((key) => {
      const { mesh } = pieceMesh(e.pieces.find((p) => p.key === key)!);
      expect(topology(mesh).watertight).toBe(true);
      expect(judge(toPrintable(mesh).mesh).status).toBe('NoError');
      return mesh;
    });
    expect(volume(male)).toBeGreaterThan(32 * 60 * 20 + 250);
    expect(volume(socket)).toBeLessThan(22 * 65 * 50 - 250);
    const [a, b] = [toKernel(kernel, male), toKernel(kernel, socket)];
    expect(a.intersect(b).volume()).toBeLessThan(1e-3);
    expect(e.joints[0].walls[1]).toBeGreaterThan(5);
    expect(e.joints[0].root).toBe(ampleWall({ kind: 'filament', nozzle: 0.4 }));
    // the same again is the very same geometry
    const again = evaluate(plan, bodies, { fallback, cache });
    again.pieces.forEach((p, i) => {
      expect(p.solid).toBe(e.pieces[i].solid);
    });
    // and a new size takes the joint along, its sizes kept
    const scaled = applyChange(plan, { do: 'addStep', step: { kind: 'scale', factor: 2 } });
    const large = evaluate(scaled, bodies, { fallback });
    expect(large.joints[0]).toMatchObject({ built: true, face: e.joints[0].face });
    expect(large.joints[0].form.shear).toBeCloseTo(e.joints[0].form.shear, 9);
    expect(large.joints[0].u).toBeCloseTo(2 * e.joints[0].u, 9);
  });

  it('are made of bodies that were far apart, by a step that brings face against face', () => {
    // the block lies somewhere else, turned, and comes onto the plinth with its lower face
    const [c, s] = [Math.cos(0.6), Math.sin(0.6)];
    const away = moved(block(0), (x, y, z) => [200 + c * x - s * z, y + 30, 90 + s * x + c * z]);
    const bodies = kit(plinth, away);
    expect(evaluated(bodies).faces).toEqual([]);
    const place = (x: number, y: number, z: number) =>
      [200 + c * x - s * z, y + 30, 90 + s * x + c * z] as [number, number, number];
    const step = {
      kind: 'bring' as const,
      body: 'b2',
      from: { at: place(0, 10, 0), normal: [s, 0, -c] as [number, number, number] },
      to: { at: [5, 2, 0] as [number, number, number], normal: [0, 0, 1] as [number, number, number] },
    };
    const e = evaluated(bodies, { recipe: [step] });
    expect(e.findings.filter((f) => f.severity === 'stop')).toEqual([]);
    expect(e.faces).toHaveLength(1);
    const { min, max } = boxOf(e.pieces.find((p) => p.body === 'b2')!.solid.positions);
    expect(min[2]).toBeCloseTo(0.02, 9);
    expect(max[2]).toBeCloseTo(50.02, 9);
    // the picked places lie on each other: the block's (0, 10) on the plinth's (5, 2)
    expect([min[0], max[0], min[1], max[1]].map((x) => Number(x.toFixed(6)))).toEqual([-15, 35, -28, 37]);
    const turned = evaluated(bodies, { recipe: [{ ...step, turn: Math.PI / 2, gap: 0.5 }], reach: 1 });
    const box = boxOf(turned.pieces.find((p) => p.body === 'b2')!.solid.positions);
    expect(box.min[2]).toBeCloseTo(0.5, 9);
    expect(box.max[0] - box.min[0]).toBeCloseTo(65, 9);
    expect(() => evaluated(bodies, { recipe: [{ ...step, body: 'b9' }] })).toThrow(/b9/);
    // sizes afterwards take both along
    const large = evaluated(bodies, { recipe: [step, { kind: 'scale', factor: 2 }] });
    expect(large.faces[0].area).toBeCloseTo(4 * e.faces[0].area, 1);
  });

  it('of one body with two others stay apart', () => {
    const wide = box([-20, -20, 0], [-2, 20, 30]);
    const other = box([2, -20, 0], [20, 20, 30]);
    const e = evaluated(kit(plinth, wide, other), {
      contacts: [
        { id: 'c1', bodies: ['b1', 'b2'], origin: [0, 0, 0], normal: [0, 0, 1] },
        { id: 'c2', bodies: ['b1', 'b3'], origin: [0, 0, 0], normal: [0, 0, 1] },
      ],
      joints: [
        { id: 'j1', kind: 'pin', seam: 'c1', at: [-11, 0], diameter: 6, depth: 6 },
        { id: 'j2', kind: 'pin', seam: 'c2', at: [11, 0], diameter: 6, depth: 6, male: '+' },
      ],
    });
    expect(e.joints.map((j) => j.built)).toEqual([true, true]);
    expect(e.faces.map((f) => f.seam)).toEqual(['c1', 'c2']);
    for (const p of e.pieces) expect(topology(pieceMesh(p).mesh).watertight).toBe(true);
    expect(e.pieces[0].joints).toEqual(['j1', 'j2']);
  });
});

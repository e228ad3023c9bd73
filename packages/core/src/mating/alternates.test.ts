import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel, meshOfSolid } from '../../testing/judges.ts';
import { modelOfMesh, planOf } from '../../testing/proposing.ts';
import { runs } from '../../testing/runs.ts';
import { Blocking, checkOrder, proposeOrder } from '../assembly/index.ts';
import { applyChange, type Plan, type PlanInput } from '../document/index.ts';
import { type Evaluation, evaluateModel, type Piece, pieceMesh } from '../evaluate/index.ts';
import { finished } from '../finished.ts';
import { FITS } from '../joints/index.ts';
import { IDENTITY, type IndexedMesh } from '../mesh/index.ts';
import { Placeable, type toKernel } from '../solid/index.ts';

type Solid = ReturnType<typeof toKernel>;
const { Manifold } = kernel;

const trunk = Manifold.cylinder(60, 30, 30, 64).translate([0, 0, -60]);
const calm = Manifold.cylinder(50, 25, 18, 48);
const angry = Manifold.cube([44, 44, 70]).translate([-22, -22, 0]);
const crowned = Manifold.cylinder(40, 24, 24, 6).add(Manifold.sphere(20, 32).translate([0, 0, 45]));
const SWAPPED = [{ id: 'n1', name: 'Head', bodies: ['b2', 'b3'] }];

const evaluated = (plan: Partial<PlanInput>, solids: readonly Solid[] = [trunk, calm, angry]): Evaluation =>
  evaluateModel(planOf(plan), modelOfMesh(...solids.map(meshOfSolid)), { fallback, kernel });

const pin = { id: 'j1', seam: 'c1', at: [4, 3] as [number, number], kind: 'pin' as const, diameter: 8, depth: 9 };
const contact = (e: Evaluation) => [...e.contacts];
const of = (e: Evaluation, body: string): Piece => e.pieces.find((p) => p.body === body)!;
const meshOf = (p: Piece): IndexedMesh => pieceMesh(p).mesh;
const codes = (e: Evaluation): string[] => e.findings.filter((f) => f.severity !== 'note').map((f) => f.code);

/** The plan of the bodies once the joints stand on the contact of the first two. */
function jointed(joints: PlanInput['joints'], alternates = SWAPPED, solids?: readonly Solid[]): Plan {
  const bare = evaluated({ alternates }, solids);
  return planOf({ alternates, contacts: contact(bare), joints });
}

describe('alternates', () => {
  it('may be in one place; bodies that are none may not, and are offered to be', () => {
    const e = evaluated({});
    const [overlap] = e.findings.filter((f) => f.code === 'bodies.overlap');
    expect(overlap).toMatchObject({ severity: 'stop', where: { body: 'b3' } });
    const plan = applyChange(planOf({}), overlap.mends![0].change);
    expect(plan.alternates).toMatchObject([{ bodies: ['b2', 'b3'] }]);
    expect(codes(evaluated(plan))).toEqual([]);
  });

  it('get one and the same joint each, whatever it is and wherever: nothing overlaps, and the other side has it once', () => {
    const shape = fc.record({
      x: fc.integer({ min: -8, max: 8 }),
      y: fc.integer({ min: -8, max: 8 }),
      kind: fc.constantFrom(
        { kind: 'pin' as const, diameter: 7, depth: 8 },
        { kind: 'key' as const, width: 9, depth: 6 },
        { kind: 'cone' as const, diameter: 8 },
        { kind: 'magnet' as const, diameter: 6, thickness: 2 },
        { kind: 'dowel' as const, diameter: 6, depth: 9 },
        { kind: 'screw' as const, grip: 12, size: 'M3' as const },
      ),
      fit: fc.constantFrom(...FITS),
      male: fc.constantFrom('+' as const, '-' as const),
    });
    fc.assert(
      fc.property(shape, ({ x, y, kind, ...more }) => {
        const plan = jointed([{ id: 'j1', seam: 'c1', at: [x, y], ...kind, ...more }]);
        const e = evaluated(plan);
        expect(e.findings.filter((f) => f.severity === 'stop')).toEqual([]);
        const [host, one, two] = ['b1', 'b2', 'b3'].map((b) => of(e, b));
        for (const p of [host, one, two]) {
          expect(p.joints).toEqual(['j1']);
          expect(judge(meshOf(p))).toMatchObject({ status: 'NoError', closed: true });
        }
        // the same as with either alternate alone
        const alone = (solid: Solid) => evaluated({ ...plan, alternates: [] }, [trunk, solid]);
        expect(host.volume).toBeCloseTo(of(alone(calm), 'b1').volume, 6);
        expect(one.volume).toBeCloseTo(of(alone(calm), 'b2').volume, 6);
        expect(two.volume).toBeCloseTo(of(alone(angry), 'b2').volume, 6);
        const held = [host, one, two].map((p) => new Placeable(kernel, meshOf(p)));
        // within what float32 makes of faces that lie on one another
        expect(held[0].overlap(held[1], IDENTITY)).toBeLessThan(0.05);
        expect(held[0].overlap(held[2], IDENTITY)).toBeLessThan(0.05);
        for (const h of held) h.delete();
      }),
      { numRuns: runs(12) },
    );
  });

  it('are each checked: what does not suit one of them stops the joint for all, and says on which', () => {
    // beyond the edge of the second only
    const narrow = Manifold.cylinder(50, 8, 8, 48);
    const plan = jointed([{ ...pin, at: [14, 0] }], SWAPPED, [trunk, calm, narrow]);
    const e = evaluated(plan, [trunk, calm, narrow]);
    const [off] = e.findings.filter((f) => f.code === 'joint.offFace');
    expect(off.message).toMatch(/ \(on Test 3\)\.$/);
    expect(e.joints[0].built).toBe(false);
    expect(of(e, 'b1').joints).toEqual([]);
    // a wall of the second only; what both say is said once
    const hollow = Manifold.cylinder(50, 25, 25, 48).subtract(Manifold.cylinder(40, 23, 23, 48).translate([0, 0, 6]));
    const deep = { ...pin, male: '+' as const, at: [0, 0] as [number, number] };
    const thin = evaluated(jointed([{ ...deep, male: '-' }], SWAPPED, [trunk, calm, hollow]), [trunk, calm, hollow]);
    expect(codes(thin)).toEqual(['joint.through']);
    expect(thin.findings.find((f) => f.code === 'joint.through')!.message).toMatch(/\(on Test 3\)/);
    // one that sits elsewhere
    const beside = angry.translate([0, 0, 400]);
    expect(codes(evaluated({ alternates: SWAPPED }, [trunk, calm, beside]))).toEqual(['alternate.face']);
  });

  it('have none of a joint that no way in is left for', () => {
    // across the way in of the first
    const leaning = {
      ...pin,
      id: 'j2',
      at: [-9, 0] as [number, number],
      lean: [0.6, 0, 1] as [number, number, number],
    };
    const plan = jointed([{ ...pin, at: [9, 0] }, leaning]);
    const e = evaluated(plan);
    expect(codes(e)).toContain('joint.way');
    expect(['b1', 'b2', 'b3'].map((b) => of(e, b).joints)).toEqual([['j1'], ['j1'], ['j1']]);
    for (const p of e.pieces) expect(judge(meshOf(p))).toMatchObject({ status: 'NoError', closed: true });
    expect(of(e, 'b3').volume).toBeCloseTo(of(evaluated(jointed([{ ...pin, at: [9, 0] }])), 'b3').volume, 6);
  });

  it('are joined one at a time: the one that is on takes part, also in an order written for the other', () => {
    const plan = jointed([pin]);
    const steps = (p: Plan) => {
      const e = evaluated(p);
      return { ...finished(checkOrder(p, e, new Blocking(e))), e };
    };
    const first = steps(plan);
    expect(first.steps).toHaveLength(1);
    expect(first.steps[0].parts.flat()).toEqual([of(first.e, 'b1').key, of(first.e, 'b2').key]);
    expect([of(first.e, 'b2').spare, of(first.e, 'b3').spare]).toEqual([false, true]);
    const order = finished(proposeOrder(first.e, plan.seams, new Blocking(first.e)));
    const written = planOf({ ...plan, order: order.steps } as PlanInput);
    const other = steps(planOf({ ...written, alternates: [{ ...SWAPPED[0], shown: 'b3' }] } as PlanInput));
    expect(other.steps.map((s) => s.parts.flat())).toEqual([[of(other.e, 'b1').key, of(other.e, 'b3').key]]);
    expect(other.steps[0].joints).toEqual(['j1']);
    expect(other.findings.filter((f) => f.code === 'order.gone')).toEqual([]);
  });

  it('share their place among three, whose magnets are counted, and are called by their bodies', () => {
    const three = [trunk, calm, angry, crowned];
    const sets = [{ id: 'n1', name: 'Head', bodies: ['b2', 'b3', 'b4'] }];
    const magnet = {
      id: 'j1',
      seam: 'c1',
      at: [0, 0] as [number, number],
      kind: 'magnet' as const,
      diameter: 6,
      thickness: 2,
    };
    const e = evaluated(jointed([magnet], sets, three), three);
    expect(codes(e)).toEqual([]);
    expect(e.joints[0].alternates).toHaveLength(2);
    expect(e.loose).toMatchObject([{ kind: 'magnet', count: 4 }]);
    expect(e.pieces.map((p) => p.name).slice(1)).toEqual(['Test 2', 'Test 3', 'Test 4']);
  });

  it('are refused when a body is in two sets', () => {
    const sets = [...SWAPPED, { id: 'n2', bodies: ['b3', 'b4'] }];
    expect(() => planOf({ alternates: sets })).toThrow(/alternate already/);
  });
});

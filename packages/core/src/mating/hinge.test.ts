import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel } from '../../testing/judges.ts';
import { modelOfMesh, planOf } from '../../testing/proposing.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box } from '../../testing/shapes.ts';
import { swingOf } from '../assembly/index.ts';
import type { PlanInput } from '../document/index.ts';
import { type Evaluation, evaluateModel, pieceMesh } from '../evaluate/index.ts';
import { finished } from '../finished.ts';
import { FITS } from '../joints/index.ts';
import { knucklesOf } from '../joints/kinds/hinge/form.ts';
import { type JointOf, kindOf } from '../joints/kinds/index.ts';
import { boxOf, buildBlocks, cross, dot, type IndexedMesh, normalize, rayHits, sizeOf, vecOf } from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';

const level = {
  id: 's1',
  kind: 'flat' as const,
  origin: [0, 0, 0] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
};
const block = box([-30, -20, -16], [30, 20, 16]);
type Hinge = Extract<NonNullable<PlanInput['joints']>[number], { kind: 'hinge' }>;

const usual = {
  id: 'j1',
  seam: 's1',
  at: [0, 0] as [number, number],
  kind: 'hinge' as const,
  diameter: 9,
  length: 30,
  pin: 3,
};

const hinged = (more: Partial<Hinge> = {}, plan: Partial<PlanInput> = {}, mesh = block): Evaluation =>
  evaluateModel(
    planOf({
      seams: [level],
      joints: [{ ...usual, ...more }],
      ...plan,
    }),
    modelOfMesh(mesh),
    { fallback, kernel },
  );

const degrees = (a: number): number => (a * 180) / Math.PI;

function taken(e: Evaluation): { own: IndexedMesh; other: IndexedMesh } {
  const [own, other] = [e.joints[0].male, e.joints[0].socket].map(
    (key) => pieceMesh(e.pieces.find((p) => p.key === key)!).mesh,
  );
  return { own, other };
}

/** How much of the pieces is in each other when the own one is opened, mm³. */
function openedInto(e: Evaluation, angle: number, turn: number): number {
  const { own, other } = taken(e);
  const [{ u, v, direction }] = e.joints;
  // what opens is on the left of the axis, seen from where the normal points to
  const turned = toKernel(kernel, own)
    .translate([-u, -v, 0])
    .rotate([0, 0, -degrees(turn)])
    .rotate([-degrees(angle) * direction, 0, 0])
    .rotate([0, 0, degrees(turn)])
    .translate([u, v, 0]);
  return turned.intersect(toKernel(kernel, other)).volume();
}

describe('a hinge', () => {
  it('of any size, fit and side opens as far as it says and no farther', () => {
    const shape = fc.record({
      diameter: fc.integer({ min: 6, max: 14 }),
      length: fc.integer({ min: 20, max: 36 }),
      knuckles: fc.integer({ min: 2, max: 4 }),
      x: fc.integer({ min: -4, max: 4 }),
      y: fc.integer({ min: -8, max: 8 }),
      turn: fc.double({ min: -0.4, max: 0.4, noNaN: true }),
      opens: fc.integer({ min: 10, max: 140 }),
      fit: fc.constantFrom(...FITS),
      male: fc.constantFrom('+' as const, '-' as const),
    });
    fc.assert(
      fc.property(shape, ({ x, y, opens, diameter, ...more }) => {
        const angle = (opens * Math.PI) / 180;
        const sizes = kindOf({ kind: 'hinge' }).usual(diameter);
        const e = hinged({ ...sizes, ...more, at: [x, y], opens: angle });
        expect(e.findings.filter((f) => f.severity !== 'note')).toEqual([]);
        for (const p of e.pieces) expect(judge(pieceMesh(p).mesh)).toMatchObject({ status: 'NoError', closed: true });
        expect(openedInto(e, angle / 2, more.turn)).toBeLessThan(1e-3);
        expect(openedInto(e, angle, more.turn)).toBeLessThan(1e-3);
        expect(openedInto(e, angle + 0.06, more.turn)).toBeGreaterThan(0.1);
        expect(openedInto(e, -0.06, more.turn)).toBeGreaterThan(0.1);
      }),
      { numRuns: runs(10) },
    );
  });

  it('on any plane of a rounded solid is made whole, comes apart along its way, and opens as far as it says', () => {
    const body = blob(20, 24, 150, (a, z) => 60 + 3 * Math.sin(3 * a) - 8 * z * z);
    const shape = fc.record({
      x: fc.integer({ min: -3, max: 3 }),
      y: fc.integer({ min: -3, max: 3 }),
      z: fc.integer({ min: -8, max: 8 }),
      turn: fc.double({ min: -3, max: 3, noNaN: true }),
      opens: fc.integer({ min: 5, max: 35 }),
      fit: fc.constantFrom(...FITS),
      male: fc.constantFrom('+' as const, '-' as const),
    });
    fc.assert(
      fc.property(shape, ({ x, y, z, opens, ...more }) => {
        const seam = { ...level, origin: [0, 0, z] as const, normal: [x / 20, y / 20, 1] as const };
        const angle = (opens * Math.PI) / 180;
        const e = hinged({ ...more, length: 40, knuckles: 5, opens: angle }, { seams: [seam as never] }, body);
        expect(e.findings.filter((f) => f.where.joint && f.severity === 'stop')).toEqual([]);
        for (const p of e.pieces) expect(judge(pieceMesh(p).mesh)).toMatchObject({ status: 'NoError', closed: true });
        const { own, other } = taken(e);
        expect(toKernel(kernel, own).intersect(toKernel(kernel, other)).volume()).toBeLessThan(0.05);
        const [[nx, ny, nz], { direction }] = [e.faces[0].frame.normal, e.joints[0]];
        const off = toKernel(kernel, own).translate([-4 * nx * direction, -4 * ny * direction, -4 * nz * direction]);
        expect(off.intersect(toKernel(kernel, other)).volume()).toBeLessThan(0.05);
        const { ways } = finished(swingOf(e, 'j1', kernel))!;
        expect(ways[0].free).toBeGreaterThan(angle - 1e-6);
        expect(ways[0].free).toBeLessThan(angle + 0.04);
      }),
      { numRuns: runs(2) },
    );
  });

  it('has its gap round its knuckles, beside them, and round its pin', () => {
    for (const gap of [0.05, 0.3]) {
      const { own, other } = taken(hinged({ gap, opens: 0.6 }));
      const far = ({ positions: p, triangles: t }: IndexedMesh, near: number): number[] => {
        const out: number[] = [];
        for (let i = 0; i < t.length; i += 3) {
          const corners = [0, 1, 2].map((k) => [0, 1, 2].map((a) => p[t[i + k] * 3 + a]));
          const middle = vecOf((a) => (corners[0][a] + corners[1][a] + corners[2][a]) / 3);
          const [e, f] = [1, 2].map((k) => vecOf((a) => corners[k][a] - corners[0][a]));
          const faces = Math.abs(dot(normalize(cross(e, f)), normalize([0, middle[1], middle[2]])));
          const all = [...corners, middle].map(([, y, z]) => Math.hypot(y, z));
          if (faces > 0.99 && all.every((r) => Math.abs(r - near) < 0.1)) out.push(...all);
        }
        return out;
      };
      const faces: [IndexedMesh, number][] = [
        [own, 4.5],
        [other, 4.5],
        [own, 4.5 + gap],
        [other, 4.5 + gap],
        [own, 1.5 + gap],
        [other, 1.5 + gap],
      ];
      for (const [mesh, radius] of faces) {
        const radii = far(mesh, radius).filter((r) => Math.abs(r - radius) < gap / 2);
        expect(radii.length).toBeGreaterThan(100);
        for (const r of radii) expect(Math.abs(r - radius)).toBeLessThan(0.0025);
      }
      // the walls that a knuckle's ends face, by rays along the axis beside the bore
      const ends = (mesh: IndexedMesh, z: number): number[] =>
        rayHits(buildBlocks(mesh), [-60, 0.01, z], [1, 0, 0]).map((t) => t - 60);
      const own3 = ends(own, 3.2);
      const other3 = ends(other, 3.2);
      const within = (list: number[]): number[] => list.filter((x) => Math.abs(x) < 14.9);
      const pairs = within(own3).flatMap((a) => within(other3).map((b) => Math.abs(a - b)));
      expect(Math.min(...pairs)).toBeGreaterThan(gap - 0.005);
      expect(Math.min(...pairs)).toBeLessThan(gap + 0.005);
    }
  });

  it('takes off and adds what a hinge is, by volume', () => {
    const e = hinged({ gap: 0.2, opens: 0.5, turn: 0 });
    const { own, other } = taken(e);
    const hinge = knucklesOf(e.context.plan.joints[0] as JointOf<'hinge'>, 0.2, 0);
    const cylinder = (from: number, to: number, radius: number) =>
      kernel.Manifold.cylinder(to - from, radius, radius, 400)
        .rotate([0, 90, 0])
        .translate([from, 0, 0]);
    const half = (top: boolean) => kernel.Manifold.cube([60, 40, 16]).translate([-30, -20, top ? 0 : -16]);
    const all = (list: readonly (readonly [number, number])[], radius: number, more = 0) =>
      kernel.Manifold.union(list.map(([a, b]) => cylinder(a - more, b + more, radius)));
    const bore = cylinder(-50, 50, 1.7);
    const other0 = half(true)
      .subtract(all(hinge.own, 4.7, 0.2))
      .add(all(hinge.other, 4.5))
      .subtract(bore);
    expect(Math.abs(toKernel(kernel, other).volume() / other0.volume() - 1)).toBeLessThan(2e-4);
    // the own piece loses a wedge on the right of the axis, which its knuckles stand in
    const wedge = kernel.Manifold.cube([200, 100, 100])
      .translate([-100, -100, -100])
      .intersect(
        kernel.Manifold.cube([200, 200, 100])
          .translate([-100, -100, 0])
          .rotate([degrees(hinge.opens), 0, 0]),
      );
    const own0 = half(false)
      .subtract(wedge)
      .subtract(all(hinge.other, 4.7, 0.2))
      .add(all(hinge.own, 4.5))
      .subtract(bore);
    expect(Math.abs(toKernel(kernel, own).volume() / own0.volume() - 1)).toBeLessThan(2e-4);
  });

  it('is measured: it opens until the kernel finds one piece in the other', () => {
    const angle = (70 * Math.PI) / 180;
    const { ways, moves } = finished(swingOf(hinged({ opens: angle }), 'j1', kernel))!;
    expect(ways).toHaveLength(1);
    expect(moves).toEqual([hinged().joints[0].male]);
    expect(ways[0].free).toBeGreaterThan(angle);
    expect(ways[0].free).toBeLessThan(angle + 0.04);
    expect(ways[0].towards[1]).toBeCloseTo(-1, 9);
  });

  it('says what is in its way, with a mend that helps', () => {
    const slim = hinged({ diameter: 5, pin: 3.5 });
    const [finding] = slim.findings.filter((f) => f.code === 'joint.slim');
    const { set } = finding.mend!.change as { set: Partial<Hinge> };
    expect(hinged({ diameter: 5, pin: 3.5, ...set }).findings.filter((f) => f.severity === 'stop')).toEqual([]);
    const long = box([-200, -20, -16], [200, 20, 16]);
    const stick = hinged({ length: 300, knuckles: 9 }, {}, long);
    expect(stick.findings.filter((f) => f.where.joint).map((f) => f.code)).toEqual(['joint.stock']);
    expect(hinged({ length: 59.6 }).findings.map((f) => f.code)).toContain('joint.edge');
    const pin = { id: 'j2', seam: 's1', at: [0, -14] as [number, number], kind: 'pin' as const, diameter: 4, depth: 5 };
    const two = hinged({}, { joints: [usual, pin] });
    expect(two.findings.map((f) => f.code)).toContain('joint.near');
  });

  it('gets a pin as long as its knuckles, which a printed one lies flat for', () => {
    const bought = hinged();
    expect(bought.loose).toMatchObject([{ what: 'metal rod 3, hinge pin', length: 30, count: 1, mesh: null }]);
    const [printed] = hinged({ stock: 'printed' }).loose;
    expect(judge(printed.mesh!)).toMatchObject({ status: 'NoError', closed: true });
    const size = sizeOf(boxOf(printed.mesh!.positions));
    expect(size[0]).toBeCloseTo(30, 6);
    expect(size[2]).toBeLessThan(2.7);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel } from '../../testing/judges.ts';
import { modelOfMesh, planOf } from '../../testing/proposing.ts';
import { runs } from '../../testing/runs.ts';
import { box } from '../../testing/shapes.ts';
import type { PlanInput } from '../document/index.ts';
import { type Evaluation, evaluateModel, pieceMesh } from '../evaluate/index.ts';
import { FITS } from '../joints/index.ts';
import { ballPlan, swingSizes } from '../joints/kinds/ball/form.ts';
import { ballLoad, type JointOf, jointSchema, kindOf } from '../joints/kinds/index.ts';
import type { IndexedMesh } from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';

type Tools = Parameters<typeof evaluateModel>[2];
const level = {
  id: 's1',
  kind: 'flat' as const,
  origin: [0, 0, 0] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
};
const block = box([-25, -25, -60], [25, 25, 60]);
type Ball = Extract<NonNullable<PlanInput['joints']>[number], { kind: 'ball' }>;

const balled = (
  mesh: IndexedMesh,
  more: Partial<Ball> = {},
  plan: Partial<PlanInput> = {},
  tools: Tools = { fallback, kernel },
): Evaluation =>
  evaluateModel(
    planOf({
      seams: [level],
      joints: [{ id: 'j1', seam: 's1', at: [0, 0], kind: 'ball', diameter: 14, neck: 7, ...more }],
      ...plan,
    }),
    modelOfMesh(mesh),
    tools,
  );

const degrees = (a: number): number => (a * 180) / Math.PI;

/** The pieces of the joint as the kernel takes them, and the ball's middle. */
function taken(e: Evaluation) {
  const [joint] = e.joints;
  const ball = e.context.plan.joints[0] as JointOf<'ball'>;
  const sizes = ballPlan(ball, joint.gap);
  const centre: [number, number, number] = [joint.u, joint.v, sizes.centre * joint.direction];
  const [own, other] = [joint.male, joint.socket].map((key) => pieceMesh(e.pieces.find((p) => p.key === key)!).mesh);
  return { joint, centre, own, other, room: swingSizes(sizes, ball.swing) };
}

/** How much of the pieces is in each other when the own one is swung about the ball's middle, mm³. */
function swungInto(e: Evaluation, angle: number, towards: number): number {
  const { centre, own, other } = taken(e);
  const [x, y, z] = centre;
  const turned = toKernel(kernel, own)
    .translate([-x, -y, -z])
    .rotate([0, 0, -degrees(towards)])
    .rotate([0, degrees(angle), 0])
    .rotate([0, 0, degrees(towards)])
    .translate(centre);
  return turned.intersect(toKernel(kernel, other)).volume();
}

/** Distances from the ball's middle of the corners and middles of the triangles about as far from it, and about as high. */
function radii({ positions: p, triangles: t }: IndexedMesh, c: readonly number[], radius: number): number[] {
  const out: number[] = [];
  for (let i = 0; i < t.length; i += 3) {
    const corners = [0, 1, 2].map((k) => [0, 1, 2].map((a) => p[t[i + k] * 3 + a] - c[a]));
    const middle = [0, 1, 2].map((a) => (corners[0][a] + corners[1][a] + corners[2][a]) / 3);
    const far = [...corners, middle].map((x) => Math.hypot(...x));
    const level = corners.every((x) => Math.abs(x[2]) < 0.25 * radius);
    if (level && far.every((d) => Math.abs(d - radius) < 0.1)) out.push(...far);
  }
  return out;
}

describe('a ball joint', () => {
  it('of any size, fit and side swings as far as it says and no farther', () => {
    const shape = fc.record({
      diameter: fc.integer({ min: 8, max: 18 }),
      x: fc.integer({ min: -5, max: 5 }),
      y: fc.integer({ min: -5, max: 5 }),
      swing: fc.integer({ min: 5, max: 25 }),
      fit: fc.constantFrom(...FITS),
      towards: fc.double({ min: 0, max: 6.28, noNaN: true }),
      male: fc.constantFrom('+' as const, '-' as const),
    });
    fc.assert(
      fc.property(shape, ({ x, y, towards, diameter, swing, ...more }) => {
        const angle = (swing * Math.PI) / 180;
        const usual = kindOf({ kind: 'ball' }).usual(diameter);
        const e = balled(block, { ...usual, ...more, at: [x, y], swing: angle });
        expect(e.findings.filter((f) => f.severity !== 'note')).toEqual([]);
        for (const p of e.pieces) expect(judge(pieceMesh(p).mesh)).toMatchObject({ status: 'NoError', closed: true });
        expect(swungInto(e, angle / 2, towards + 2)).toBeLessThan(1e-6);
        expect(swungInto(e, angle, towards)).toBeLessThan(1e-6);
        expect(swungInto(e, angle + 0.06, towards)).toBeGreaterThan(0.1);
      }),
      { numRuns: runs(5) },
    );
  });

  it('has its gap wherever ball and cup face each other', () => {
    for (const gap of [0.05, 0.3]) {
      const { joint, centre, own, other } = taken(balled(block, { gap }));
      expect(joint.gap).toBe(gap);
      const ball = radii(own, centre, 7);
      const cup = radii(other, centre, 7 + gap);
      expect(ball.length).toBeGreaterThan(3000);
      expect(cup.length).toBeGreaterThan(3000);
      const gaps = [Math.min(...cup) - Math.max(...ball), Math.max(...cup) - Math.min(...ball)];
      for (const g of gaps) expect(Math.abs(g - gap)).toBeLessThan(0.005);
    }
  });

  it('takes off its own piece what its swing needs, by the volume of that', () => {
    const swing = (15 * Math.PI) / 180;
    const e = balled(block, { swing });
    const { own, room } = taken(e);
    const ring = kernel.Manifold.cylinder(60, 0.001, 0.001 + 60 / room.slope, 400)
      .translate([0, 0, room.lift])
      .mirror([0, 0, 1])
      .translate([0, 0, 0]);
    const half = kernel.Manifold.cube([50, 50, 60], false).translate([-25, -25, -60]);
    const foot = kernel.Manifold.cylinder(60, room.foot, room.foot, 200).translate([0, 0, -60]);
    const standing = toKernel(kernel, own).trimByPlane([0, 0, -1], 0);
    const wanted = half.intersect(ring).add(foot);
    expect(standing.volume() / wanted.volume()).toBeGreaterThan(0.998);
    expect(standing.volume() / wanted.volume()).toBeLessThan(1.002);
  });

  it('says when it would break, bind or have no room, with a mend that helps', () => {
    const mended = (more: Partial<Ball>, code: string) => {
      const e = balled(block, more);
      const [finding] = e.findings.filter((f) => f.code === code);
      const { set } = finding.mend!.change as { set: Partial<Ball> };
      const after = balled(block, { ...more, ...set });
      expect(after.findings.filter((f) => f.code === code && f.severity === 'stop')).toEqual([]);
      return finding;
    };
    expect(mended({ bite: 0.8, slot: 1 }, 'joint.slot')).toMatchObject({ severity: 'stop', value: 1, limit: 1.6 });
    expect(mended({ bite: 0.5, length: 0, slot: 1.2 }, 'joint.strain').value).toBeGreaterThan(0.03);
    expect(mended({ diameter: 10, neck: 6.5, bite: 1, slot: 2, swing: 0.5, length: 6 }, 'joint.swing').limit).toBe(0.5);
    const bare = balled(block, {}, {}, { fallback });
    expect(bare.findings.map((f) => f.code)).toContain('joint.shaft');
    expect(bare.joints[0].built).toBe(false);
    // no other joint has room on what is taken off
    const pin = { id: 'j2', seam: 's1', at: [20, 20] as [number, number], kind: 'pin' as const, diameter: 4, depth: 5 };
    const two = balled(
      block,
      {},
      { joints: [{ id: 'j1', seam: 's1', at: [0, 0], kind: 'ball', diameter: 14, neck: 7 }, pin] },
    );
    expect(two.findings.map((f) => f.code)).toContain('joint.near');
  });

  it('stays where it is put as far as its halves are sprung out beyond the gap', () => {
    const of = (spread: number, gap: number) =>
      ballLoad(
        jointSchema.parse({ id: 'j1', seam: 's1', at: [0, 0], kind: 'ball', diameter: 14, neck: 7, spread }) as never,
        gap,
        { modulus: 2000 },
      ).moment;
    expect(of(0.2, 0.2)).toBe(0);
    expect(of(0.3, 0.2)).toBeGreaterThan(0);
    expect(of(0.4, 0.2) / of(0.3, 0.2)).toBeCloseTo(2, 6);
    expect(of(0.3, 0.1) / of(0.3, 0.2)).toBeCloseTo(2, 1);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel, meshOfSolid } from '../../testing/judges.ts';
import { modelOfMesh, planOf } from '../../testing/proposing.ts';
import { runs } from '../../testing/runs.ts';
import { box } from '../../testing/shapes.ts';
import type { PlanInput } from '../document/index.ts';
import { type Evaluation, evaluateModel, pieceMesh } from '../evaluate/index.ts';
import { screwSize } from '../joints/kinds/index.ts';
import type { IndexedMesh } from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';

const level = {
  id: 's1',
  kind: 'flat' as const,
  origin: [0, 0, 0] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
};
const block = box([-30, -30, -40], [30, 30, 40]);
type Screw = Extract<NonNullable<PlanInput['joints']>[number], { kind: 'screw' }>;

const screwed = (
  mesh: IndexedMesh,
  more: Partial<Screw> = {},
  plan: Partial<PlanInput> = {},
  tools = { fallback, kernel },
): Evaluation =>
  evaluateModel(
    planOf({
      seams: [level],
      joints: [{ id: 'j1', seam: 's1', at: [0, 0], kind: 'screw', grip: 6, ...more }],
      ...plan,
    }),
    modelOfMesh(mesh),
    tools,
  );

const codes = (e: Evaluation): string[] => e.findings.map((f) => f.code);
const pieceAt = (e: Evaluation, side: '+' | '-') => e.pieces.find((p) => p.key.endsWith(side))!;

describe('a screw', () => {
  it('of any size takes a hole with room for its head out of one piece, and its own out of the other', () => {
    const shape = fc.record({
      size: fc.constantFrom('M2' as const, 'M3' as const, 'M4' as const, 'M6' as const),
      into: fc.constantFrom('insert' as const, 'nut' as const, 'plastic' as const),
      grip: fc.integer({ min: 3, max: 20 }),
      x: fc.integer({ min: -15, max: 15 }),
      y: fc.integer({ min: -15, max: 15 }),
      turn: fc.integer({ min: 0, max: 6 }),
      male: fc.constantFrom('+' as const, '-' as const),
    });
    fc.assert(
      fc.property(shape, ({ x, y, ...more }) => {
        const e = screwed(block, { ...more, at: [x, y], fit: 'slip', gap: 0.2 });
        expect(e.findings.filter((f) => f.severity === 'stop')).toEqual([]);
        const own = pieceAt(e, more.male);
        const s = screwSize(more.size);
        // bored and counterbored by the kernel itself
        const sign = more.male === '+' ? 1 : -1;
        const drum = (d: number, from: number, to: number) =>
          kernel.Manifold.cylinder(to - from, d / 2 + 0.2, d / 2 + 0.2, 200).translate([x, y, from]);
        const tool = drum(s.clear, -1, more.grip + 0.01).add(drum(s.head, more.grip, 41));
        const half = kernel.Manifold.cube([60, 60, 40]).translate([-30, -30, 0]);
        const wanted = half.subtract(tool).mirror(sign > 0 ? [0, 0, 0] : [0, 0, 1]);
        const made = toKernel(kernel, pieceMesh(own).mesh);
        const want = sign > 0 ? half.subtract(tool) : wanted;
        expect(made.status()).toBe('NoError');
        // outlines touch their circles from outside: at most a quarter of a percent more is taken out
        const taken = 60 * 60 * 40 - made.volume();
        const told = 60 * 60 * 40 - want.volume();
        expect(taken / told).toBeGreaterThan(0.997);
        expect(taken / told).toBeLessThan(1.006);
        for (const p of e.pieces) expect(judge(pieceMesh(p).mesh).status).toBe('NoError');
        // what is as thick as the screw goes through both, and meets nothing
        const both = e.pieces.map((p) => toKernel(kernel, pieceMesh(p).mesh)).reduce((a, b) => a.add(b));
        const thick = more.into === 'plastic' ? s.core : s.thread;
        const length = more.grip + 3;
        const bolt = kernel.Manifold.cylinder(length, thick / 2 - 0.01, thick / 2 - 0.01, 60).translate([
          x,
          y,
          sign > 0 ? -3 : -more.grip,
        ]);
        expect(both.intersect(bolt).volume()).toBeLessThan(1e-3);
        const head = kernel.Manifold.cylinder(60, s.head / 2, s.head / 2, 60).translate([
          x,
          y,
          sign > 0 ? more.grip + 0.01 : -more.grip - 60.01,
        ]);
        expect(both.intersect(head).volume()).toBeLessThan(1e-3);
        expect(e.loose).toMatchObject([{ kind: 'screw', count: 1 }]);
      }),
      { numRuns: runs(15) },
    );
  });

  it('leaves room for head and thread, or says what is missing and how to mend it', () => {
    // under the head there is less than asked for
    const thin = screwed(box([-30, -30, -5], [30, 30, 40]), { grip: 8 });
    const [finding] = thin.findings.filter((f) => f.code === 'joint.head');
    expect(finding).toMatchObject({ severity: 'stop', limit: 8 });
    expect(finding.value).toBeCloseTo(5, 6);
    expect(finding.mend?.change).toMatchObject({ do: 'setJoint', set: { grip: 4.8 } });
    expect(
      screwed(box([-30, -30, -5], [30, 30, 40]), { grip: 4.8 }).findings.filter((f) => f.severity === 'stop'),
    ).toEqual([]);
    expect(codes(screwed(block, { grip: 6, length: 6 }))).toContain('joint.thread');
    expect(codes(screwed(block, { grip: 1 }))).toContain('joint.grip');
    // its own bore comes out on the other side
    expect(codes(screwed(box([-30, -30, -40], [30, 30, 4])))).toContain('joint.through');
    expect(codes(screwed(block, { at: [28, 0] }))).toContain('joint.edge');
  });

  it('is told of when more of its piece stands before its head', () => {
    const fork = meshOfSolid(
      kernel.Manifold.cube([60, 60, 80], true).subtract(
        kernel.Manifold.cube([40, 70, 10], true).translate([5, 0, -25]),
      ),
    );
    const e = screwed(fork, { grip: 6 });
    const [finding] = e.findings.filter((f) => f.code === 'joint.head');
    expect(finding).toMatchObject({ severity: 'warn' });
    expect(finding.value).toBeCloseTo(10, 3);
    expect(pieceAt(e, '-').joints).toEqual(['j1']);
  });

  it('is not built without the kernel, and keeps clear of other joints', () => {
    const bare = evaluateModel(
      planOf({ seams: [level], joints: [{ id: 'j1', seam: 's1', at: [0, 0], kind: 'screw', grip: 6 }] }),
      modelOfMesh(block),
      { fallback },
    );
    expect(codes(bare)).toContain('joint.shaft');
    expect(bare.pieces.every((p) => p.joints.length === 0)).toBe(true);
    const pin = { id: 'j2', seam: 's1', at: [5, 0] as [number, number], kind: 'pin' as const, diameter: 5, depth: 8 };
    const near = evaluateModel(
      planOf({ seams: [level], joints: [{ id: 'j1', seam: 's1', at: [0, 0], kind: 'screw', grip: 6 }, pin] }),
      modelOfMesh(block),
      { fallback, kernel },
    );
    expect(codes(near)).toContain('joint.near');
  });

  it('takes its hole beside others in one piece, and out through another face of it', () => {
    const at = (id: string, x: number) => ({
      id,
      seam: 's1',
      at: [x, 0] as [number, number],
      kind: 'screw' as const,
      grip: 6,
    });
    const e = screwed(block, {}, { joints: [at('j1', -16), at('j2', 0), at('j3', 16)] });
    expect(e.findings.filter((f) => f.severity === 'stop')).toEqual([]);
    const own = pieceAt(e, '-');
    expect(own.joints).toEqual(['j1', 'j2', 'j3']);
    const one = 60 * 60 * 40 - pieceAt(screwed(block), '-').volume;
    expect((60 * 60 * 40 - own.volume) / one).toBeCloseTo(3, 3);
    expect(judge(pieceMesh(own).mesh)).toMatchObject({ status: 'NoError', closed: true });
    // a second seam lies across the way of the head
    const below = { ...level, id: 's2', origin: [0, 0, -20] as [number, number, number] };
    const through = screwed(
      block,
      {},
      { seams: [level, below], joints: [at('j1', -16), { ...at('j2', 16), grip: 4 }] },
    );
    for (const p of through.pieces) expect(judge(pieceMesh(p).mesh).status).toBe('NoError');
  });

  it('that leans is as wide square to its axis', () => {
    const e = screwed(block, { lean: [0.3, 0, 1] });
    expect(e.findings.filter((f) => f.severity === 'stop')).toEqual([]);
    const both = e.pieces.map((p) => toKernel(kernel, pieceMesh(p).mesh)).reduce((a, b) => a.add(b));
    const angle = (Math.atan(0.3) * 180) / Math.PI;
    const bolt = kernel.Manifold.cylinder(20, 1.5, 1.5, 60, true).rotate([0, angle, 0]);
    expect(both.intersect(bolt.intersect(kernel.Manifold.cube([60, 60, 10], true))).volume()).toBeLessThan(1e-3);
  });
});

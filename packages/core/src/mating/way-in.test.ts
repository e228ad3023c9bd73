import { describe, expect, it } from 'vitest';
import { cutBy, fan, flat } from '../../testing/plans.ts';
import { box, moved, together, torus } from '../../testing/shapes.ts';
import type { SeamInput } from '../document/index.ts';
import { dot } from '../mesh/vec.ts';

const bar = box([0, -10, 0], [160, 10, 20]);
const across = (id: string, x: number, more: object = {}): SeamInput => flat(id, [x, 0, 0], [1, 0, 0], more);
const groupsOf = (e: ReturnType<typeof cutBy>) => e.ways.map((w) => w.step.groups.map((g) => [...g].sort()));

describe('the steps of joining', () => {
  it('put together first what was cut last', () => {
    const e = cutBy(bar, [across('s1', 80), across('s2', 40), across('s3', 120)]);
    const codes = groupsOf(e).map((groups) =>
      groups.map((g) =>
        g
          .map((key) => e.pieces.find((p) => p.key === key)!.code)
          .sort()
          .join(''),
      ),
    );
    expect(codes).toEqual([
      ['A3', 'A4'],
      ['A1', 'A2'],
      ['A1A2', 'A3A4'],
    ]);
  });

  it('join every piece, each face in one step', () => {
    const e = cutBy(bar, [across('s1', 80), flat('s2', [0, 0, 10], [0, 0, 1]), across('s3', 30)]);
    expect(e.ways).toHaveLength(e.pieces.length - 1);
    const faces = e.ways.flatMap((w) => w.step.faces.map((f) => f.id));
    expect([...faces].sort()).toEqual(e.faces.map((f) => f.id).sort());
    const last = e.ways.at(-1)!;
    expect([...last.step.groups[0], ...last.step.groups[1]].sort()).toEqual(e.pieces.map((p) => p.key).sort());
  });

  it('close a fan as two halves, at its last two faces together', () => {
    const e = cutBy(
      torus(60, 48, 16, () => 12),
      [fan('s1', [0, 0, 0], [0, 0, 1], 6)],
    );
    expect(e.pieces).toHaveLength(6);
    const sizes = e.ways.map((w) => [w.step.groups[0].length, w.step.groups[1].length].sort());
    expect(sizes.at(-1)).toEqual([3, 3]);
    expect(e.ways.map((w) => w.step.faces.length)).toEqual([1, 1, 1, 1, 2]);
    // and the halves are drawn off square to both faces that close
    const { out, step } = e.ways.at(-1)!;
    for (const f of step.faces) expect(Math.abs(dot(out!, f.frame.normal))).toBeCloseTo(1, 6);
  });

  it('bring bodies that touch together at the end', () => {
    const foot = moved(box([0, -10, -20], [160, 10, 0]), (x, y, z) => [x, y, z]);
    const e = cutBy(together(bar, foot), [across('s1', 80)]);
    const last = e.ways.at(-1)!;
    expect(last.step.faces.every((f) => f.contact)).toBe(true);
    expect(last.step.groups.map((g) => g.length)).toEqual([2, 2]);
  });

  it('draw a piece off along the seam’s normal, and along leaning joints where those guide it', () => {
    const pin = { id: 'j1', kind: 'pin' as const, seam: 's1', at: [0, 0] as [number, number], diameter: 6, depth: 6 };
    const seam = across('s1', 80, { origin: [80, 0, 10] });
    const straight = cutBy(bar, [seam], { joints: [pin] });
    expect(straight.ways[0].out!.map(Math.abs)).toEqual([1, 0, 0].map((x) => expect.closeTo(x, 6)));
    const leaning = cutBy(bar, [seam], { joints: [{ ...pin, lean: [1, 0.3, 0] }] });
    const [x, y] = leaning.ways[0].out!;
    expect(y / x).toBeCloseTo(0.3, 6);
  });
});

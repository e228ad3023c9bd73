import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel } from '../../testing/judges.ts';
import { cutBy, flat } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { box } from '../../testing/shapes.ts';
import { cup } from '../../testing/shells.ts';
import { pieceMesh } from '../evaluate/piece-mesh.ts';
import { toPrintable } from '../formats/printable.ts';
import { engraved, textWidth } from '../labels/index.ts';
import { boxOf, volume } from '../mesh/measure.ts';
import { topology } from '../mesh/topology.ts';
import type { IndexedMesh } from '../mesh/types.ts';
import { toKernel } from '../solid/kernel.ts';
import { type CouponWish, couponOf } from './coupon.ts';
import { rehearse } from './rehearsal.ts';

function solid(mesh: IndexedMesh) {
  expect(topology(mesh).watertight).toBe(true);
  const said = judge(toPrintable(mesh).mesh);
  expect(said.status).toBe('NoError');
  expect(volume(mesh)).toBeGreaterThan(0);
  return toKernel(kernel, mesh);
}

describe('a coupon', () => {
  const ladder = { from: 0.05, step: 0.05, count: 6 };
  const kinds: CouponWish['joint'][] = [
    { kind: 'pin', diameter: 6, depth: 12 },
    { kind: 'key', width: 12, height: 7, depth: 5 },
    { kind: 'cone', diameter: 8 },
    { kind: 'dowel', diameter: 6, depth: 10 },
    { kind: 'dowel', stock: 'filament', diameter: 1.75, depth: 8 },
    { kind: 'snap', diameter: 8, depth: 12 },
    { kind: 'magnet', diameter: 6, thickness: 3 },
    { kind: 'lap', lip: 1.2, depth: 4 },
  ];

  it.each(kinds.map((k) => [k.kind, k] as const))(
    'of a %s lies on the bed as closed solids, without overhang',
    (_, joint) => {
      const coupon = couponOf({ joint, ...ladder }, fallback);
      expect(coupon.gaps).toEqual([0.05, 0.1, 0.15, 0.2, 0.25, 0.3]);
      let sum = 0;
      for (const part of coupon.parts) {
        solid(part.mesh);
        sum += volume(part.mesh);
        expect(boxOf(part.mesh.positions).min[2]).toBeCloseTo(0, 9);
      }
      expect(coupon.volume).toBeCloseTo(sum, 6);
      const boxes = coupon.parts.map((p) => boxOf(p.mesh.positions));
      if (boxes[1]) expect(boxes[1].min[1]).toBeGreaterThan(boxes[0].max[1] + 3);
    },
  );

  it('has the male half and sockets wider by each of the gaps', () => {
    fc.assert(
      fc.property(fc.integer({ min: 20, max: 100 }), fc.integer({ min: 1, max: 8 }), (d, s) => {
        const diameter = d / 10;
        const step = s / 100;
        const { parts, gaps } = couponOf(
          { joint: { kind: 'pin', diameter, depth: 5, chamfer: 0 }, from: step, step, count: 4 },
          fallback,
        );
        const [block, stub] = parts.map((p) => solid(p.mesh));
        const size = boxOf(parts[0].mesh.positions).max;
        // a slice under the engraving has only the sockets in it
        const slice = block.trimByPlane([0, 0, 1], 2).trimByPlane([0, 0, -1], -3);
        const socket = (gap: number) => Math.PI * (diameter / 2 + gap) ** 2;
        const holes = gaps.reduce((sum, g) => sum + socket(g), 0);
        expect(size[0] * size[1] - slice.volume()).toBeCloseTo(holes, 0);
        const peg = stub.trimByPlane([0, 0, 1], 3.5);
        expect(Math.abs(peg.volume() / 4.5 - (Math.PI * diameter ** 2) / 4)).toBeLessThan(0.02 * diameter ** 2);
        for (const x of [block, stub, slice, peg]) x.delete();
      }),
      { numRuns: runs(6) },
    );
  });

  it('is refused when the ladder cannot be', () => {
    const bad = (more: object) => () => couponOf({ joint: kinds[0], ...ladder, ...more }, fallback);
    expect(bad({ count: 1 })).toThrow(/2 to 12 gaps/);
    expect(bad({ from: -0.1 })).toThrow(/2 to 12 gaps/);
    expect(bad({ step: 0 })).toThrow(/2 to 12 gaps/);
    expect(() => couponOf({ joint: { kind: 'pin', diameter: -1, depth: 3 }, ...ladder }, fallback)).toThrow(
      /diameter must be/,
    );
  });

  it('is small enough to print in about twenty minutes', () => {
    const { minutes } = couponOf({ joint: { kind: 'pin', diameter: 6, depth: 8 }, ...ladder }, fallback);
    expect(minutes).toBeGreaterThan(5);
    expect(minutes).toBeLessThan(25);
  });
});

describe('engraved figures', () => {
  it('stay within their width and height, stroke apart from stroke', () => {
    const strokes = engraved('.150', 3, 2, 4, 0.6);
    expect(strokes).toHaveLength(1 + 2 + 5 + 6);
    const points = strokes.flatMap((s) => [...s.rings[0].loop]);
    const u = points.filter((_, i) => i % 2 === 0);
    const v = points.filter((_, i) => i % 2 === 1);
    expect(Math.min(...u)).toBeCloseTo(3, 9);
    expect(Math.max(...u)).toBeCloseTo(3 + textWidth('.150', 4), 9);
    expect([Math.min(...v), Math.max(...v)]).toEqual([expect.closeTo(2, 9), expect.closeTo(6, 9)]);
    const boxes = strokes.map((s) => s.rings[0].loop);
    boxes.forEach((a, i) => {
      for (const b of boxes.slice(i + 1)) {
        const apart = Math.max(b[0] - a[2], a[0] - b[2], b[1] - a[5], a[1] - b[5]);
        expect(apart).toBeGreaterThan(0.05);
      }
    });
  });
});

describe('a rehearsal slice', () => {
  const bar = box([-30, -20, -60], [30, 20, 60]);
  const e = cutBy(bar, [flat('s1', [0, 0, 0], [0, 0.2, 1])], {
    joints: [
      { id: 'j1', kind: 'key', seam: 's1', at: [0, -14], width: 10, depth: 7 },
      { id: 'j2', kind: 'dowel', seam: 's1', at: [0, 14], diameter: 6, depth: 9 },
    ],
  });

  it('is the real seam, a few millimetres of either side, as deep as its sockets ask for', () => {
    const slices = rehearse(e, e.faces[0], 5, fallback);
    expect(slices.map((s) => s.piece)).toEqual(e.faces[0].pieces);
    const solids = slices.map((s) => solid(s.mesh));
    expect(solids[0].intersect(solids[1]).volume()).toBeLessThan(0.01);
    for (const [i, slice] of slices.entries()) {
      const piece = toKernel(kernel, toPrintable(meshOf(e, slice.piece)).mesh);
      expect(solids[i].subtract(piece).volume()).toBeLessThan(0.01);
      const { normal, offset } = e.faces[0].frame;
      const reach = boxAlong(slice.mesh, normal).map((x) => x - offset);
      // the dowel's socket is 9.3 deep, 1.6 lie under it
      expect(i === 0 ? -reach[0] : reach[1]).toBeCloseTo(10.9, 4);
    }
  });

  it('of a lap keeps its lip and its rebate', () => {
    const shell = cup(3.2, 60, 48);
    const e = cutBy(shell, [flat('s1', [0, 0, 0], [0, 0, 1])], {
      joints: [{ id: 'j1', kind: 'lap', seam: 's1', at: [58, 0], lip: 1.3, depth: 4 }],
    });
    const [below, above] = rehearse(e, e.faces[0], 6, fallback).map((s) => s.mesh);
    for (const mesh of [below, above]) solid(mesh);
    const [low, high] = [boxOf(below.positions), boxOf(above.positions)];
    expect([low.min[2], low.max[2]].map((z) => Number(z.toFixed(4)) + 0)).toEqual([-6, 4]);
    expect([high.min[2], high.max[2]].map((z) => Number(z.toFixed(4)) + 0)).toEqual([0, 6]);
    // only round one place of it
    const [piece] = rehearse(e, e.faces[0], 6, fallback, 'j1').map((s) => s.mesh);
    solid(piece);
    expect(volume(piece)).toBeLessThan(volume(below) / 8);
  });

  it('can be only what is round one joint', () => {
    const [a, b] = rehearse(e, e.faces[0], 5, fallback, 'j1');
    for (const { mesh } of [a, b]) {
      solid(mesh);
      const { min, max } = boxOf(mesh.positions);
      expect(max[0] - min[0]).toBeLessThan(26);
      expect((max[0] + min[0]) / 2).toBeCloseTo(-14, 0);
    }
  });
});

const meshOf = (e: ReturnType<typeof cutBy>, key: string): IndexedMesh =>
  pieceMesh(e.pieces.find((p) => p.key === key)!).mesh;

function boxAlong({ positions: p }: IndexedMesh, n: readonly number[]): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (let k = 0; k < p.length; k += 3) {
    const d = n[0] * p[k] + n[1] * p[k + 1] + n[2] * p[k + 2];
    low = Math.min(low, d);
    high = Math.max(high, d);
  }
  return [low, high];
}

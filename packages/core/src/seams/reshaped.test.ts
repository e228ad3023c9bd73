import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel, meshOfSolid } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, moved } from '../../testing/shapes.ts';
import { cellOf, closedMesh, cutCells, type Frame, fromFrame, makeFrame, type Solid, solidsOf } from '../cut/index.ts';
import type { Carving } from '../joints/index.ts';
import { type IndexedMesh, type Vec3, vecOf, volume } from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';
import { reshapedSolid } from './reshaped.ts';

const lump = blob(30, 40, 120, (a, z) => 55 + 4 * Math.sin(5 * a) - 9 * z * z);

/** What lies below a plane of a body, and that plane. */
function below(mesh: IndexedMesh, plane: Frame): { solid: Solid; frames: Map<string, Frame> } {
  const cut = cutCells([cellOf(mesh)], 's1', plane, 1e-4, new Map());
  const frames = new Map([['s1', cut.plane]]);
  return { solid: solidsOf(cut.parts[0].below!, frames, fallback)[0], frames };
}

const meshOf = (solid: Solid): IndexedMesh => closedMesh(solid, () => 0);

/** A box in a frame turned in its plane: `from` and `to` along it, across it, and along the normal. */
function bar(frame: Frame, turn: number, from: Vec3, to: Vec3): IndexedMesh {
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return moved(box(from, to), (x, y, z) => [...fromFrame(frame, x * c - y * s, x * s + y * c, z)]);
}

const axes = ({ u, v }: Frame, turn: number): Pick<Carving, 'along' | 'across'> => {
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return { along: vecOf((k) => c * u[k] + s * v[k]), across: vecOf((k) => c * v[k] - s * u[k]) };
};

const corners = ({ positions: p }: Solid): string[] =>
  Array.from({ length: p.length / 3 }, (_, v) => String(p.slice(v * 3, v * 3 + 3)));

describe('a solid that is carved', () => {
  it('comes to what the kernel makes of the whole, and far from the place it keeps all its corners', () => {
    const shape = fc.record({
      x: fc.integer({ min: -5, max: 5 }),
      y: fc.integer({ min: -5, max: 5 }),
      turn: fc.double({ min: -3, max: 3, noNaN: true }),
      at: fc.integer({ min: -12, max: 12 }),
      wide: fc.integer({ min: 2, max: 9 }),
      long: fc.integer({ min: 8, max: 200 }),
    });
    fc.assert(
      fc.property(shape, ({ x, y, turn, at, wide, long }) => {
        const { solid, frames } = below(lump, makeFrame([0, 0, 3], [x / 15, y / 15, 1]));
        const frame = frames.get('s1')!;
        const groove = bar(frame, turn, [-long / 2, at - wide / 2, -7.3], [long / 2, at + wide / 2, 3.1]);
        const tooth = bar(frame, turn, [-3.2, at - wide / 3, -8.1], [3.2, at + wide / 3, 6.2]);
        const carving: Carving = {
          steps: [
            { does: 'take', meshes: [groove] },
            { does: 'add', meshes: [tooth] },
          ],
          ...axes(frame, turn),
        };
        const made = reshapedSolid(solid, frames, [carving], kernel, fallback);
        const all = made.map(meshOf);
        for (const m of all) expect(judge(m)).toMatchObject({ status: 'NoError', closed: true });
        const wanted = toKernel(kernel, meshOf(solid))
          .subtract(toKernel(kernel, groove))
          .add(toKernel(kernel, tooth))
          .volume();
        const found = all.reduce((n, m) => n + volume(m), 0);
        expect(Math.abs(found / wanted - 1)).toBeLessThan(2e-6);
        const kept = new Set(made.flatMap(corners));
        const { across } = carving;
        const away = (v: number): number =>
          Math.abs(across.reduce((d, n, k) => d + n * (solid.positions[v * 3 + k] - frame.origin[k]), 0) - at);
        const far = corners(solid).filter((_, v) => away(v) > wide / 2 + 1.6);
        expect(far.length).toBeGreaterThan(500);
        expect(far.filter((c) => !kept.has(c))).toEqual([]);
      }),
      // of the example the corners that lie in a row are in line but for rounding
      { numRuns: runs(25), examples: [[{ x: 5, y: 2, turn: 0, at: 12, wide: 2, long: 15 }]] },
    );
  });

  it('is swept by a plane where that takes off no more than the sweep, else by the kernel', () => {
    const { solid, frames } = below(lump, makeFrame([0, 0, 3], [0, 0, 1]));
    const frame = frames.get('s1')!;
    const plane = makeFrame(fromFrame(frame, 6, 0), [1, 0, 0.4]);
    const before = toKernel(kernel, meshOf(solid));
    for (const deep of [200, 9]) {
      // a wedge above the plane, as deep as the solid or less
      const room = toKernel(kernel, bar(frame, 0, [-90, -90, -deep], [90, 90, 1])).trimByPlane(
        [plane.normal[0], plane.normal[1], plane.normal[2]],
        plane.offset,
      );
      const mesh = meshOfSolid(room);
      const groove = bar(frame, 0, [2, -90, -3], [8, 90, 2]);
      const made = reshapedSolid(
        solid,
        frames,
        [
          {
            sweep: { plane, holds: ([, , z]) => z > frame.origin[2] - deep, meshes: [mesh] },
            steps: [{ does: 'take', meshes: [groove] }],
            along: frame.v,
            across: frame.u,
          },
        ],
        kernel,
        fallback,
      );
      const all = made.map(meshOf);
      for (const m of all) expect(judge(m)).toMatchObject({ status: 'NoError', closed: true });
      const wanted = before.subtract(room).subtract(toKernel(kernel, groove)).volume();
      expect(Math.abs(all.reduce((n, m) => n + volume(m), 0) / wanted - 1)).toBeLessThan(2e-6);
      expect(made.flatMap((s) => s.caps.map((c) => c.seam))).toEqual(['s1']);
    }
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, torus } from '../../testing/shapes.ts';
import { type IndexedMesh, type Vec3, volume } from '../mesh/index.ts';
import { type Cell, cellOf } from './cell.ts';
import { cutCells } from './cut.ts';
import { windowOf } from './effective.ts';
import { type Frame, makeFrame } from './frame.ts';
import { rejoined } from './rejoin.ts';
import { closeCell, closedMesh } from './solids.ts';
import { extent } from './split.ts';

/** What is left of a cell on either side of a plane, and the planes known then. */
function parted(cell: Cell, seam: string, plane: Frame, frames: Map<string, Frame>): [Cell, Cell] {
  const { size, reach } = extent(cell.positions);
  const normals = new Map([...frames].map(([id, f]) => [id, f.normal]));
  const cut = cutCells([cell], seam, plane, windowOf(size, reach), normals);
  frames.set(seam, cut.plane);
  const { above, below } = cut.parts[0];
  return [above!, below!];
}

const whole = (cell: Cell, frames: ReadonlyMap<string, Frame>): IndexedMesh =>
  closedMesh(closeCell(cell, frames, fallback), () => 0);

const solid = fc.constantFrom<IndexedMesh>(
  box([-30, -20, -25], [30, 20, 25]),
  torus(30, 40, 24, () => 9),
  blob(20, 30, 60, (a, z) => 26 + 4 * Math.sin(3 * a) - 6 * z * z),
);
const direction = fc
  .tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }))
  .filter((d) => d.some((x) => x !== 0))
  .map((d): Vec3 => [d[0], d[1], d[2]]);
const place = fc.double({ min: -5, max: 5, noNaN: true });

describe('cells that two planes parted', () => {
  it('are one again, with the face of a third as it was', () => {
    fc.assert(
      fc.property(solid, direction, direction, place, (mesh, face, across, at) => {
        const frames = new Map<string, Frame>();
        const [cell] = parted(cellOf(mesh), 'face', makeFrame([0, 0, at], face), frames);
        const before = whole(cell, frames);
        const known = new Map(frames);
        const along = makeFrame([0, 0, 0], across);
        const offsets = [...Array(before.positions.length / 3).keys()].map((v) =>
          along.normal.reduce((s, n, k) => s + n * before.positions[v * 3 + k], 0),
        );
        const [low, high] = [Math.min(...offsets), Math.max(...offsets)];
        const planeAt = (share: number) => {
          const offset = low + share * (high - low);
          return makeFrame([along.normal[0] * offset, along.normal[1] * offset, along.normal[2] * offset], across);
        };
        const [rest, first] = parted(cell, 'a', planeAt(0.41), frames);
        const [last, middle] = parted(rest, 'b', planeAt(0.63), frames);
        const one = rejoined([first, last, middle], new Set(['a', 'b']))!;
        expect(one.caps.map((c) => c.seam)).toEqual(['face']);
        const after = whole(one, known);
        expect(judge(after)).toMatchObject({ status: 'NoError', closed: true });
        expect(volume(after)).toBeCloseTo(volume(before), 6);
        const areas = [cell, one].map((c) => closeCell(c, known, fallback).caps.map((r) => r.area));
        const sum = (list: readonly number[]) => list.reduce((a, b) => a + b, 0);
        expect(areas[1].length).toBe(areas[0].length);
        expect(sum(areas[1])).toBeCloseTo(sum(areas[0]), 6);
        // what lies wholly on one side has its corners still, to the last bit
        const places = new Set(
          Array.from({ length: one.positions.length / 3 }, (_, v) => String(one.positions.slice(v * 3, v * 3 + 3))),
        );
        for (let v = 0; v < cell.positions.length / 3; v++)
          expect(places).toContain(String(cell.positions.slice(v * 3, v * 3 + 3)));
      }),
      { numRuns: runs(40) },
    );
  });

  it('stay apart where one was changed at its plane, or is missing', () => {
    const frames = new Map<string, Frame>();
    const [above, below] = parted(cellOf(torus(30, 40, 24, () => 9)), 'a', makeFrame([1, 0, 0], [1, 0.2, 0.1]), frames);
    expect(rejoined([above, below], new Set(['a']))).not.toBeNull();
    expect(rejoined([above], new Set(['a']))).toBeNull();
    const moved = below.positions.slice();
    moved[below.caps[0].loops[0][3] * 3] += 1e-9;
    expect(rejoined([above, { ...below, positions: moved }], new Set(['a']))).toBeNull();
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, judge, kernel, meshOfSolid } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob } from '../../testing/shapes.ts';
import { type Cell, cellOf, closeCell, closedMesh, cutCells, makeFrame } from '../cut/index.ts';
import { type IndexedMesh, volume } from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';
import { carveCell } from './carve-cell.ts';

/** Large enough that the kernel is not given all of it. */
const lump = blob(60, 90, 150, (a, z) => 60 + 5 * Math.sin(4 * a) - 12 * z * z);
const WALL = 1 << 20;

/** What lies over a zigzag, as a solid: 300 mm wide and deep, turned and moved. */
const over = (zigzag: readonly number[], turn: readonly [number, number, number], up: number): IndexedMesh => {
  const n = zigzag.length - 1;
  const line = zigzag.map((z, i): [number, number] => [-150 + (300 * i) / n, z]);
  const solid = kernel.Manifold.extrude([[...line, [150, 300], [-150, 300]]], 300, 0, 0, [1, 1], true)
    .rotate([90, 0, 0])
    .translate([0, 0, up])
    .rotate([...turn]);
  return meshOfSolid(solid);
};

const corners = (p: Float64Array): string[] =>
  Array.from({ length: p.length / 3 }, (_, v) => String(p.slice(v * 3, v * 3 + 3)));

describe('a large cell that a cutter parts', () => {
  it('comes to what the kernel makes of the whole, with its face, and keeps corners that lie far from the cutter', () => {
    const angle = fc.integer({ min: -180, max: 180 });
    const shape = fc.record({
      zigzag: fc.array(fc.integer({ min: -12, max: 12 }), { minLength: 3, maxLength: 9 }),
      turn: fc.tuple(angle, angle, angle),
      up: fc.double({ min: -20, max: 20, noNaN: true }),
      face: fc.tuple(fc.integer({ min: -5, max: 5 }), fc.integer({ min: -5, max: 5 })),
    });
    fc.assert(
      fc.property(shape, ({ zigzag, turn, up, face }) => {
        const cut = cutCells(
          [cellOf(lump)],
          'face',
          makeFrame([0, 0, -31], [face[0] / 9, face[1] / 9, 1]),
          1e-4,
          new Map(),
        );
        const cell = cut.parts[0].above!;
        const frames = new Map([['face', cut.plane]]);
        const meshOf = (c: Cell): IndexedMesh => closedMesh(closeCell(c, frames, fallback), () => 0);
        const mesh = over(zigzag, turn, up);
        const wall = (side: 1 | -1): number => WALL + (side > 0 ? 1 : 0);
        const parts = carveCell(cell, frames, { mesh, facets: [null] }, wall, kernel, fallback);
        const [body, knife] = [toKernel(kernel, meshOf(cell)), toKernel(kernel, mesh)];
        const wanted = { inside: body.intersect(knife).volume(), outside: body.subtract(knife).volume() };
        for (const side of ['inside', 'outside'] as const) {
          const part = parts[side];
          const made = part && meshOf(part);
          expect(Math.abs((made ? volume(made) : 0) - wanted[side])).toBeLessThan(1e-5 * volume(meshOf(cell)));
          if (!made) continue;
          expect(judge(made)).toMatchObject({ status: 'NoError', closed: true });
          expect(part.caps.every((c) => c.seam === 'face')).toBe(true);
          const tags = new Set(part.tags);
          expect([...tags].filter((t) => t >= WALL)).toEqual(
            parts.inside && parts.outside ? [wall(side === 'inside' ? 1 : -1)] : [],
          );
        }
        if (!parts.inside || !parts.outside) return;
        const kept = new Set([parts.inside, parts.outside].flatMap((c) => corners(c.positions)));
        const all = corners(cell.positions);
        // in the slab they are as near as float32 holds them
        expect(all.filter((c) => kept.has(c)).length).toBeGreaterThan(0.2 * all.length);
      }),
      { numRuns: runs(8) },
    );
  });

  it('is told from what lies beside it: a rod through its middle takes a core out of both ends', () => {
    const rod = meshOfSolid(kernel.Manifold.cylinder(400, 11, 11, 60, true).rotate([3, 5, 0]));
    const parts = carveCell(cellOf(lump), new Map(), { mesh: rod, facets: [null] }, () => WALL, kernel, fallback);
    const [inside, outside] = [parts.inside!, parts.outside!];
    const whole = toKernel(kernel, lump);
    expect(volume(inside)).toBeCloseTo(whole.intersect(toKernel(kernel, rod)).volume(), 0);
    expect(volume(outside)).toBeCloseTo(whole.subtract(toKernel(kernel, rod)).volume(), 0);
    for (const c of [inside, outside]) expect(judge(c)).toMatchObject({ status: 'NoError', closed: true });
    // the slab is the rod's width of the lump: most of it is as it was
    const kept = new Set(corners(outside.positions));
    const all = corners(lump.positions);
    expect(all.filter((c) => kept.has(c)).length).toBeGreaterThan(0.5 * all.length);
  });
});

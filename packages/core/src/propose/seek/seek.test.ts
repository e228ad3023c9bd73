import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel, meshOfSolid } from '../../../testing/judges.ts';
import { runs } from '../../../testing/runs.ts';
import { blob, box, moved, torus } from '../../../testing/shapes.ts';
import { makeFrame } from '../../cut/frame.ts';
import { profileAlong } from '../../cut/profile.ts';
import { parsePlan } from '../../document/schema.ts';
import { buildBlocks } from '../../mesh/blocks.ts';
import { axisVector, perAxis, scale, vecOf } from '../../mesh/index.ts';
import { boxOf, uniteBoxes } from '../../mesh/measure.ts';
import type { IndexedMesh, Vec3 } from '../../mesh/types.ts';
import { dot } from '../../mesh/vec.ts';
import { withinBuild } from '../../print/build-volume.ts';
import { toKernel } from '../../solid/kernel.ts';
import { roundAxis } from './axis.ts';
import { cellBoxes } from './cell-boxes.ts';
import { farthest, fitBands } from './fit-range.ts';
import { type GridWish, gridFor } from './grid.ts';
import { landmarksAlong } from './landmarks.ts';
import { limbAxis } from './limb.ts';
import { necks } from './necks.ts';

const printer = parsePlan({ version: 5, printer: { size: [220, 220, 250] } }).printer;
const up: Vec3 = [0, 0, 1];
const along = (mesh: IndexedMesh) => profileAlong([mesh], makeFrame([0, 0, 0], up), 200);

/** A bell with a neck at a height. */
const vase = (neck: number) => blob(80, 60, 300, (_, z) => 40 - 22 * Math.exp(-(((z * 150 - neck) / 18) ** 2)));

describe('necks', () => {
  it('finds the waist of a vase, and none in an egg', () => {
    const [found, ...others] = necks(along(vase(30)));
    expect(Math.abs(found.at - 30)).toBeLessThan(2);
    expect(others).toEqual([]);
    expect(necks(along(blob(40, 40, 200, () => 50)))).toEqual([]);
  });

  it('measures prominence to the lower of both shoulders, and takes the middle of a level stretch', () => {
    const area = [1, 8, 3, 3, 3, 6, 1];
    expect(necks({ at: [0, 1, 2, 3, 4, 5, 6], area })).toEqual([{ at: 3, area: 3, prominence: 3 }]);
  });
});

describe('where pieces fit', () => {
  const bar = box([0, 0, 0], [50, 50, 400]);

  it('a bar of 400 mm fits on both sides between 152 and 248', () => {
    // 250 less the margin at the top: 248
    expect(farthest(along(bar), up, printer, 0, 400, 1)).toBeCloseTo(248, 2);
    const [[low, high]] = fitBands(along(bar), up, printer, 0, 400);
    expect(low).toBeCloseTo(152, 2);
    expect(high).toBeCloseTo(248, 2);
  });

  it('no place at all where the section itself is too wide', () => {
    const wide = box([0, 0, 0], [300, 300, 300]);
    expect(fitBands(along(wide), up, printer, 0, 300)).toEqual([]);
  });
});

describe('landmarksAlong', () => {
  const around = (mesh: IndexedMesh, more: object = {}) => ({
    profile: along(mesh),
    normal: up,
    meshes: [mesh],
    printer,
    others: [],
    mirror: null,
    clear: [],
    ...more,
  });

  it('offers half, thirds, the neck, the mirror plane and the largest piece, each with its reason', () => {
    const landmarks = landmarksAlong(around(vase(30), { mirror: { at: [0, 0, 7], normal: [0, 0, -1] } }));
    const at = (reason: string): number => landmarks.find((s) => s.reason.startsWith(reason))!.at;
    expect(at('half')).toBeCloseTo(0, 6);
    expect(at('one third')).toBeCloseTo(-50, 6);
    expect(Math.abs(at('neck') - 30)).toBeLessThan(2);
    expect(at('mirror')).toBe(7);
    expect(at('largest piece that fits below')).toBeCloseTo(98, 2);
  });

  it('offers flat faces, stretches between other seams, and nothing in a zone to be kept clear', () => {
    const steps = kernel.Manifold.cube([60, 60, 100]).add(kernel.Manifold.cube([30, 30, 180]));
    const mesh = meshOfSolid(steps);
    const landmarks = landmarksAlong(around(mesh, { others: [60], clear: [[20, 50]] }));
    expect(landmarks.filter((s) => s.kind === 'face').map((s) => s.at)).toEqual([100]);
    expect(landmarks.filter((s) => s.kind === 'half').map((s) => s.at)).toEqual([120]);
    expect(landmarks.some((s) => s.at > 20 && s.at < 50)).toBe(false);
  });
});

describe('limbAxis', () => {
  it('finds the direction of a rod at any angle', () => {
    const unit = fc
      .tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }))
      .filter((d) => Math.hypot(...d) > 2);
    fc.assert(
      fc.property(unit, (d) => {
        const frame = makeFrame([0, 0, 0], d);
        const rod = moved(
          blob(30, 24, 200, () => 9),
          (x, y, z) => vecOf((a) => x * frame.u[a] + y * frame.v[a] + z * frame.normal[a]),
        );
        const limb = limbAxis(
          buildBlocks(rod),
          vecOf((a) => frame.normal[a] * 12),
        )!;
        expect(Math.abs(dot(limb.axis, frame.normal))).toBeGreaterThan(0.995);
      }),
      { numRuns: runs(12) },
    );
  });
});

describe('cellBoxes', () => {
  it('knows cells that are all material but for a corner', () => {
    const boxes = cellBoxes(buildBlocks(box([0, 0, 0], [90, 90, 90])), [
      [30, 60],
      [30, 60],
      [30, 60],
    ]);
    const middle = boxes.find((b) => b.cell.join() === '1,1,1')!;
    expect(middle.box).toEqual({ min: [30, 30, 30], max: [60, 60, 60] });
    expect(boxes).toHaveLength(27);
    for (const { cell, box: own } of boxes) expect(own.min).toEqual(cell.map((c) => c * 30));
  });
});

describe('cellBoxes against the kernel', () => {
  it('the boxes are those of what the kernel leaves in each cell', () => {
    const level = fc.integer({ min: -40, max: 40 }).map((x) => x + 0.37);
    fc.assert(
      fc.property(fc.tuple(level, level, level), fc.integer({ min: 0, max: 5 }), ([x, y, z], lobes) => {
        const mesh = blob(16, 20, 120, (a) => 45 + 8 * Math.cos(lobes * a));
        const found = cellBoxes(buildBlocks(mesh), [[x], [y], [z]]);
        const whole = toKernel(kernel, mesh);
        for (const side of [0, 1, 2, 3, 4, 5, 6, 7]) {
          const cell = [side & 1, (side >> 1) & 1, side >> 2];
          let part = whole;
          [x, y, z].forEach((at, a) => {
            const sign = cell[a] ? 1 : -1;
            part = part.trimByPlane([...scale(axisVector(a), sign)], at * sign);
          });
          const own = found.find((b) => b.cell.join() === cell.join());
          expect(own === undefined).toBe(part.isEmpty());
          if (!own) continue;
          const { min, max } = part.boundingBox();
          for (let a = 0; a < 3; a++) {
            expect(Math.abs(own.box.min[a] - min[a])).toBeLessThan(1e-3);
            expect(Math.abs(own.box.max[a] - max[a])).toBeLessThan(1e-3);
          }
        }
      }),
      { numRuns: runs(15) },
    );
  });
});

describe('where pieces fit, any direction', () => {
  it('what is told to fit does when it is cut', () => {
    const part = fc.integer({ min: -10, max: 10 });
    const away = fc.tuple(part, part, part).filter((d) => Math.hypot(...d) > 4);
    fc.assert(
      fc.property(away, fc.integer({ min: 200, max: 420 }), (d, size) => {
        const mesh = blob(40, 50, size, (a) => size / 4 + (size / 30) * Math.sin(3 * a));
        const frame = makeFrame([0, 0, 0], d);
        const profile = profileAlong([mesh], frame, 160);
        const at = farthest(profile, frame.normal, printer, profile.from, profile.to, 1);
        if (at === null) return;
        const below = toKernel(kernel, mesh).trimByPlane([...scale(frame.normal, -1)], -at);
        const { min, max } = below.boundingBox();
        const own = perAxis(max, (x: number, a: number) => x - min[a]);
        // the stations are an answer on the safe side
        expect(withinBuild(printer, [own[0] - 1e-3, own[1] - 1e-3, own[2] - 1e-3]).within).toBe(true);
      }),
      { numRuns: runs(25) },
    );
  });
});

describe('gridFor', () => {
  const wish: GridWish = { printer, axes: [0, 1, 2], spacing: 'even', jointRoom: 0, clear: [[], [], []] };

  it('needs no plane for what fits, and for a block what its box says', () => {
    expect(
      gridFor([buildBlocks(box([0, 0, 0], [200, 200, 200]))], boxOf(box([0, 0, 0], [200, 200, 200]).positions), wish)
        .count,
    ).toBe(0);
    const big = box([0, 0, 0], [400, 200, 200]);
    expect(gridFor([buildBlocks(big)], boxOf(big.positions), wish)).toMatchObject({
      planes: [[200], [], []],
      count: 1,
      byBox: 1,
      over: 0,
    });
  });

  it('needs fewer than the box says where the model does not fill it', () => {
    // a thin ring: four quarters of 180 x 180, though its box of 350 x 350 x 20 could be parted only so as well;
    // two bars at right angles need one plane less than their common box
    const a = box([0, 0, 0], [400, 30, 30]);
    const b = box([0, 40, 0], [30, 300, 30]);
    const all = uniteBoxes(boxOf(a.positions), boxOf(b.positions));
    const grid = gridFor([buildBlocks(a), buildBlocks(b)], all, {
      ...wish,
      printer: { ...printer, size: [220, 220, 270] },
    });
    expect(grid.over).toBe(0);
    expect(grid.count).toBeLessThan(grid.byBox);
  });

  it('leaves room for joints, keeps out of zones, and moves to necks as long as all fits', () => {
    const bar = box([0, 0, 0], [50, 50, 480]);
    const bodies = [buildBlocks(bar)];
    expect(gridFor(bodies, boxOf(bar.positions), wish).count).toBe(1);
    expect(gridFor(bodies, boxOf(bar.positions), { ...wish, jointRoom: 10 }).count).toBe(2);
    const clear = gridFor(bodies, boxOf(bar.positions), { ...wish, clear: [[], [], [[235, 247]]] });
    expect(clear.planes[2]).toEqual([235]);
    const slim = vase(30);
    const tight = { ...wish, printer: { ...printer, size: [100, 100, 190] as [number, number, number] } };
    const pulled = gridFor([buildBlocks(slim)], boxOf(slim.positions), { ...tight, spacing: 'necks' });
    expect(Math.abs(pulled.planes[2][0] - 30)).toBeLessThan(3);
    expect(pulled.over).toBe(0);
  });

  it('whatever the solid, all its cells fit', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 60, max: 900 }),
        fc.integer({ min: 1, max: 9 }),
        fc.boolean(),
        (size, lobes, hollow) => {
          const mesh = hollow
            ? torus(size, 40, 16, (a) => size / 5 + (size / 20) * Math.cos(lobes * a))
            : blob(20, 30, size * 2, (a) => size / 2 + (size / 9) * Math.cos(lobes * a));
          const grid = gridFor([buildBlocks(mesh)], boxOf(mesh.positions), { ...wish, jointRoom: 8 });
          expect(grid.over).toBe(0);
          expect(grid.count).toBeLessThanOrEqual(grid.byBox);
        },
      ),
      { numRuns: runs(12) },
    );
  });
});

describe('roundAxis', () => {
  it('finds the axis of a hoop from a place on it, and of a hole from its wall', () => {
    const hoop = moved(
      torus(100, 96, 24, () => 12),
      (x, y, z) => [x + 5, z, y - 3],
    );
    const found = roundAxis(
      buildBlocks({
        ...hoop,
        triangles: hoop.triangles.map((_, i, t) => t[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1]),
      }),
      [117, 0, -3],
      [1, 0, 0],
    )!;
    expect(Math.abs(found.axis[1])).toBeCloseTo(1, 6);
    for (const [k, x] of [5, 0, -3].entries()) expect(found.origin[k]).toBeCloseTo(x, 3);
    expect(found.radius).toBeCloseTo(112, 0);
    const plate = kernel.Manifold.cube([80, 80, 10]).subtract(
      kernel.Manifold.cylinder(20, 12, 12, 64).translate([50, 30, -5]),
    );
    const mesh = meshOfSolid(plate);
    const hole = roundAxis(buildBlocks(mesh), [62, 30, 5], [-1, 0, 0])!;
    expect(hole.radius).toBeCloseTo(12, 1);
    expect(hole.origin[0]).toBeCloseTo(50, 2);
  });

  it('says when nothing is round there', () => {
    expect(roundAxis(buildBlocks(box([0, 0, 0], [40, 90, 20])), [40, 40, 10], [1, 0, 0])).toBeNull();
  });
});

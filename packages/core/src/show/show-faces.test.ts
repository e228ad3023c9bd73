import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel, meshOfSolid } from '../../testing/judges.ts';
import { cutBy, flat } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, together } from '../../testing/shapes.ts';
import type { ShowMark } from '../document/index.ts';
import {
  type Affine,
  area,
  compose,
  IDENTITY,
  type IndexedMesh,
  mapped,
  moving,
  scaling,
  subset,
  turning,
  type Vec3,
} from '../mesh/index.ts';
import { onShow, rimOnShow, showFaces, shownTriangles } from './show-faces.ts';

const CREASE = Math.PI / 6;
const mark = (at: Vec3, more: Partial<ShowMark> = {}): ShowMark => ({
  at: [...at],
  angle: CREASE,
  off: false,
  ...more,
});
const of = (mesh: IndexedMesh, marks: readonly ShowMark[], map: Affine = IDENTITY) =>
  showFaces(marks, map, [{ id: 'b1', mesh: mapped(mesh, map) }]);
const areaOf = (mesh: IndexedMesh, marks: readonly ShowMark[]): number => of(mesh, marks).bodies.get('b1')?.area ?? 0;

/** A plate 60 × 40 × 2 whose two large faces are of squares 2 mm wide. */
function plate(): IndexedMesh {
  const [nx, ny, step] = [30, 20, 2];
  const positions: number[] = [];
  const triangles: number[] = [];
  for (const z of [0, 2])
    for (let y = 0; y <= ny; y++) for (let x = 0; x <= nx; x++) positions.push(x * step, y * step, z);
  const at = (x: number, y: number, z: number): number => z * (nx + 1) * (ny + 1) + y * (nx + 1) + x;
  const quad = (a: number, b: number, c: number, d: number): void => {
    triangles.push(a, b, c, a, c, d);
  };
  for (let y = 0; y < ny; y++) {
    for (let x = 0; x < nx; x++) {
      quad(at(x, y, 1), at(x + 1, y, 1), at(x + 1, y + 1, 1), at(x, y + 1, 1));
      quad(at(x, y, 0), at(x, y + 1, 0), at(x + 1, y + 1, 0), at(x + 1, y, 0));
    }
  }
  for (let x = 0; x < nx; x++) {
    quad(at(x, 0, 0), at(x + 1, 0, 0), at(x + 1, 0, 1), at(x, 0, 1));
    quad(at(x + 1, ny, 0), at(x, ny, 0), at(x, ny, 1), at(x + 1, ny, 1));
  }
  for (let y = 0; y < ny; y++) {
    quad(at(nx, y, 0), at(nx, y + 1, 0), at(nx, y + 1, 1), at(nx, y, 1));
    quad(at(0, y + 1, 0), at(0, y, 0), at(0, y, 1), at(0, y + 1, 1));
  }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(triangles.length / 3),
  };
}

describe('marking faces', () => {
  it('floods to the creases: one face of a box, all of something round', () => {
    expect(areaOf(box([0, 0, 0], [40, 30, 20]), [mark([20, 15, 20])])).toBeCloseTo(40 * 30, 9);
    const round = blob(48, 48, 100, () => 50);
    expect(areaOf(round, [mark([50, 0, 0])])).toBeCloseTo(area(round), 6);
  });

  it('goes round edges that bend less than the angle, and no others', () => {
    // walls of an octagon meet at 45°
    const octagon = meshOfSolid(kernel.Manifold.cylinder(40, 30, 30, 8));
    const side = 2 * 30 * Math.sin(Math.PI / 8);
    const middle = 30 * Math.cos(Math.PI / 8);
    const at: Vec3 = [middle * Math.cos(Math.PI / 8), middle * Math.sin(Math.PI / 8), 20];
    const wall = side * 40;
    const one = areaOf(octagon, [mark(at, { angle: (44 * Math.PI) / 180 })]);
    const all = areaOf(octagon, [mark(at, { angle: (46 * Math.PI) / 180 })]);
    expect(one).toBeCloseTo(wall, 3);
    expect(all).toBeCloseTo(8 * wall, 3);
  });

  it('a brush covers what is within its radius, over any edge, and not the back of a thin wall', () => {
    const mesh = plate();
    const { bodies } = of(mesh, [mark([30, 20, 2], { angle: Math.PI, radius: 10 })]);
    const shown = bodies.get('b1')!;
    expect(shown.area).toBeGreaterThan(0.85 * Math.PI * 100);
    expect(shown.area).toBeLessThan(1.15 * Math.PI * 100);
    expect(onShow(shown, [30, 20, 2])).toBe(true);
    expect(onShow(shown, [30, 20, 0])).toBe(false);
    // at the rim it goes down the edge
    const rim = of(mesh, [mark([59, 20, 2], { angle: Math.PI, radius: 6 })]).bodies.get('b1')!;
    expect(onShow(rim, [60, 20.5, 1])).toBe(true);
    expect(onShow(rim, [58, 20.5, 0])).toBe(false);
  });

  it('goes by the order of the marks: what is taken off can be marked again', () => {
    const block = box([0, 0, 0], [40, 30, 20]);
    const top = mark([20, 15, 20]);
    const all = mark([20, 15, 20], { angle: Math.PI });
    const off = mark([20, 15, 20], { off: true });
    expect(areaOf(block, [all, off])).toBeCloseTo(area(block) - 1200, 9);
    expect(areaOf(block, [off, top])).toBeCloseTo(1200, 9);
    expect(areaOf(block, [all, off, top])).toBeCloseTo(area(block), 9);
    expect(areaOf(block, [top, off])).toBe(0);
  });

  it('goes to the nearest body, and says which marks have lost theirs', () => {
    const bodies = [
      { id: 'b1', mesh: box([0, 0, 0], [10, 10, 10]) },
      { id: 'b2', mesh: box([12, 0, 0], [30, 10, 10]) },
    ];
    const found = showFaces([mark([11.5, 5, 5]), mark([5, 5, 90])], IDENTITY, bodies);
    expect([...found.bodies.keys()]).toEqual(['b2']);
    expect(found.bodies.get('b2')!.area).toBeCloseTo(100, 9);
    expect(found.lost).toBe(1);
  });

  it('is the same however the model is turned, moved and scaled', () => {
    const mesh = blob(24, 24, 80, (a, z) => 30 + 6 * Math.sin(3 * a) + 4 * Math.cos(5 * z));
    fc.assert(
      fc.property(
        fc.nat(mesh.tags.length - 1),
        fc.double({ min: 3, max: 25, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.2, max: 4, noNaN: true }),
        (triangle, radius, turn, size) => {
          const t = mesh.triangles.subarray(3 * triangle, 3 * triangle + 3);
          const p = (k: number): number =>
            (mesh.positions[3 * t[0] + k] + mesh.positions[3 * t[1] + k] + mesh.positions[3 * t[2] + k]) / 3;
          const marks = [mark([p(0), p(1), p(2)], { angle: 1, radius })];
          const map = [moving([7, -20, 3]), scaling([size, size, size]), turning([1, 2, 2], turn, [5, 0, 1])].reduce(
            compose,
          );
          const before = of(mesh, marks).bodies.get('b1')!.marked;
          const after = of(mesh, marks, map).bodies.get('b1')!.marked;
          // triangles with their middle on the very radius may fall either way
          const odd = [...before].filter((x, i) => x !== after[i]).length;
          expect(odd).toBeLessThanOrEqual(2);
          expect(before.reduce((n, x) => n + x, 0)).toBeGreaterThan(0);
        },
      ),
      { numRuns: runs(40) },
    );
  });
});

describe('what is marked of pieces', () => {
  const level = fc.integer({ min: -40, max: 40 });

  it('is as much as of the body, however it is cut', () => {
    const mesh = blob(30, 30, 100, (a) => 50 + 8 * Math.cos(4 * a));
    const marks = [mark([58, 0, 0], { angle: 1, radius: 40 })];
    fc.assert(
      fc.property(level, level, level, (x, y, z) => {
        const e = cutBy(
          mesh,
          [flat('s1', [x, 0, 0], [1, 0.2, 0.1]), flat('s2', [0, y, 0], [0, 1, 0.3]), flat('s3', [0, 0, z], [0, 0, 1])],
          { show: marks },
        );
        const shown = e.show.bodies.get('b1')!;
        let sum = 0;
        for (const { solid } of e.pieces) {
          const on = shownTriangles(shown, solid);
          sum += area(
            subset(
              solid,
              [...on.keys()].filter((i) => on[i]),
            ),
          );
        }
        expect(sum / shown.area).toBeCloseTo(1, 6);
      }),
      { numRuns: runs(20) },
    );
  });

  it('a seam is told how far it runs over them, and only it', () => {
    const block = box([0, 0, 0], [100, 40, 20]);
    const seams = [flat('across', [50, 0, 0], [1, 0, 0]), flat('level', [0, 0, 10], [0, 0, 1])];
    const e = cutBy(block, seams, { show: [mark([50, 20, 20])] });
    const found = e.findings.filter((f) => f.code === 'seam.show');
    expect(found.map((f) => f.where.seam)).toEqual(['across']);
    expect(found[0].value).toBeCloseTo(40, 6);
    expect(found[0].message).toContain('for 40 mm');
  });

  it('the rim of a face is measured where it lies on them', () => {
    const two = together(box([0, 0, 0], [10, 10, 10]), box([20, 0, 0], [30, 10, 10]));
    const shown = showFaces([mark([5, 0, 5])], IDENTITY, [{ id: 'b1', mesh: two }]).bodies.get('b1')!;
    // the top of the first box: one of its four sides lies on the marked wall
    const top: number[] = [];
    for (let i = 0; i < two.triangles.length; i += 3) {
      const [a, b, c] = two.triangles.subarray(i, i + 3);
      const high = [a, b, c].every((v) => two.positions[3 * v + 2] === 10 && two.positions[3 * v] <= 10);
      if (high) top.push(a, b, c);
    }
    expect(rimOnShow(shown, two.positions, Uint32Array.from(top))).toBeCloseTo(10, 9);
  });

  it('a mark where nothing is any more is told', () => {
    const e = cutBy(box([0, 0, 0], [10, 10, 10]), [], { show: [mark([50, 0, 0]), mark([60, 0, 0])] });
    expect(e.findings.filter((f) => f.code === 'show.lost').map((f) => f.value)).toEqual([2]);
  });
});

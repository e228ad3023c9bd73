import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { modelOfMeshes } from '../../testing/models.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, moved, together, torus } from '../../testing/shapes.ts';
import { bodiesOf, shapeOf } from '../body/index.ts';
import { crossings, overlapping } from '../crossing/index.ts';
import { boxOf, buildTree, distanceTo, type IndexedMesh, sizeOf, subset, three, turnedOver } from '../mesh/index.ts';
import { type DefectKind, diagnose, twoSidedDistance } from './index.ts';

/** Counts of each defect of a mesh as one body. */
function defectsOf(mesh: IndexedMesh): Partial<Record<DefectKind, number>> {
  const body = { id: 'b1', name: 'x', part: 0, ...shapeOf(mesh) };
  const { defects } = diagnose(body, { crossing: true, modelSize: Math.hypot(...sizeOf(boxOf(mesh.positions))) });
  for (const d of defects) expect(d.places.length, d.kind).toBeGreaterThan(0);
  return Object.fromEntries(defects.map((d) => [d.kind, d.count]));
}

const without = (mesh: IndexedMesh, ...gone: number[]) =>
  subset(
    mesh,
    [...mesh.tags.keys()].filter((i) => !gone.includes(i)),
  );
const plus = (mesh: IndexedMesh, ...corners: number[]): IndexedMesh => ({
  ...mesh,
  triangles: Uint32Array.of(...mesh.triangles, ...corners),
  tags: new Uint32Array(mesh.tags.length + corners.length / 3),
});
const cube = box([0, 0, 0], [10, 10, 10]);

describe('diagnose', () => {
  it('finds nothing wrong with closed solids', () => {
    for (const m of [cube, torus(20, 20, 12, () => 5), blob(9, 12, 40, () => 20)]) expect(defectsOf(m)).toEqual({});
  });

  it('counts holes with their perimeter and middle', () => {
    const open = without(
      torus(20, 24, 12, () => 5),
      0,
      1,
      200,
    );
    const body = { id: 'b1', name: 'x', part: 0, ...shapeOf(open) };
    const { defects } = diagnose(body, { crossing: false, modelSize: 50 });
    const holes = defects.find((d) => d.kind === 'holes');
    expect(holes?.count).toBe(2);
    const edges = defects.find((d) => d.kind === 'openEdges');
    expect(edges?.count).toBe(7);
    for (const p of holes!.places) {
      expect(p.value).toBeGreaterThan(3);
      expect(distanceTo(buildTree(open), p.at)).toBeLessThan(3);
    }
  });

  it('tells apart what can be wrong', () => {
    const turned = cube.triangles.slice();
    [turned[1], turned[2]] = [turned[2], turned[1]];
    const cases: [string, IndexedMesh, Partial<Record<DefectKind, number>>][] = [
      ['a turned triangle', { ...cube, triangles: turned }, { inconsistent: 3 }],
      ['inside out', turnedOver(cube), { inverted: 1 }],
      ['a repeated triangle', plus(cube, ...cube.triangles.subarray(0, 3)), { nonManifoldEdges: 3, duplicates: 1 }],
      [
        'two spikes through each other',
        together(box([0, 0, 0], [10, 2, 2]), box([4, -4, 0.5], [6, 6, 1.5])),
        { selfCrossings: 8 },
      ],
    ];
    for (const [name, mesh, wanted] of cases) {
      const found = defectsOf(mesh);
      for (const [kind, count] of Object.entries(wanted)) {
        if (kind === 'selfCrossings') expect(found[kind], name).toBeGreaterThanOrEqual(count);
        else expect(found[kind as DefectKind], `${name}: ${kind}`).toBe(count);
      }
    }
    // two cubes that share an edge, and two that share a vertex
    const weldedAt = (x: number, y: number, z: number) =>
      bodiesOf(modelOfMeshes([together(cube, box([x, y, z], [x + 10, y + 10, z + 10]))]), 'x');
    expect(weldedAt(10, 10, 0).bodies).toHaveLength(2);
    expect(weldedAt(10, 10, 10).bodies.every((b) => b.topology.watertight)).toBe(true);
  });

  it('a hollow is no dust, a crumb is', () => {
    const hollow = turnedOver(box([4.9, 4.9, 4.9], [5, 5, 5]));
    const crumb = box([20, 20, 20], [20.05, 20.05, 20.05]);
    expect(defectsOf(together(cube, hollow))).toEqual({});
    expect(defectsOf(together(cube, crumb))).toEqual({ dust: 1 });
  });
});

describe('crossings', () => {
  it('of a solid moved against itself are found just when they overlap', () => {
    const ring = torus(20, 9, 6, () => 5);
    fc.assert(
      fc.property(fc.integer({ min: -60, max: 60 }), fc.integer({ min: -14, max: 14 }), (i, j) => {
        // never so that corners or edges meet exactly
        const [dx, dz] = [i + 0.371, j + 0.137];
        const other = moved(ring, (x, y, z) => [x + dx, y, z + dz]);
        const [a, b] = [buildTree(ring), buildTree(other)];
        // the slow way: an edge of one goes through a triangle of the other
        const slow = pairsSlowly(ring, other) + pairsSlowly(other, ring) > 0;
        expect(crossings(a, b).pairs > 0).toBe(slow);
        expect(overlapping(ring, other) !== null).toBe(slow);
      }),
      { numRuns: runs(12) },
    );
  });

  it('of which only deep ones are asked for leave out what passes less far', () => {
    const depth = fc.double({ min: 1e-5, max: 0.01, noNaN: true });
    fc.assert(
      fc.property(depth, depth, (by, deep) => {
        fc.pre(Math.abs(by - deep) > 1e-9);
        // a box that stands in the side of another by so much
        const a = buildTree(box([0, 0, 0], [10, 10, 10]));
        const b = buildTree(box([10 - by, 3, 3], [15, 7, 7]));
        expect(crossings(a, b).pairs).toBeGreaterThan(0);
        expect(crossings(a, b, 1000, 1000, deep).pairs > 0).toBe(by > deep);
      }),
    );
  });

  it('bodies that only touch do not overlap; one inside another, and the same twice, do', () => {
    expect(overlapping(cube, box([10, 0, 0], [20, 10, 10]))).toBeNull();
    expect(overlapping(cube, box([10, 10, 10], [20, 20, 20]))).toBeNull();
    expect(overlapping(cube, box([2, 2, 2], [8, 8, 8]))).not.toBeNull();
    expect(overlapping(cube, box([0, 0, 0], [10, 10, 10]))).not.toBeNull();
    expect(overlapping(cube, box([9, 9, 9], [20, 20, 20]))).not.toBeNull();
  });
});

/** Edges of one mesh that go through triangles of another, tried one by one in plain arithmetic. */
function pairsSlowly(a: IndexedMesh, b: IndexedMesh): number {
  const at = (m: IndexedMesh, v: number) => [...m.positions.subarray(v * 3, v * 3 + 3)];
  const volumeOf = (p: number[], q: number[], r: number[], s: number[]): number => {
    const [u, v, w] = [q, r, s].map((x) => x.map((c, k) => c - p[k]));
    return u[0] * (v[1] * w[2] - v[2] * w[1]) + u[1] * (v[2] * w[0] - v[0] * w[2]) + u[2] * (v[0] * w[1] - v[1] * w[0]);
  };
  let found = 0;
  for (let i = 0; i < a.triangles.length; i++) {
    const e = at(a, a.triangles[i]);
    const f = at(a, a.triangles[i % 3 === 2 ? i - 2 : i + 1]);
    for (let j = 0; j < b.triangles.length; j += 3) {
      const [p, q, r] = three((c) => at(b, b.triangles[j + c]));
      if (volumeOf(p, q, r, e) * volumeOf(p, q, r, f) >= 0) continue;
      const s = [volumeOf(e, f, p, q), volumeOf(e, f, q, r), volumeOf(e, f, r, p)];
      if (s.every((x) => x > 0) || s.every((x) => x < 0)) found++;
    }
  }
  return found;
}

describe('twoSidedDistance', () => {
  it('is how far a surface was moved', () => {
    const m = blob(12, 14, 50, () => 20);
    expect(twoSidedDistance(m, m)).toBeLessThan(1e-9);
    expect(twoSidedDistance(cube, box([0, 0, 0], [10, 10, 13]))).toBeCloseTo(3, 9);
  });
});

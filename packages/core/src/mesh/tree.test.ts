import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { random } from '../../testing/defects.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, together, torus } from '../../testing/shapes.ts';
import { halfEdges } from './halfedges.ts';
import { concatenate, splitBy, subset, turnedOver } from './parts.ts';
import { shells, topology } from './topology.ts';
import { boxPairs, buildTree, distanceTo, fineTree, nearest, noPlace } from './tree.ts';
import type { IndexedMesh, Vec3 } from './types.ts';
import { three, vecOf } from './vec.ts';
import { weldExact, weldWithin } from './weld.ts';

/** Distance from a point to a triangle the slow way: the least over a fine grid of its points. */
function slowly(mesh: IndexedMesh, p: Vec3): number {
  let least = Infinity;
  const steps = 24;
  for (let i = 0; i < mesh.triangles.length; i += 3) {
    const [a, b, c] = three((k) => [
      ...mesh.positions.subarray(mesh.triangles[i + k] * 3, mesh.triangles[i + k] * 3 + 3),
    ]);
    for (let u = 0; u <= steps; u++) {
      for (let v = 0; u + v <= steps; v++) {
        const q = a.map((x, k) => x + ((b[k] - x) * u + (c[k] - x) * v) / steps);
        least = Math.min(least, Math.hypot(...q.map((x, k) => x - p[k])));
      }
    }
  }
  return least;
}

const coordinate = fc.double({ min: -30, max: 30, noNaN: true });

describe('a fine tree', () => {
  it('finds what the other finds, and has each triangle once, of any mesh', () => {
    const meshes = [
      torus(12, 9, 6, () => 5),
      blob(20, 30, 40, (a) => 20 + 3 * Math.sin(3 * a)),
      box([0, 0, 0], [1, 2, 3]),
    ];
    const many = together(...Array.from({ length: 40 }, () => box([0, 0, 0], [1, 1, 1])));
    for (const mesh of [...meshes, subset(meshes[0], [7]), many]) {
      const [plain, fine] = [buildTree(mesh), fineTree(mesh)];
      expect([...fine.order].sort((a, b) => a - b)).toEqual([...mesh.tags.keys()]);
      fc.assert(
        fc.property(coordinate, coordinate, coordinate, (x, y, z) => {
          expect(distanceTo(fine, [x, y, z])).toBe(distanceTo(plain, [x, y, z]));
        }),
        { numRuns: runs(60) },
      );
      const pairs = (tree: typeof fine): number => {
        let count = 0;
        boxPairs(tree, tree, () => {
          count++;
          return false;
        });
        return count;
      };
      expect(pairs(fine)).toBe(pairs(plain));
    }
  });
});

describe('nearest', () => {
  const ring = torus(12, 9, 6, () => 5);
  const tree = buildTree(ring);

  it('is never farther than any point of the surface, and nearly as near as the nearest', () => {
    fc.assert(
      fc.property(coordinate, coordinate, coordinate, (x, y, z) => {
        const found = distanceTo(tree, [x, y, z]);
        const slow = slowly(ring, [x, y, z]);
        expect(found).toBeLessThanOrEqual(slow + 1e-9);
        expect(slow - found).toBeLessThan(0.5);
      }),
      { numRuns: runs(60) },
    );
  });

  it('is the same with a hint, and nothing beyond the limit', () => {
    const next = random(3);
    for (let k = 0; k < 200; k++) {
      const p = vecOf(() => (next() - 0.5) * 50);
      const plain = noPlace();
      const hinted = noPlace();
      nearest(tree, ...p, Infinity, plain);
      nearest(tree, ...p, Infinity, hinted, Math.floor(next() * ring.tags.length));
      expect(hinted.squared).toBeCloseTo(plain.squared, 9);
      nearest(tree, ...p, plain.squared * 0.99, hinted);
      expect(hinted.triangle).toBe(-1);
    }
  });
});

describe('boxPairs', () => {
  it('gives each pair of triangles whose boxes meet once, against itself and against another', () => {
    const a = blob(5, 7, 20, () => 10);
    const b = box([2, 2, 2], [9, 9, 9]);
    const boxOfTriangle = (m: IndexedMesh, i: number) =>
      three((k) => {
        const xs = vecOf((c) => m.positions[m.triangles[i * 3 + c] * 3 + k]);
        return [Math.min(...xs), Math.max(...xs)];
      });
    const meet = (m: IndexedMesh, i: number, n: IndexedMesh, j: number): boolean => {
      const [p, q] = [boxOfTriangle(m, i), boxOfTriangle(n, j)];
      return [0, 1, 2].every((k) => p[k][0] <= q[k][1] && q[k][0] <= p[k][1]);
    };
    const found = (m: IndexedMesh, n: IndexedMesh): string[] => {
      const list: string[] = [];
      const tree = buildTree(m);
      boxPairs(tree, m === n ? tree : buildTree(n), (i, j) => {
        list.push(m === n ? [i, j].sort((x, y) => x - y).join() : `${i},${j}`);
        return false;
      });
      return list.sort();
    };
    for (const [m, n] of [
      [a, a],
      [a, b],
      [b, a],
    ]) {
      const wanted: string[] = [];
      for (let i = 0; i < m.tags.length; i++) {
        for (let j = m === n ? i + 1 : 0; j < n.tags.length; j++) if (meet(m, i, n, j)) wanted.push(`${i},${j}`);
      }
      expect(found(m, n)).toEqual(wanted.sort());
    }
    let calls = 0;
    const tree = buildTree(a);
    boxPairs(tree, tree, () => ++calls === 3);
    expect(calls).toBe(3);
  });
});

describe('half-edges', () => {
  it('pair every edge of a closed mesh, and tell open, crowded and disagreeing ones apart', () => {
    const cube = box([0, 0, 0], [1, 1, 1]);
    const { twin, openCount, crowded, sameWay } = halfEdges(cube);
    expect([openCount, crowded.length, sameWay]).toEqual([0, 0, 0]);
    twin.forEach((g, h) => {
      expect(twin[g]).toBe(h);
      expect(cube.triangles[g]).toBe(cube.triangles[h % 3 === 2 ? h - 2 : h + 1]);
    });
    const fin = { triangles: Uint32Array.of(...cube.triangles, cube.triangles[0], cube.triangles[1], 99) };
    expect(halfEdges(fin).crowded).toHaveLength(1);
    expect(topology(fin)).toMatchObject({ openEdges: 2, nonManifoldEdges: 1, watertight: false });
    const mixed = { triangles: Uint32Array.of(0, 1, 2, 0, 1, 3) };
    expect(topology(mixed)).toMatchObject({ inconsistentEdges: 1, openEdges: 4 });
  });
});

describe('parts', () => {
  it('are taken apart by shell and put together again', () => {
    const two = together(
      box([0, 0, 0], [1, 1, 1]),
      torus(20, 6, 5, () => 3),
    );
    const found = shells(two);
    expect(found.count).toBe(2);
    const [a, b] = splitBy(two, found.ofTriangle, 2);
    expect([a.tags.length, b.tags.length, a.positions.length]).toEqual([12, 60, 24]);
    const again = concatenate([a, b]);
    const soup = (m: IndexedMesh) => Array.from(m.triangles, (v) => [...m.positions.subarray(v * 3, v * 3 + 3)]);
    expect(soup(again)).toEqual(soup(two));
    expect(subset(two, [0]).positions).toHaveLength(9);
    expect(topology(turnedOver(a)).watertight).toBe(true);
  });
});

describe('welding', () => {
  it('of float64 points keeps apart what differs in the last digit, and takes −0 for 0', () => {
    const points = Float64Array.of(0.1, 0, 1, 0.1, -0, 1, 0.1 + 0.2, 0, 0, 0.3, 0, 0);
    const { corners, positions } = weldExact(points);
    expect([...corners]).toEqual([0, 0, 1, 2]);
    expect(positions.every((x) => !Object.is(x, -0))).toBe(true);
  });

  it('within a tolerance joins just what is as near, also across the borders of its grid', () => {
    const next = random(9);
    for (let k = 0; k < 50; k++) {
      const o = vecOf(() => (next() - 0.5) * 100);
      const gap = 0.02;
      const mesh = (d: number): IndexedMesh => ({
        positions: Float64Array.from([
          ...o,
          o[0] + 5,
          o[1],
          o[2],
          o[0],
          o[1] + 5,
          o[2],
          o[0] + d,
          o[1],
          o[2],
          o[0] - 5,
          o[1],
          o[2],
          o[0],
          o[1] - 5,
          o[2],
        ]),
        triangles: Uint32Array.of(0, 1, 2, 3, 4, 5),
        tags: new Uint32Array(2),
      });
      expect(weldWithin(mesh(gap * 0.99), gap).positions).toHaveLength(15);
      expect(weldWithin(mesh(gap * 1.01), gap).positions).toHaveLength(18);
    }
    expect(() => weldWithin(box([0, 0, 0], [1, 1, 1]), 0)).toThrow(/more than 0/);
  });
});

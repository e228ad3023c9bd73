import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { box } from '../../testing/shapes.ts';
import { unfolded } from './folded.ts';
import { topology } from './topology.ts';
import type { IndexedMesh } from './types.ts';
import { vecOf } from './vec.ts';

const cube = box([0, 0, 0], [10, 10, 10]);
/** A mesh with more triangles on its own vertices. */
const withTriangles = (mesh: IndexedMesh, more: readonly number[]): IndexedMesh => ({
  ...mesh,
  triangles: Uint32Array.from([...mesh.triangles, ...more]),
  tags: new Uint32Array(mesh.tags.length + more.length / 3),
});

describe('unfolded', () => {
  it('drops pairs back to back, however they are written, and leaves the rest', () => {
    const rotated = (t: readonly number[], by: number) => vecOf((k) => t[(k + by) % 3]);
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 0, max: 7 }), { minLength: 3, maxLength: 3 }),
        fc.integer({ min: 0, max: 2 }),
        fc.integer({ min: 1, max: 3 }),
        (corners, turn, times) => {
          const [a, b, c] = corners;
          const pair = [...corners, ...rotated([c, b, a], turn)];
          const mesh = withTriangles(cube, Array.from({ length: times }, () => pair).flat());
          const left = unfolded(mesh);
          expect(left).toHaveLength(12);
          const triangles = Uint32Array.from(left.flatMap((i) => [...mesh.triangles.subarray(i * 3, i * 3 + 3)]));
          expect(topology({ triangles }).watertight).toBe(true);
        },
      ),
    );
  });

  it('keeps a triangle that is there twice the same way round', () => {
    const [a, b, c] = cube.triangles;
    expect(unfolded(withTriangles(cube, [b, c, a]))).toHaveLength(13);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judge, kernel } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, moved } from '../../testing/shapes.ts';
import { boxOf, type IndexedMesh, subset, volume } from '../mesh/index.ts';
import { toKernel } from './kernel.ts';
import { type Reshaping, reshape as reshapeBody } from './reshape.ts';
import { toTagged } from './tagged.ts';

const tagged = (mesh: IndexedMesh, tag: number): IndexedMesh => ({ ...mesh, tags: mesh.tags.map(() => tag) });
const body = tagged(
  blob(24, 30, 80, () => 30),
  3,
);
const cube = (x: number, y: number, z: number, size: number) => box([x, y, z], [x + size, y + size, z + size]);

/** A mesh given to the kernel, reshaped and taken back. */
function reshape(mesh: IndexedMesh, steps: readonly Reshaping[]): IndexedMesh {
  const given = toTagged(kernel, mesh);
  try {
    return reshapeBody(kernel, given, steps, 7);
  } finally {
    given.solid.delete();
  }
}

describe('reshaping', () => {
  it('takes off and adds in turn, as the kernel does with the same solids whole, and tells what is new', () => {
    const place = fc.integer({ min: -45, max: 35 });
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place, place), { minLength: 3, maxLength: 3 }), (places) => {
        const [a, b, c] = places.map(([x, y, z], i) => cube(x + 0.013 * i, y, z, 22 + i));
        const made = reshape(body, [
          { does: 'take', meshes: [a] },
          { does: 'add', meshes: [b] },
          { does: 'take', meshes: [c] },
        ]);
        expect(judge(made)).toMatchObject({ status: 'NoError', closed: true });
        const [first, second, third] = [a, b, c].map((m) => toKernel(kernel, m));
        const wanted = toKernel(kernel, body).subtract(first).add(second).subtract(third).volume();
        expect(Math.abs(volume(made) - wanted)).toBeLessThan(1e-4 * wanted + 1e-3);
        expect([...new Set(made.tags)].filter((tag) => tag !== 3 && tag !== 7)).toEqual([]);
      }),
      { numRuns: runs(25) },
    );
  });

  it('reaches what was added before, and leaves the body alone where a tool lies beside it', () => {
    // a rod that stands out of the body, then a hole through its far end
    const rod = box([-3, -3, 0], [3, 3, 90]);
    const hole = box([-1, -9, 70], [1, 9, 80]);
    const made = reshape(body, [
      { does: 'add', meshes: [rod] },
      { does: 'take', meshes: [hole] },
    ]);
    const plain = reshape(body, [{ does: 'add', meshes: [rod] }]);
    expect(boxOf(made.positions).max[2]).toBeCloseTo(90, 3);
    expect(volume(plain) - volume(made)).toBeCloseTo(2 * 6 * 10, 1);
    const far = moved(cube(0, 0, 0, 9), (x, y, z) => [x + 500, y, z]);
    expect(volume(reshape(body, [{ does: 'take', meshes: [far] }]))).toBeCloseTo(volume(body), 1);
  });

  it('refuses what is no solid, in words', () => {
    const open = subset(body, [...body.tags.keys()].slice(3));
    expect(() => reshape(open, [{ does: 'take', meshes: [cube(0, 0, 0, 9)] }])).toThrow(/is no solid/);
    expect(() => reshape(body, [{ does: 'add', meshes: [subset(cube(0, 0, 0, 9), [0, 1, 2])] }])).toThrow(
      /is no solid/,
    );
  });
});

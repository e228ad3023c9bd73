import { type IndexedMesh, loadKernel } from '@gephyra/core';
import fc from 'fast-check';
import { describe, it } from 'vitest';
import { anySeam, cutBy, numbered, sound } from '../packages/core/testing/plans.ts';
import { runs } from '../packages/core/testing/runs.ts';
import { anchorInOne, hoop, lantern, visor } from './models.ts';

const kernel = await loadKernel();
const tagged = ({ positions, triangles }: Pick<IndexedMesh, 'positions' | 'triangles'>): IndexedMesh => ({
  positions,
  triangles: Uint32Array.from(triangles),
  tags: new Uint32Array(triangles.length / 3),
});
const props: [string, IndexedMesh][] = [
  ['lantern', tagged(lantern(kernel))],
  ['anchor', tagged(anchorInOne(kernel))],
  ['hoop', tagged(hoop())],
  ['visor', tagged(visor())],
];

describe.each(props)('any plan of seams over the %s', (_, mesh) => {
  it('gives solids that the kernel accepts, volumes that add up, and faces with two like sides', () => {
    fc.assert(
      fc.property(fc.array(anySeam(120), { minLength: 1, maxLength: 4 }), (seams) =>
        sound(mesh, cutBy(mesh, numbered(seams))),
      ),
      { numRuns: runs(4) },
    );
  });
});

import { describe, expect, it } from 'vitest';
import { kernel, meshOfSolid } from '../../testing/judges.ts';
import { cutBy, fan, flat, sound } from '../../testing/plans.ts';
import { blob, box, moved, together, torus } from '../../testing/shapes.ts';
import type { SeamInput } from '../document/index.ts';
import type { IndexedMesh } from '../mesh/types.ts';

type Triple = [number, number, number];

const stairs = (): IndexedMesh => {
  const m = kernel.Manifold.union([
    kernel.Manifold.cube([60, 30, 10]),
    kernel.Manifold.cube([40, 30, 20]),
    kernel.Manifold.cube([20, 30, 30]),
  ]);
  return meshOfSolid(m);
};
const ring = torus(40, 32, 16, () => 12);

/** A plane, a solid, and why the two are hard on each other. */
const CASES: [string, IndexedMesh, Triple, Triple][] = [
  ['through a whole row of vertices', blob(12, 16, 60, () => 25), [0, 0, 0], [0, 0, 1]],
  ['through vertices and along edges, upright', blob(12, 16, 60, () => 25), [0, 0, 0], [0, 1, 0]],
  ['flush with a face that looks along it', stairs(), [0, 0, 10], [0, 0, 1]],
  ['flush with a face that looks against it', stairs(), [0, 0, 20], [0, 0, -1]],
  ['flush with the end', stairs(), [0, 0, 30], [0, 0, 1]],
  ['flush with a side', stairs(), [20, 0, 0], [1, 0, 0]],
  ['a millionth of a millimetre above a face', stairs(), [0, 0, 10 + 1e-6], [0, 0, 1]],
  ['a millionth of a millimetre below a face', stairs(), [0, 0, 10 - 1e-6], [0, 0, 1]],
  ['touching a ring along its top', ring, [0, 0, 12], [0, 0, 1]],
  ['touching a ring in its outermost point', ring, [52, 0, 0], [1, 0, 0]],
  ['through the inner equator of a ring, where two loops meet', ring, [28, 0, 0], [1, 0, 0]],
  ['through the middle of a ring', ring, [0, 0, 0], [0, 1, 0]],
  [
    'between solids that touch in a face',
    together(box([0, 0, 0], [20, 20, 10]), box([0, 0, 10], [20, 20, 30])),
    [0, 0, 10],
    [0, 0, 1],
  ],
  [
    'across solids that touch in a face',
    together(box([0, 0, 0], [20, 20, 10]), box([0, 0, 10], [20, 20, 30])),
    [10, 0, 0],
    [1, 0, 0],
  ],
  [
    'through shells that overlap',
    together(box([0, 0, 0], [20, 20, 20]), box([10, 10, 5], [30, 30, 15])),
    [0, 0, 10],
    [0, 0, 1],
  ],
];

/** The same plane as a flat seam, as one limited to regions (which cuts all of them by a seed far away), and in a fan. */
const ways: Record<string, (origin: Triple, normal: Triple) => SeamInput> = {
  flat: (origin, normal) => flat('s1', origin, normal),
  limited: (origin, normal) => flat('s1', origin, normal, { regions: { mode: 'allBut', seeds: [[1e5, 1e5]] } }),
  fan: (origin, normal) => {
    // an axis in the plane: two of the four half-planes lie in it
    const axis = Math.abs(normal[0]) > 0.5 ? [0, 1, 0] : [1, 0, 0];
    const up = [
      normal[1] * axis[2] - normal[2] * axis[1],
      normal[2] * axis[0] - normal[0] * axis[2],
      normal[0] * axis[1] - normal[1] * axis[0],
    ];
    return fan('s1', origin, axis, 4, { up });
  },
};

describe.each(Object.keys(ways))('hard planes, cut %s', (way) => {
  it.each(CASES)('%s', (_, mesh, origin, normal) => {
    for (const size of [1, 1e-2 / 60, 1e4 / 60]) {
      const scaled = moved(mesh, (x, y, z) => [x * size, y * size, z * size]);
      const e = cutBy(scaled, [ways[way](origin.map((x) => x * size) as Triple, normal)]);
      expect(e.pieces.length).toBeGreaterThan(0);
      // what is left of a film that lies on a part of one side only is dropped: less than a ten-millionth of the size thick
      sound(scaled, e, 2e-6);
    }
  });
});

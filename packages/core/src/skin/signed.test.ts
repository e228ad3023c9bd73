import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blob, box, torus } from '../../testing/shapes.ts';
import {
  buildBlocks,
  buildTree,
  concatenate,
  distanceTo,
  insideSolid,
  subset,
  turnedOver,
  type Vec3,
} from '../mesh/index.ts';
import { noSidedPlace, riseAcross, riseBeyond, sided, signedDistance } from './signed.ts';

const shapes = {
  'a box': box([-20, -12, -8], [20, 12, 8]),
  'a ring': torus(30, 40, 24, (a) => 9 + 2 * Math.sin(3 * a)),
  'a lump': blob(20, 30, 50, (a, z) => 18 + 4 * Math.sin(4 * a) * (1 - z * z)),
  'a box with a hollow': concatenate([box([-20, -20, -20], [20, 20, 20]), turnedOver(box([-9, -9, -9], [9, 9, 9]))]),
};
const coordinate = fc.double({ min: -45, max: 45, noNaN: true });
const point = fc.tuple(coordinate, coordinate, coordinate) as fc.Arbitrary<Vec3>;

describe('distance with a side', () => {
  it.each(Object.entries(shapes))(
    'to %s is negative inside, by rays, and as large as the plain distance',
    (_, mesh) => {
      const surface = sided(mesh);
      const [tree, blocks] = [buildTree(mesh), buildBlocks(mesh)];
      const out = noSidedPlace();
      fc.assert(
        fc.property(point, (p) => {
          signedDistance(surface, ...p, 500, out);
          expect(Math.abs(out.distance)).toBeCloseTo(distanceTo(tree, p), 9);
          if (Math.abs(out.distance) > 1e-6) expect(out.distance < 0).toBe(insideSolid(blocks, p));
          expect(out.rim).toBe(false);
        }),
      );
    },
  );

  it('rises away from the surface outside, and towards it inside: a step that way is as much farther', () => {
    const surface = sided(shapes['a lump']);
    const [out, way] = [noSidedPlace(), new Float64Array(3)];
    fc.assert(
      fc.property(point, (p) => {
        signedDistance(surface, ...p, 500, out);
        const before = out.distance;
        fc.pre(Math.abs(before) > 0.5 && before > -6);
        riseAcross(surface, out, ...p, 1, way);
        expect(Math.hypot(...way)).toBeCloseTo(1, 9);
        const step = 1e-4;
        signedDistance(surface, p[0] + way[0] * step, p[1] + way[1] * step, p[2] + way[2] * step, 500, out);
        expect((out.distance - before) / step).toBeGreaterThan(0.99);
      }),
    );
  });

  it('says of a place beyond the rim of an open surface how far it lies past it, and which way', () => {
    // the upper side of a box, its four rims open
    const whole = box([0, 0, 0], [30, 20, 5]);
    const top = [0, 1, 2].map((c) => (i: number) => whole.positions[whole.triangles[i * 3 + c] * 3 + 2]);
    const surface = sided(
      subset(
        whole,
        [...whole.tags.keys()].filter((i) => top.every((z) => z(i) === 5)),
      ),
    );
    const [out, way] = [noSidedPlace(), new Float64Array(3)];
    signedDistance(surface, 15, 10, 8, 500, out);
    expect([out.distance, out.rim]).toEqual([3, false]);
    signedDistance(surface, 34, 10, 8, 500, out);
    expect([out.distance, out.rim]).toEqual([5, true]);
    expect([out.along, out.beyond]).toEqual([expect.closeTo(3, 9), expect.closeTo(4, 9)]);
    riseBeyond(surface, out, 34, 10, 8, way);
    expect([...way]).toEqual([expect.closeTo(1, 9), expect.closeTo(0, 9), expect.closeTo(0, 9)]);
    // nothing within reach: as far as that
    signedDistance(surface, 200, 10, 8, 20, out);
    expect([out.triangle, out.distance]).toEqual([-1, 20]);
  });
});

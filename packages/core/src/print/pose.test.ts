import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mapVector, type Vec3 } from '../mesh/index.ts';
import { laidDirection, laidOn, layDown, mirroredPose, poseOfTurn, poseTurn, turnedPose } from './pose.ts';

const up = fc
  .tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }))
  .filter((d) => Math.hypot(...d) > 1)
  .map((d) => d.map((x) => x / Math.hypot(...d)) as unknown as Vec3);
const spin = fc.integer({ min: -31, max: 31 }).map((x) => x / 10);
const pose = fc.record({ up, spin });
const near = (a: Vec3, b: Vec3) => {
  for (const k of [0, 1, 2]) expect(a[k]).toBeCloseTo(b[k], 6);
};

describe('a pose', () => {
  it('turns its up to the top, and is found again from its turn', () => {
    fc.assert(
      fc.property(pose, (p) => {
        near(laidDirection(p, p.up), [0, 0, 1]);
        const again = poseOfTurn(poseTurn(p));
        near(again.up, p.up);
        expect(Math.cos(again.spin - p.spin)).toBeCloseTo(1, 9);
      }),
    );
  });

  it('turned on the bed, all of the piece turns with it; four quarters are none', () => {
    fc.assert(
      fc.property(pose, fc.constantFrom<Vec3>([1, 0, 0], [0, 1, 0], [0, 0, 1]), (p, axis) => {
        let q = p;
        for (let i = 0; i < 4; i++) q = turnedPose(q, axis, Math.PI / 2);
        near(mapVector(poseTurn(q), [1, 0, 0]), mapVector(poseTurn(p), [1, 0, 0]));
        near(q.up, p.up);
        // what lies along the axis stays there
        near(laidDirection(turnedPose(p, axis, 0.7), directionTo(p, axis)), axis);
      }),
    );
  });

  it('laid on a face, that face looks down', () => {
    fc.assert(
      fc.property(pose, up, (p, normal) => {
        near(laidDirection(laidOn(p, normal), directionTo(p, normal)), [0, 0, -1]);
      }),
    );
  });

  it('of the mirror image lays the mirror image', () => {
    fc.assert(
      fc.property(pose, up, (p, d) => {
        const there = laidDirection(mirroredPose(p), [-d[0], d[1], d[2]]);
        const here = laidDirection(p, d);
        near(there, [-here[0], here[1], here[2]]);
      }),
    );
  });

  it('stands on z = 0, its middle over the origin', () => {
    const box = Float64Array.of(3, 4, 5, 13, 4, 5, 3, 9, 5, 3, 4, 25);
    fc.assert(
      fc.property(pose, (p) => {
        const { positions, map } = layDown(box, p);
        const of = (k: number) => [0, 1, 2, 3].map((i) => positions[3 * i + k]);
        expect(Math.min(...of(2))).toBeCloseTo(0, 9);
        for (const k of [0, 1]) expect(Math.min(...of(k)) + Math.max(...of(k))).toBeCloseTo(0, 9);
        expect(map[0] * 3 + map[1] * 4 + map[2] * 5 + map[3]).toBeCloseTo(positions[0], 9);
      }),
    );
  });
});

/** The direction of the piece that points along a direction of the bed. */
function directionTo(p: { up: Vec3; spin: number }, bed: Vec3): Vec3 {
  const m = poseTurn(p);
  return [0, 1, 2].map((k) => m[k] * bed[0] + m[4 + k] * bed[1] + m[8 + k] * bed[2]) as unknown as Vec3;
}

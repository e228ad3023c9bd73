import { expect, it } from 'vitest';
import { fallback, kernel, meshOfSolid } from '../../testing/judges.ts';
import { modelOfMesh, planOf } from '../../testing/proposing.ts';
import type { PlanInput } from '../document/index.ts';
import { evaluateModel } from '../evaluate/index.ts';
import { finished } from '../finished.ts';
import { dot } from '../mesh/index.ts';
import { type Swing, swingOf } from './swing.ts';

const degrees = (a: number): number => (a * 180) / Math.PI;

const ball = { kind: 'ball' as const, diameter: 8, neck: 4 };
const pin = { kind: 'pin' as const, diameter: 6, depth: 6 };

/** A leaf of 30 mm on a foot, held by a ball; on the foot a post stands beside it, or none. */
function swingOfLeaf(
  post: number | null,
  more: object = {},
  joint: typeof ball | typeof pin = ball,
  seams: PlanInput['seams'] = [],
): Swing | null {
  const foot = kernel.Manifold.cube([120, 40, 60]).translate([-60, -20, -60]);
  const leaf = kernel.Manifold.cylinder(80, 15, 15, 64).translate([0, 0, -1]);
  const beside = kernel.Manifold.cube([10, 40, 81]).translate([post ?? 0, -20, -1]);
  const whole = foot.add(leaf);
  const e = evaluateModel(
    planOf({
      seams: [
        { id: 's1', kind: 'flat', origin: [0, 0, 10], normal: [0, 0, 1], regions: { mode: 'only', seeds: [[0, 0]] } },
        ...seams,
      ],
      joints: [{ id: 'j1', seam: 's1', at: [0, 0], male: '+', ...joint, ...more }],
    }),
    modelOfMesh(meshOfSolid(post === null ? whole : whole.add(beside))),
    { fallback, kernel },
  );
  return finished(swingOf(e, 'j1', kernel));
}

it('swings as far as its joint lets it, or until it meets what stands beside it', () => {
  const free = swingOfLeaf(null, { swing: (20 * Math.PI) / 180 }, ball, [
    { id: 's2', kind: 'flat', origin: [0, 0, 50], normal: [0, 0, 1] },
  ])!;
  // what hangs on it comes along
  expect([free.stays.length, free.moves.length]).toEqual([1, 2]);
  expect(free.ways).toHaveLength(8);
  for (const { free: angle } of free.ways) {
    expect(degrees(angle)).toBeGreaterThanOrEqual(20);
    expect(degrees(angle)).toBeLessThan(23);
  }
  expect(free.centre[2]).toBeLessThan(10);
  expect(free.out).toEqual([-0, -0, 1].map((x) => expect.closeTo(x, 9)));
  // the upper edge of the leaf, 15 mm off the axis and 79 high, meets the post 20 mm off it
  const beside = swingOfLeaf(20, { swing: (20 * Math.PI) / 180 })!;
  const right = beside.ways.find((w) => dot(w.towards, [1, 0, 0]) > 0.99)!;
  const left = beside.ways.find((w) => dot(w.towards, [-1, 0, 0]) > 0.99)!;
  const [reach, rise] = [15, 79 - beside.centre[2]];
  const far = Math.hypot(reach, rise);
  const told = degrees(Math.asin(20 / far) - Math.atan2(reach, rise));
  expect(Math.abs(degrees(right.free) - told)).toBeLessThan(0.6);
  expect(degrees(left.free)).toBeGreaterThanOrEqual(20);
  expect(beside.moves).toHaveLength(1);
});

it('is of joints that swing and are built', () => {
  expect(swingOfLeaf(null, {}, pin)).toBeNull();
  expect(swingOfLeaf(null, { at: [40, 0] })).toBeNull();
});

import type { PoseNote } from '../document/index.ts';
import {
  type Affine,
  compose,
  inverse,
  mapNormal,
  mapVector,
  moving,
  normalize,
  turning,
  turningTo,
  type Vec3,
} from '../mesh/index.ts';
import { radians } from '../units.ts';

/** How a piece lies on the bed. */
export interface Pose {
  /** unit; points away from the bed, in the piece's coordinates */
  readonly up: Vec3;
  /** turns it about z once it lies, radians, counter-clockwise seen from above */
  readonly spin: number;
}

export const UPRIGHT: Pose = { up: [0, 0, 1], spin: 0 };

/** A pose of the plan on the model that its recipe makes. */
export const poseOnModel = ({ up, spin }: Pick<PoseNote, 'up' | 'spin'>, map: Affine): Pose => ({
  up: mapNormal(map, up),
  spin,
});

/** A direction of the model in the source's coordinates, where the plan keeps it. */
export const upInSource = (up: Vec3, map: Affine): Vec3 => mapNormal(inverse(map), up);

/** Directions nearer to each other than this are one, radians. */
export const SAME_DIRECTION = radians(2);

/** The turn that lays a piece as its pose says, about the origin. A piece on its head is turned over about x. */
export function poseTurn({ up, spin }: Pose): Affine {
  const n = normalize(up);
  const laid = n[2] < -1 + 1e-12 ? turning([1, 0, 0], Math.PI, [0, 0, 0]) : turningTo(n, [0, 0, 1], [0, 0, 0]);
  return spin === 0 ? laid : compose(turning([0, 0, 1], spin, [0, 0, 0]), laid);
}

/** The pose that turns a piece as a rotation does. */
export function poseOfTurn(m: Affine): Pose {
  const up = normalize([m[8], m[9], m[10]]);
  const base = poseTurn({ up, spin: 0 });
  // what is left after laying it is a turn about z: where it takes the base's first row
  const cos = m[0] * base[0] + m[1] * base[1] + m[2] * base[2];
  const sin = m[4] * base[0] + m[5] * base[1] + m[6] * base[2];
  return { up, spin: Math.atan2(sin, cos) };
}

/** A pose after the piece was turned on the bed about one of the bed's axes, radians. */
export const turnedPose = (pose: Pose, axis: Vec3, angle: number): Pose =>
  poseOfTurn(compose(turning(axis, angle, [0, 0, 0]), poseTurn(pose)));

/** The pose that lays what now looks along `normal` (unit, on the bed) down on the bed. */
export const laidOn = (pose: Pose, normal: Vec3): Pose =>
  poseOfTurn(compose(turningTo(normal, [0, 0, -1], [0, 0, 0]), poseTurn(pose)));

/** Positions turned by a pose, then moved so that the lowest stands on z = 0 and the middle of their box over x = y = 0. */
export function layDown(positions: Float64Array, pose: Pose): { positions: Float64Array; map: Affine } {
  const turn = poseTurn(pose);
  const out = new Float64Array(positions.length);
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i += 3) {
    for (let k = 0; k < 3; k++) {
      const x = turn[4 * k] * positions[i] + turn[4 * k + 1] * positions[i + 1] + turn[4 * k + 2] * positions[i + 2];
      out[i + k] = x;
      if (x < low[k]) low[k] = x;
      if (x > high[k]) high[k] = x;
    }
  }
  const by: Vec3 = [-(low[0] + high[0]) / 2, -(low[1] + high[1]) / 2, -low[2]];
  for (let i = 0; i < out.length; i++) out[i] += by[i % 3];
  return { positions: out, map: compose(moving(by), turn) };
}

/** The pose of a piece's mirror image in the plane x = 0. */
export const mirroredPose = ({ up: [x, y, z], spin }: Pose): Pose => ({ up: [-x, y, z], spin: -spin });

/** Where a direction of the piece points once it lies. */
export const laidDirection = (pose: Pose, direction: Vec3): Vec3 => mapVector(poseTurn(pose), direction);

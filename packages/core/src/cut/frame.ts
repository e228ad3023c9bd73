import { cross, dot, normalize, type Vec3 } from '../mesh/index.ts';

/**
 * The coordinate frame of a seam's plane. u × v = normal, all three of unit length.
 *
 *        v = up
 *        |   normal (towards the reader)
 *        o----- u
 */
export interface Frame {
  readonly origin: Vec3;
  readonly normal: Vec3;
  readonly u: Vec3;
  readonly v: Vec3;
  /** normal · x of the plane through the origin */
  readonly offset: number;
}

/** Makes a frame. `up` is made square to the normal; without one it is the axis least along the normal. */
export function makeFrame(origin: Vec3, normal: Vec3, up?: Vec3): Frame {
  const n = normalize(normal);
  const wanted = up && dot(normalize(up), n) ** 2 < 1 - 1e-12 ? up : leastAxis(n);
  const k = dot(wanted, n);
  const v = normalize([wanted[0] - n[0] * k, wanted[1] - n[1] * k, wanted[2] - n[2] * k]);
  return { origin, normal: n, u: cross(v, n), v, offset: dot(origin, n) };
}

/** The same frame with its plane moved along the normal to `offset`. */
export function atOffset(frame: Frame, offset: number): Frame {
  const s = offset - frame.offset;
  const { origin: o, normal: n } = frame;
  return { ...frame, origin: [o[0] + n[0] * s, o[1] + n[1] * s, o[2] + n[2] * s], offset };
}

/** The point at (u, v) in the plane and h along the normal. */
export function fromFrame(f: Frame, u: number, v: number, h = 0): Vec3 {
  return [
    f.origin[0] + f.u[0] * u + f.v[0] * v + f.normal[0] * h,
    f.origin[1] + f.u[1] * u + f.v[1] * v + f.normal[1] * h,
    f.origin[2] + f.u[2] * u + f.v[2] * v + f.normal[2] * h,
  ];
}

function leastAxis(n: Vec3): Vec3 {
  const [x, y, z] = n.map(Math.abs);
  if (z <= x && z <= y) return [0, 0, 1];
  return y <= x ? [0, 1, 0] : [1, 0, 0];
}

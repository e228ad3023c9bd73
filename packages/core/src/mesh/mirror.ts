import type { Vec3 } from './types.ts';
import { dot } from './vec.ts';

/** A plane in which something is its own mirror image: unit normal · x = offset. */
export interface Mirror {
  readonly normal: Vec3;
  readonly offset: number;
}

/** A plane that was found, by a point and its unit normal. One that is square to an axis but for noise is so exactly. */
export function mirrorIn(plane: { readonly normal: Vec3; readonly at: Vec3 } | null): Mirror | null {
  if (!plane) return null;
  const axis = plane.normal.findIndex((x) => Math.abs(x) > 1 - SNAP);
  if (axis < 0) return { normal: plane.normal, offset: dot(plane.at, plane.normal) };
  const normal: Vec3 = [axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0];
  return { normal, offset: plane.at[axis] };
}

/** 1 − cos of a tilt of 0.03°: a search for planes tells no finer. */
const SNAP = 1.4e-7;

/** A point's mirror image. */
export function mirroredPoint({ normal: m, offset }: Mirror, p: Vec3): Vec3 {
  const k = 2 * (dot(p, m) - offset);
  return [p[0] - k * m[0], p[1] - k * m[1], p[2] - k * m[2]];
}

/** A direction's mirror image. */
export function mirroredDirection({ normal: m }: Mirror, d: Vec3): Vec3 {
  const k = 2 * dot(d, m);
  return [d[0] - k * m[0], d[1] - k * m[1], d[2] - k * m[2]];
}

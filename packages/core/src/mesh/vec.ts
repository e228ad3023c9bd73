import type { Vec3 } from './types.ts';

/** The vector whose numbers a function gives for x, y and z (0, 1, 2). */
export const vecOf = (of: (axis: number) => number): Vec3 => [of(0), of(1), of(2)];

/** A vector with each of its numbers changed; `of` is given the number and its axis. */
export const perAxis = (v: Vec3, of: (x: number, axis: number) => number): Vec3 => [
  of(v[0], 0),
  of(v[1], 1),
  of(v[2], 2),
];

export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

export const sub = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

const length = (a: Vec3): number => Math.hypot(a[0], a[1], a[2]);

/** The unit vector along `a`; the zero vector stays zero. */
export const normalize = (a: Vec3): Vec3 => {
  const l = length(a);
  return l > 0 ? [a[0] / l, a[1] / l, a[2] / l] : [0, 0, 0];
};

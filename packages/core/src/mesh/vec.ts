/**
 * Vectors as plain triples, and triples read from flat arrays.
 *
 *   positions  xyz xyz xyz …
 *              └v0┘└v1┘└v2┘        vertexAt(positions, 1) is v1, edgeOf(positions, 0, 1) is v1 − v0
 */
import type { Vec3 } from './types.ts';

/** The axes x, y and z by number; also the corners of a triangle. */
export const AXES = [0, 1, 2] as const;

/** Three values made by number: one an axis, or one a corner of a triangle. */
export const three = <T>(of: (k: number) => T): readonly [T, T, T] => [of(0), of(1), of(2)];

/** The vector whose numbers a function gives for x, y and z (0, 1, 2). */
export const vecOf: (of: (axis: number) => number) => Vec3 = three;

/** The unit vector along an axis. */
export const axisVector = (axis: number): Vec3 => vecOf((k) => (k === axis ? 1 : 0));

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

export const add = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];

export const sub = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

export const scale = (a: Vec3, by: number): Vec3 => [a[0] * by, a[1] * by, a[2] * by];

/** The point a distance from another along a direction: `p + by · d`. */
export const pointAlong = (p: Vec3, d: Vec3, by: number): Vec3 => [
  p[0] + d[0] * by,
  p[1] + d[1] * by,
  p[2] + d[2] * by,
];

/** The point at a share of the way from one to the other; 0 is `a`. */
export const lerp = (a: Vec3, b: Vec3, share: number): Vec3 => [
  a[0] + (b[0] - a[0]) * share,
  a[1] + (b[1] - a[1]) * share,
  a[2] + (b[2] - a[2]) * share,
];

export const length = (a: Vec3): number => Math.hypot(a[0], a[1], a[2]);

export const distance = (a: Vec3, b: Vec3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** The unit vector along `a`; the zero vector stays zero. */
export const normalize = (a: Vec3): Vec3 => {
  const l = length(a);
  return l > 0 ? [a[0] / l, a[1] / l, a[2] / l] : [0, 0, 0];
};

/** The place of a vertex in a flat array. */
export const vertexAt = (positions: ArrayLike<number>, vertex: number): Vec3 => [
  positions[vertex * 3],
  positions[vertex * 3 + 1],
  positions[vertex * 3 + 2],
];

/** From one vertex of a flat array to another. */
export const edgeOf = (positions: ArrayLike<number>, from: number, to: number): Vec3 => [
  positions[to * 3] - positions[from * 3],
  positions[to * 3 + 1] - positions[from * 3 + 1],
  positions[to * 3 + 2] - positions[from * 3 + 2],
];

/** A unit vector square to another: across the axis that lies farthest from it. */
export const squareTo = (n: Vec3): Vec3 => {
  const sizes = n.map(Math.abs);
  return normalize(cross(n, axisVector(sizes.indexOf(Math.min(...sizes)))));
};

import type { Vec3 } from './types.ts';

/**
 * The normal of a polygon, flat or nearly so, as long as twice its area; `at` gives an axis of its i-th corner, mm. Newell's method
 * (Sutherland, Sproull and Schumacker, 1974), reckoned from the first corner, so that polygons far from the origin lose nothing.
 *
 *      3---2
 *      |   |    counter-clockwise: towards the reader
 *      0---1
 */
export function newellNormal(corners: number, at: (i: number, axis: number) => number): Vec3 {
  const out: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < corners; i++) {
    const next = (i + 1) % corners;
    for (let k = 0; k < 3; k++) {
      const [u, v] = [(k + 1) % 3, (k + 2) % 3];
      out[k] += (at(i, u) - at(next, u)) * (at(i, v) + at(next, v) - 2 * at(0, v));
    }
  }
  return out;
}

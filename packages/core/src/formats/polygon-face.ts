import earcut from 'earcut';
import { newellNormal } from '../mesh/index.ts';
import type { Growing } from './text.ts';

/** The most corners of one polygon. */
export const MOST_CORNERS = 10_000;

/**
 * What the large polygons of one file may cost together: cutting ears takes up to the square of a polygon's corners, so a
 * small file could keep a computer busy for hours.
 */
export class FaceBudget {
  private left = 1e9;

  /** Whether a polygon of so many corners may still be triangulated. */
  takes(corners: number): boolean {
    if (corners > 100) this.left -= corners * corners;
    return this.left > 0;
  }
}

/**
 * Triangulates one polygon of a file, given by its vertices, and appends the triangles.
 *
 *    d----c        d----c
 *    |    |   ->   |  / |      convex ones as a fan, others by cutting ears in the plane they lie in most
 *    a----b        a----b
 */
export function triangulateFace(
  corners: readonly number[],
  at: (vertex: number, axis: number) => number,
  out: Growing<Uint32Array>,
): void {
  const n = corners.length;
  if (n === 3) {
    for (const v of corners) out.push(v);
    return;
  }
  const normal = newellNormal(n, (i, axis) => at(corners[i], axis));
  const size = normal.map(Math.abs);
  const drop = size.indexOf(Math.max(...size));
  const [u, v] = [(drop + 1) % 3, (drop + 2) % 3];
  const sign = normal[drop] < 0 ? -1 : 1;
  let convex = size[drop] > 0;
  for (let i = 0; i < n && convex; i++) {
    const [a, b, c] = [corners[i], corners[(i + 1) % n], corners[(i + 2) % n]];
    const turn = (at(b, u) - at(a, u)) * (at(c, v) - at(b, v)) - (at(b, v) - at(a, v)) * (at(c, u) - at(b, u));
    convex = turn * sign >= 0;
  }
  let triangles: number[] = [];
  if (!convex) {
    triangles = earcut(corners.flatMap((x) => [at(x, u), at(x, v) * sign]));
  }
  if (triangles.length !== (n - 2) * 3) {
    for (let i = 1; i + 1 < n; i++) for (const k of [0, i, i + 1]) out.push(corners[k]);
    return;
  }
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = triangles.slice(i, i + 3);
    const turn =
      ((at(corners[b], u) - at(corners[a], u)) * (at(corners[c], v) - at(corners[a], v)) -
        (at(corners[b], v) - at(corners[a], v)) * (at(corners[c], u) - at(corners[a], u))) *
      sign;
    for (const k of turn >= 0 ? [a, b, c] : [a, c, b]) out.push(corners[k]);
  }
}

import { type AxisLine, reflected } from './symmetry.ts';

// Small questions about places on a face, in its (u, v).

type Point = readonly [number, number];

export const distance = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1]);
export const free = (p: Point, taken: readonly Point[], apart: number): boolean =>
  taken.every((q) => distance(p, q) >= apart);

function meanOf(points: readonly Point[]): Point {
  const n = Math.max(1, points.length);
  return [points.reduce((s, p) => s + p[0], 0) / n, points.reduce((s, p) => s + p[1], 0) / n];
}

/**
 * The point that is farthest from those `taken`, and at least `apart`; null when none is. The first one goes away from the
 * middle. With a line of symmetry its own mirror image counts, too, unless that is nearer than `apart`, as it then lies on
 * the line.
 */
export function farthest(
  points: readonly Point[],
  taken: readonly Point[],
  line: AxisLine | null,
  apart: number,
): Point | null {
  const middle = taken.length === 0 ? meanOf(points) : null;
  let best: Point | null = null;
  let most = middle ? -1 : apart - 1e-9;
  for (const p of points) {
    // what lies across the middle is twice as far
    let near = middle ? 2 * distance(p, middle) : Infinity;
    for (const q of taken) near = Math.min(near, distance(p, q));
    if (line && near > most) {
      const image = distance(p, reflected(line, p));
      if (image >= apart) near = Math.min(near, image);
    }
    if (near > most + 1e-9) [best, most] = [p, near];
  }
  return best;
}

/** Up to `count` of some points with their mirror images, far from one another. */
export function spread(points: readonly Point[], count: number, line: AxisLine | null, apart: number): Point[] {
  const out: Point[] = [];
  while (out.length < count) {
    const next = farthest(points, out, line, apart);
    if (!next) break;
    out.push(...(line ? pairOf(line, next, apart) : [next]));
  }
  return out;
}

export function thinned(points: readonly Point[], most: number): Point[] {
  const step = Math.max(1, points.length / most);
  return Array.from({ length: Math.min(points.length, most) }, (_, i) => points[Math.floor(i * step)]);
}

/** A point near a line is moved onto it. */
export function onLine(line: AxisLine, p: Point, near: number): [number, number] {
  const q = reflected(line, p);
  return distance(p, q) < near ? [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2] : [p[0], p[1]];
}

/** Places along a closed wall, begun where it crosses an axis of symmetry, so that even steps are symmetric too. */
export function fromAxis(line: AxisLine, points: readonly Point[]): readonly Point[] {
  const closed =
    points.length > 2 && distance(points[0], points[points.length - 1]) < 4 * distance(points[0], points[1]);
  if (!closed) return points;
  const off = points.map((p) => distance(p, reflected(line, p)));
  const start = off.indexOf(Math.min(...off));
  return [...points.slice(start), ...points.slice(0, start)];
}

/** A point and its mirror image; one that is too near the line for both goes onto it. */
export function pairOf(line: AxisLine, p: Point, apart: number): Point[] {
  const q = reflected(line, p);
  return distance(p, q) >= apart ? [p, q] : [[(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]];
}

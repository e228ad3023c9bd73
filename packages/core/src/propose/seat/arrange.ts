import type { FlatRegion } from '../../cut/index.ts';
import { midWall } from './mid-wall.ts';

type Point = readonly [number, number];

/** n points evenly from a to b, both ends included; one point is the middle. */
export function alongLine(a: Point, b: Point, n: number): [number, number][] {
  return Array.from({ length: n }, (_, i) => {
    const s = n === 1 ? 0.5 : i / (n - 1);
    return [a[0] + (b[0] - a[0]) * s, a[1] + (b[1] - a[1]) * s];
  });
}

/** n points evenly along the middle of a region's wall, at least `room` mm from its edges. Fewer where it has no room. */
export function alongWall(region: FlatRegion, n: number, room: number): [number, number][] {
  const places = midWall(region, 1).filter((p) => p.thickness / 2 >= room);
  if (places.length === 0) return [];
  return Array.from({ length: Math.min(n, places.length) }, (_, i) => {
    const [u, v] = places[Math.floor(((i + 0.5) * places.length) / n)].at;
    return [u, v];
  });
}

/** The points with equal steps between them in their order along a direction; the first and the last stay. */
export function evenly(points: readonly Point[]): [number, number][] {
  if (points.length < 3) return points.map(([u, v]) => [u, v]);
  const [a, b] = ends(points);
  const [du, dv] = [points[b][0] - points[a][0], points[b][1] - points[a][1]];
  const order = points.map((_, i) => i).sort((i, j) => key(points[i]) - key(points[j]) || i - j);
  function key([u, v]: Point): number {
    return (u - points[a][0]) * du + (v - points[a][1]) * dv;
  }
  const spread = alongLine(points[order[0]], points[order[order.length - 1]], points.length);
  const out: [number, number][] = points.map(([u, v]) => [u, v]);
  order.forEach((i, k) => {
    out[i] = spread[k];
  });
  return out;
}

/** The two points farthest from each other. */
function ends(points: readonly Point[]): [number, number] {
  let best: [number, number] = [0, 0];
  let far = -1;
  for (let i = 0; i < points.length; i++) {
    for (let j = i + 1; j < points.length; j++) {
      const d = Math.hypot(points[i][0] - points[j][0], points[i][1] - points[j][1]);
      if (d > far) [best, far] = [[i, j], d];
    }
  }
  return best;
}

import type { Polygon } from '../mesh/index.ts';
import { radians } from '../units.ts';

/** The width of a polygon across a direction, that is its extent along (cos, sin), mm. */
function extentAlong(polygon: Polygon, cos: number, sin: number): number {
  let low = Infinity;
  let high = -Infinity;
  for (let i = 0; i < polygon.length; i += 2) {
    const d = polygon[i] * cos + polygon[i + 1] * sin;
    if (d < low) low = d;
    if (d > high) high = d;
  }
  return polygon.length === 0 ? 0 : high - low;
}

/** The least width of a convex polygon, and its longest extent at that turn, mm. */
export function narrowest(polygon: Polygon): { width: number; long: number } {
  let best = { width: Infinity, long: 0 };
  for (const angle of edgeAngles(polygon)) {
    const width = extentAlong(polygon, -Math.sin(angle), Math.cos(angle));
    if (width < best.width) best = { width, long: extentAlong(polygon, Math.cos(angle), Math.sin(angle)) };
  }
  return best.width === Infinity ? { width: 0, long: 0 } : best;
}

function edgeAngles(polygon: Polygon): number[] {
  const out: number[] = [];
  for (let i = 0, j = polygon.length - 2; i < polygon.length; j = i, i += 2) {
    out.push(Math.atan2(polygon[i + 1] - polygon[j + 1], polygon[i] - polygon[j]));
  }
  return out;
}

/**
 * The least turn, radians, after which a convex polygon lies within a rectangle; and by how much it is too large along x and
 * y when it never does, at the turn where that is least. Tries the turns that lay an edge along a side (a polygon is
 * narrowest at one of them: Toussaint 1983), and every degree.
 */
export function turnToFit(polygon: Polygon, width: number, depth: number): { spin: number; over: [number, number] } {
  const quarter = Math.PI / 2;
  const angles = new Set([0]);
  for (const a of edgeAngles(polygon)) {
    const flush = ((-a % quarter) + quarter) % quarter;
    angles.add(flush).add(flush - quarter);
  }
  for (let d = 1; d <= 90; d++) angles.add(radians(d)).add(radians(-d));
  let best: { spin: number; over: [number, number] } | null = null;
  for (const spin of [...angles].sort((a, b) => Math.abs(a) - Math.abs(b) || b - a)) {
    const [c, s] = [Math.cos(spin), Math.sin(spin)];
    const over: [number, number] = [
      Math.max(0, extentAlong(polygon, c, -s) - width),
      Math.max(0, extentAlong(polygon, s, c) - depth),
    ];
    if (over[0] <= 1e-6 && over[1] <= 1e-6) return { spin, over: [0, 0] };
    if (!best || over[0] + over[1] < best.over[0] + best.over[1] - 1e-9) best = { spin, over };
  }
  return best!;
}

/** The least angle at a corner of a convex polygon, radians; π for one without corners. */
export function sharpest(polygon: Polygon): number {
  const n = polygon.length / 2;
  let least = Math.PI;
  if (n < 3) return least;
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [(i + n - 1) % n, i, (i + 1) % n];
    const [ux, uy] = [polygon[2 * a] - polygon[2 * b], polygon[2 * a + 1] - polygon[2 * b + 1]];
    const [vx, vy] = [polygon[2 * c] - polygon[2 * b], polygon[2 * c + 1] - polygon[2 * b + 1]];
    const long = Math.hypot(ux, uy) * Math.hypot(vx, vy);
    if (long > 0) least = Math.min(least, Math.acos(Math.max(-1, Math.min(1, (ux * vx + uy * vy) / long))));
  }
  return least;
}

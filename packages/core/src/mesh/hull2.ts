/** Corners of a convex polygon, counter-clockwise: x y x y …, mm. */
export type Polygon = Float64Array;

/** The convex hull of points x y x y … (Andrew's monotone chain, 1979). Fewer than three corners when they lie in a line. */
export function hull2(points: ArrayLike<number>): Polygon {
  const order = outermost(points).sort(
    (a, b) => points[2 * a] - points[2 * b] || points[2 * a + 1] - points[2 * b + 1],
  );
  const turn = (a: number, b: number, c: number): number =>
    (points[2 * b] - points[2 * a]) * (points[2 * c + 1] - points[2 * a + 1]) -
    (points[2 * b + 1] - points[2 * a + 1]) * (points[2 * c] - points[2 * a]);
  const chain = (list: readonly number[]): number[] => {
    const out: number[] = [];
    for (const i of list) {
      while (out.length >= 2 && turn(out[out.length - 2], out[out.length - 1], i) <= 0) out.pop();
      out.push(i);
    }
    return out.slice(0, -1);
  };
  const corners = [...chain(order), ...chain(order.toReversed())];
  return Float64Array.from(corners.flatMap((i) => [points[2 * i], points[2 * i + 1]]));
}

/** Few points are not worth looking over. */
const FEW = 200;

/** The points that are not within the octagon of the outermost ones in eight directions (Akl and Toussaint 1978). */
function outermost(points: ArrayLike<number>): number[] {
  const n = points.length / 2;
  if (n <= FEW) return Array.from({ length: n }, (_, i) => i);
  const ends = Array.from({ length: 8 }, (_, k) => {
    const [c, s] = [Math.cos((k * Math.PI) / 4), Math.sin((k * Math.PI) / 4)];
    let best = 0;
    let far = -Infinity;
    for (let i = 0; i < n; i++) {
      const d = points[2 * i] * c + points[2 * i + 1] * s;
      if (d > far) [best, far] = [i, d];
    }
    return best;
  });
  const octagon = Float64Array.from(ends.flatMap((i) => [points[2 * i], points[2 * i + 1]]));
  const out: number[] = [];
  for (let i = 0; i < n; i++) {
    if (depthInside(octagon, points[2 * i], points[2 * i + 1]) <= 0 || ends.includes(i)) out.push(i);
  }
  return out;
}

/** How far inside a convex polygon a point lies, mm; negative outside, −∞ for a polygon that is none. */
export function depthInside(polygon: Polygon, x: number, y: number): number {
  if (polygon.length < 6) return -Infinity;
  let depth = Infinity;
  for (let i = 0, j = polygon.length - 2; i < polygon.length; j = i, i += 2) {
    const dx = polygon[i] - polygon[j];
    const dy = polygon[i + 1] - polygon[j + 1];
    // hypot is several times as slow
    const long = Math.sqrt(dx * dx + dy * dy);
    if (long > 0) depth = Math.min(depth, (dx * (y - polygon[j + 1]) - dy * (x - polygon[j])) / long);
  }
  return depth;
}

/** Whether a point lies in a convex counter-clockwise outline, its edges included. */
export function insideConvex(l: Polygon, u: number, v: number): boolean {
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
    if ((l[i] - l[j]) * (v - l[j + 1]) - (l[i + 1] - l[j + 1]) * (u - l[j]) < 0) return false;
  }
  return true;
}

/** What of a convex polygon (xyz xyz …) lies above a level of an axis (sign 1) or below it (−1). Sutherland and Hodgman, CACM 17 (1974). */
export function clipped(points: readonly number[], axis: number, level: number, sign: 1 | -1): readonly number[] {
  if (!Number.isFinite(level)) return points;
  const out: number[] = [];
  const n = points.length;
  for (let i = 0; i < n; i += 3) {
    const j = (i + 3) % n;
    const a = (points[i + axis] - level) * sign;
    const b = (points[j + axis] - level) * sign;
    if (a >= 0) out.push(points[i], points[i + 1], points[i + 2]);
    if (a >= 0 !== b >= 0) {
      const s = a / (a - b);
      for (let k = 0; k < 3; k++) out.push(k === axis ? level : points[i + k] + s * (points[j + k] - points[i + k]));
    }
  }
  return out;
}

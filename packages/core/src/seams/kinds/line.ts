import type { Point } from './seam-kind.ts';

/** A line that is drawn by points. */
interface DrawnLine {
  readonly points: readonly Point[];
  /** straight from point to point; an arc through three; a smooth curve through all */
  readonly curve: 'line' | 'arc' | 'free';
}

/** The drawn line as points: arcs and smooth curves in short chords. */
export function sampled({ points, curve }: DrawnLine): Point[] {
  const distinct = points.filter(
    (p, i) => i === 0 || Math.hypot(p[0] - points[i - 1][0], p[1] - points[i - 1][1]) > 1e-9,
  );
  if (curve === 'line' || distinct.length < 3) return distinct;
  if (curve === 'arc')
    return arc(distinct[0], distinct[Math.floor(distinct.length / 2)], distinct[distinct.length - 1]);
  return smooth(distinct);
}

/** An arc through three points; straight where they lie in line. */
function arc(a: Point, b: Point, c: Point): Point[] {
  const d = 2 * (a[0] * (b[1] - c[1]) + b[0] * (c[1] - a[1]) + c[0] * (a[1] - b[1]));
  if (Math.abs(d) < 1e-9 * Math.hypot(c[0] - a[0], c[1] - a[1]) ** 2) return [a, b, c];
  const [sa, sb, sc] = [a, b, c].map((p) => p[0] ** 2 + p[1] ** 2);
  const x = (sa * (b[1] - c[1]) + sb * (c[1] - a[1]) + sc * (a[1] - b[1])) / d;
  const y = (sa * (c[0] - b[0]) + sb * (a[0] - c[0]) + sc * (b[0] - a[0])) / d;
  const r = Math.hypot(a[0] - x, a[1] - y);
  const angle = (p: Point): number => Math.atan2(p[1] - y, p[0] - x);
  const turn = (from: number, to: number): number => (((to - from) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  const start = angle(a);
  const forward = turn(start, angle(b)) < turn(start, angle(c));
  const sweep = forward ? turn(start, angle(c)) : turn(start, angle(c)) - 2 * Math.PI;
  const n = Math.max(8, Math.ceil(Math.abs(sweep) / 0.08));
  return Array.from({ length: n + 1 }, (_, i) => {
    const t = start + (sweep * i) / n;
    return [x + r * Math.cos(t), y + r * Math.sin(t)];
  });
}

/** A smooth curve through all points: centripetal splines, which make no loops. Catmull and Rom (1974), Yuksel et al. (2011). */
function smooth(points: readonly Point[]): Point[] {
  const end = points.length - 1;
  const mirrored = (p: Point, q: Point): Point => [2 * p[0] - q[0], 2 * p[1] - q[1]];
  const all = [mirrored(points[0], points[1]), ...points, mirrored(points[end], points[end - 1])];
  const out: Point[] = [points[0]];
  const gap = (p: Point, q: Point): number => Math.sqrt(Math.hypot(q[0] - p[0], q[1] - p[1])) || 1e-6;
  for (let i = 1; i + 2 < all.length; i++) {
    const [p0, p1, p2, p3] = all.slice(i - 1, i + 3);
    const t1 = gap(p0, p1);
    const t2 = t1 + gap(p1, p2);
    const t3 = t2 + gap(p2, p3);
    for (let k = 1; k <= 10; k++) {
      const t = t1 + ((t2 - t1) * k) / 10;
      const mix = (a: number, b: number, ta: number, tb: number): number => (a * (tb - t) + b * (t - ta)) / (tb - ta);
      const on = (c: 0 | 1): number => {
        const a1 = mix(p0[c], p1[c], 0, t1);
        const a2 = mix(p1[c], p2[c], t1, t2);
        const a3 = mix(p2[c], p3[c], t2, t3);
        return mix(mix(a1, a2, 0, t2), mix(a2, a3, t1, t3), t1, t2);
      };
      out.push([on(0), on(1)]);
    }
  }
  return out;
}

/** Square to a stretch, to its left. */
export const leftOf = (from: Point, to: Point): Point => {
  const l = Math.hypot(to[0] - from[0], to[1] - from[1]);
  return [-(to[1] - from[1]) / l, (to[0] - from[0]) / l];
};

/** The way in which a bend moves the sheet, in its plane: to the left of the line from end to end. */
export function bendWay(line: readonly Point[]): Point {
  const [first, last] = [line[0], line[line.length - 1]];
  if (line.length < 2) return [0, 1];
  return Math.hypot(first[0] - last[0], first[1] - last[1]) > 1e-9 ? leftOf(first, last) : leftOf(first, line[1]);
}

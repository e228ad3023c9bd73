import {
  cross,
  distance,
  dot,
  lerp,
  normalize,
  pointAlong,
  scale,
  squareTo,
  sub,
  type Vec3,
} from '../../mesh/index.ts';
import { easedLine } from '../../outline/index.ts';

//            .--.          A closed line in space, and the drawn line that follows it when it
//     --.___/    \___.--   is swept straight across: seen along the sweep both sides of the
//                          body lie nearly in one curve.

/** A drawn line that follows a closed one in space. Lengths mm. */
export interface BentLine {
  /** the way it is swept: unit, in the plane of the closed line */
  readonly sweep: Vec3;
  /** along the line (the plane's normal × `sweep`) and up from the plane */
  readonly points: readonly (readonly [number, number])[];
  /** how far the closed line lies from it, along the plane's normal: on the average and at most */
  readonly mean: number;
  readonly worst: number;
}

/** Ways to sweep that are tried; stretches of a line before those in one line are joined; places that are held against it. */
const WAYS = 36;
const STRETCHES = 14;
const PLACES = 400;
/** It is worth its name where it is nearer than this share of what the plane is off, and the plane is off by so much, mm. */
const BETTER = 0.6;
const OFF = 0.5;
/** Stretches are joined where that moves the line by no more than this share of what it is off, and at least so much, mm. */
const STRAIGHT = 0.2;
const LEAST = 0.05;
/** What holds a stretch level that has no places, beside the weight of one place. */
const STIFF = 1e-3;

/** The drawn line that follows a closed line best, where that is nearer than its plane; else null. */
export function bentAlong(
  points: readonly Vec3[],
  { at, normal }: { readonly at: Vec3; readonly normal: Vec3 },
): BentLine | null {
  const places = evenly(points).map((p) => sub(p, at));
  const off = places.reduce((far, d) => Math.max(far, Math.abs(dot(d, normal))), 0);
  if (off < OFF) return null;
  const e1 = squareTo(normal);
  const e2 = cross(normal, e1);
  let best: { sweep: Vec3; fit: Fit } | null = null;
  for (let i = 0; i < WAYS; i++) {
    const a = (i * Math.PI) / WAYS;
    const sweep = normalize(pointAlong(scale(e1, Math.cos(a)), e2, Math.sin(a)));
    const along = cross(normal, sweep);
    const fit = fitted(places.map((d) => [dot(d, along), dot(d, normal)]));
    if (!best || fit.mean < best.fit.mean) best = { sweep, fit };
  }
  if (!best) return null;
  const { sweep, fit } = best;
  const along = cross(normal, sweep);
  const eased = easedLine(Float64Array.from(fit.knots.flat()), Math.max(LEAST, STRAIGHT * fit.worst));
  const line = Array.from({ length: eased.length / 2 }, (_, i): [number, number] => [eased[2 * i], eased[2 * i + 1]]);
  const { mean, worst } = against(
    places.map((d) => [dot(d, along), dot(d, normal)]),
    line,
  );
  return worst < BETTER * off ? { sweep, points: line, mean, worst } : null;
}

type Pair = readonly [number, number];

interface Fit {
  readonly knots: readonly Pair[];
  readonly mean: number;
  readonly worst: number;
}

/** Places at equal distances on a closed line. */
function evenly(points: readonly Vec3[]): Vec3[] {
  const whole = points.reduce((sum, p, i) => sum + distance(p, points[(i + 1) % points.length]), 0);
  const step = whole / PLACES || 1;
  return points.flatMap((p, i) => {
    const next = points[(i + 1) % points.length];
    const n = Math.max(1, Math.round(distance(p, next) / step));
    return Array.from({ length: n }, (_, k) => lerp(p, next, k / n));
  });
}

/** The line of straight stretches of one width with the least squares of heights over some places. */
function fitted(places: readonly Pair[]): Fit {
  const from = places.reduce((x, [t]) => Math.min(x, t), Infinity);
  const to = places.reduce((x, [t]) => Math.max(x, t), -Infinity);
  const width = (to - from) / STRETCHES || 1;
  const n = STRETCHES + 1;
  // each place weighs on the knots before and after it: three diagonals
  const [diagonal, beside, right] = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
  for (let i = 0; i + 1 < n; i++) {
    diagonal[i] += STIFF;
    diagonal[i + 1] += STIFF;
    beside[i] -= STIFF;
  }
  for (const [t, h] of places) {
    const i = Math.min(STRETCHES - 1, Math.floor((t - from) / width));
    const b = (t - from) / width - i;
    const a = 1 - b;
    diagonal[i] += a * a;
    diagonal[i + 1] += b * b;
    beside[i] += a * b;
    right[i] += a * h;
    right[i + 1] += b * h;
  }
  for (let i = 1; i < n; i++) {
    const share = beside[i - 1] / diagonal[i - 1];
    diagonal[i] -= share * beside[i - 1];
    right[i] -= share * right[i - 1];
  }
  const heights = new Float64Array(n);
  for (let i = n - 1; i >= 0; i--) heights[i] = (right[i] - (i + 1 < n ? beside[i] * heights[i + 1] : 0)) / diagonal[i];
  const knots = Array.from(heights, (h, i): Pair => [from + i * width, h]);
  return { knots, ...against(places, knots) };
}

/** How far places are from a line of stretches, ascending, in height. */
function against(places: readonly Pair[], line: readonly Pair[]): { mean: number; worst: number } {
  let [sum, worst] = [0, 0];
  for (const [t, h] of places) {
    let i = 0;
    while (i + 2 < line.length && line[i + 1][0] < t) i++;
    const [[x, y], [x1, y1]] = [line[i], line[i + 1]];
    const off = Math.abs(h - (y + ((y1 - y) * (t - x)) / (x1 - x)));
    sum += off;
    worst = Math.max(worst, off);
  }
  return { mean: sum / places.length, worst };
}

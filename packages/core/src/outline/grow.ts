import { type Loop2, loopArea } from '../mesh/index.ts';
import { type Care, cleaned, FINE } from './clean.ts';
import { loopsFrom, sectionOf, unite } from './clip.ts';

/** Round corners stray no more than this from their circle, mm. */
const ARC = 0.01;
/** How far a mitred corner may stand out, in offsets; beyond that it is cut off square. */
const MITRE = 4;

/** Stretches of a band reach so far over each other, mm. */
const OVER = 1e-5;

type Point = readonly [number, number];

/** Corners of a circle that strays no more than `ARC` from a true one; a multiple of four, as the kernel wants it. */
const cornersOf = (radius: number): number =>
  4 * Math.max(2, Math.ceil(Math.PI / Math.acos(1 - Math.min(0.5, ARC / radius)) / 4));

/**
 * Loops (outlines counter-clockwise, holes clockwise) larger by so many mm all round, or smaller when `by` is negative;
 * holes and outlines that close are gone.
 */
export function grow(
  loops: readonly Loop2[],
  by: number,
  corners: 'Round' | 'Miter' = 'Round',
  care: Care = FINE,
): Loop2[] {
  if (by === 0) return unite(loops);
  const left = cleaned(
    loops.filter((l) => Math.sign(loopArea(l)) === Math.sign(by) || narrowest(l) > 2 * Math.abs(by)),
    care,
  );
  if (left.length === 0) return [];
  const section = sectionOf(left, 'NonZero');
  const grown = section.offset(by, corners, MITRE, cornersOf(Math.abs(by)));
  section.delete();
  return loopsFrom(grown);
}

/** The shorter side of a loop's box: what is narrower than twice the offset closes. */
function narrowest(l: Loop2): number {
  let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < l.length; i += 2) {
    x0 = Math.min(x0, l[i]);
    x1 = Math.max(x1, l[i]);
    y0 = Math.min(y0, l[i + 1]);
    y1 = Math.max(y1, l[i + 1]);
  }
  return Math.min(x1 - x0, y1 - y0);
}

/** What lies within so many mm of open lines: round ends, round corners. */
export function aroundLines(lines: readonly (readonly Point[])[], within: number): Loop2[] {
  const n = cornersOf(within);
  const parts = lines.flatMap((line) => stretchesOf(line).map(([a, b]) => capsule(a, b, within, n)));
  return unite(parts);
}

/**
 *     .-------.
 *    ( a     b )     counter-clockwise
 *     '-------'
 */
function capsule([ax, ay]: Point, [bx, by]: Point, radius: number, corners: number): Loop2 {
  const turn = Math.atan2(by - ay, bx - ax);
  const half = corners / 2;
  const out = new Float64Array(4 * (half + 1));
  for (let i = 0; i <= half; i++) {
    const at = turn - Math.PI / 2 + (i * Math.PI) / half;
    const k = 2 * (half + 1 + i);
    out[2 * i] = bx + radius * Math.cos(at);
    out[2 * i + 1] = by + radius * Math.sin(at);
    out[k] = ax - radius * Math.cos(at);
    out[k + 1] = ay - radius * Math.sin(at);
  }
  return out;
}

/** What lies within so many mm to both sides of an open path: square ends, mitred corners. */
export function bandAlong(path: readonly Point[], by: number): Loop2[] {
  const stretches = stretchesOf(path);
  const parts: Loop2[] = stretches.map(([from, to], i) => {
    const [nx, ny] = beside(from, to, by);
    // rounding must leave no slit where two of them meet
    const a = i === 0 ? from : beyond(from, nx, ny, -OVER / by);
    const b = i === stretches.length - 1 ? to : beyond(to, nx, ny, OVER / by);
    return Float64Array.of(a[0] + nx, a[1] + ny, a[0] - nx, a[1] - ny, b[0] - nx, b[1] - ny, b[0] + nx, b[1] + ny);
  });
  for (let i = 1; i < stretches.length; i++) {
    const wedge = mitre(stretches[i - 1][0], stretches[i][0], stretches[i][1], by);
    if (wedge) parts.push(wedge);
  }
  return unite(parts);
}

/** A place so far ahead along a stretch, in lengths of its normal. */
const beyond = ([x, y]: Point, nx: number, ny: number, by: number): Point => [x + ny * by, y - nx * by];

/** Stretches of a path that are longer than nothing; a point is one of its own. */
function stretchesOf(line: readonly Point[]): [Point, Point][] {
  const out: [Point, Point][] = [];
  for (let i = 1; i < line.length; i++) {
    if (line[i][0] !== line[i - 1][0] || line[i][1] !== line[i - 1][1]) out.push([line[i - 1], line[i]]);
  }
  return out.length > 0 || line.length === 0 ? out : [[line[0], line[0]]];
}

/** From a path to the line `by` to its left. */
function beside(a: Point, b: Point, by: number): [number, number] {
  const long = Math.hypot(b[0] - a[0], b[1] - a[1]);
  return long > 0 ? [(-(b[1] - a[1]) / long) * by, ((b[0] - a[0]) / long) * by] : [0, by];
}

/** The wedge outside of a corner that two stretches leave open; null where they run straight on. */
function mitre(a: Point, b: Point, c: Point, by: number): Loop2 | null {
  const turn = (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]);
  if (turn === 0) return null;
  const out = turn > 0 ? -by : by;
  const [n, m] = [beside(a, b, out), beside(b, c, out)];
  const middle = [n[0] + m[0], n[1] + m[1]];
  const long = middle[0] ** 2 + middle[1] ** 2;
  const from: Point = [b[0] + n[0], b[1] + n[1]];
  const to: Point = [b[0] + m[0], b[1] + m[1]];
  const tip: Point[] = [];
  if (long * MITRE ** 2 >= 4 * by * by) {
    const s = (2 * by * by) / long;
    tip.push([b[0] + s * middle[0], b[1] + s * middle[1]]);
  } else {
    // cut off square, `by` from the corner
    const [tx, ty] = [
      (b[0] - a[0]) / Math.hypot(b[0] - a[0], b[1] - a[1]),
      (b[1] - a[1]) / Math.hypot(b[0] - a[0], b[1] - a[1]),
    ];
    const half = Math.sqrt(long) / 2 / by;
    const s = by * Math.sqrt((1 - half) / (1 + half));
    const [ux, uy] = [
      (c[0] - b[0]) / Math.hypot(c[0] - b[0], c[1] - b[1]),
      (c[1] - b[1]) / Math.hypot(c[0] - b[0], c[1] - b[1]),
    ];
    tip.push([from[0] + s * tx, from[1] + s * ty], [to[0] - s * ux, to[1] - s * uy]);
  }
  const loop = Float64Array.from([b, from, ...tip, to].flat());
  return loopArea(loop) >= 0 ? loop : Float64Array.from([b, to, ...tip.toReversed(), from].flat());
}

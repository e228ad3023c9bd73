import { Clipper, EndType, JoinType, type PathD } from 'clipper2-ts';
import { pathOf } from './outlines.ts';
import { type Loop2, loopArea } from './polygon.ts';

/** Decimals of a millimetre that offsetting keeps. */
const DIGITS = 7;
/** Points are left out where the line stays within this, mm. */
const EASE = 0.0015;
/** How far a mitred corner may stand out, in offsets. */
const MITRE = 4;

type Point = readonly [number, number];

/**
 * The line `by` mm to the left of a closed loop, running the same way; null when nothing is left of it. Of several parts
 * the largest. Corners are mitred.
 */
export function besideLoop(loop: Loop2, by: number): Loop2 | null {
  const outward = loopArea(loop) < 0;
  const path = pathOf(outward ? reversed(loop) : loop);
  const found = Clipper.inflatePathsD([path], outward ? by : -by, JoinType.Miter, EndType.Polygon, MITRE, DIGITS);
  const largest = largestOf(found.map((p) => Clipper.ramerDouglasPeuckerD(p, EASE)));
  return largest && (outward ? reversed(largest) : largest);
}

/**
 * The line `by` mm to the left of an open path, running the same way; null when the path is too bent for it. It begins and
 * ends square beside the path's ends.
 *
 *      o-------------o     left
 *      |             |
 *   -->o-------------o-->  path
 */
export function besidePath(path: readonly Point[], by: number): Point[] | null {
  const line = path.map(([x, y]) => ({ x, y }));
  const band = largestOf(Clipper.inflatePathsD([line], by, JoinType.Miter, EndType.Butt, MITRE, DIGITS));
  if (!band) return null;
  const beside = (at: Point, from: Point, to: Point): Point => {
    const l = Math.hypot(to[0] - from[0], to[1] - from[1]);
    return [at[0] - ((to[1] - from[1]) / l) * by, at[1] + ((to[0] - from[0]) / l) * by];
  };
  const start = nearestCorner(band, beside(path[0], path[0], path[1]));
  const end = nearestCorner(band, beside(path[path.length - 1], path[path.length - 2], path[path.length - 1]));
  if (start.distance > by / 10 || end.distance > by / 10) return null;
  // counter-clockwise round the band its left side runs from the path's end to its start
  const n = band.length / 2;
  const out: Point[] = [];
  for (let i = end.corner; ; i = (i + 1) % n) {
    out.push([band[i * 2], band[i * 2 + 1]]);
    if (i === start.corner) break;
  }
  if (out.length < 2) return null;
  const eased = Clipper.ramerDouglasPeuckerD(
    out.map(([x, y]) => ({ x, y })),
    EASE,
  );
  return eased.map(({ x, y }): Point => [x, y]).reverse();
}

function reversed(l: Loop2): Loop2 {
  const out = new Float64Array(l.length);
  for (let i = 0; i < l.length; i += 2) out.set(l.subarray(i, i + 2), l.length - 2 - i);
  return out;
}

function largestOf(paths: readonly PathD[]): Loop2 | null {
  let best: Loop2 | null = null;
  let most = 0;
  for (const path of paths) {
    const loop = Float64Array.from(path.flatMap(({ x, y }) => [x, y]));
    const area = loopArea(loop);
    if (area > most) [best, most] = [loop, area];
  }
  return best;
}

function nearestCorner(l: Loop2, [x, y]: Point): { corner: number; distance: number } {
  let best = { corner: 0, distance: Infinity };
  for (let i = 0; i < l.length; i += 2) {
    const distance = Math.hypot(l[i] - x, l[i + 1] - y);
    if (distance < best.distance) best = { corner: i / 2, distance };
  }
  return best;
}

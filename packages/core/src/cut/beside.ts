import { type Loop2, loopArea } from '../mesh/index.ts';
import { bandAlong, easedLine, easedLoop, grow } from '../outline/index.ts';

/** Points are left out where the line stays within this, mm. */
const EASE = 0.0015;

type Point = readonly [number, number];

/**
 * The line `by` mm to the left of a closed loop, running the same way; null when nothing is left of it. Of several parts
 * the largest. Corners are mitred.
 */
export function besideLoop(loop: Loop2, by: number): Loop2 | null {
  const outward = loopArea(loop) < 0;
  const found = grow([outward ? reversed(loop) : loop], outward ? by : -by, 'Miter');
  const largest = largestOf(found);
  const eased = largest && easedLoop(largest, EASE);
  return eased && (outward ? reversed(eased) : eased);
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
  const band = largestOf(bandAlong(path, by));
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
  const out: number[] = [];
  for (let i = end.corner; ; i = (i + 1) % n) {
    out.push(band[i * 2], band[i * 2 + 1]);
    if (i === start.corner) break;
  }
  if (out.length < 4) return null;
  const eased = easedLine(Float64Array.from(out), EASE);
  return Array.from({ length: eased.length / 2 }, (_, i): Point => [eased[2 * i], eased[2 * i + 1]]).reverse();
}

function reversed(l: Loop2): Loop2 {
  const out = new Float64Array(l.length);
  for (let i = 0; i < l.length; i += 2) out.set(l.subarray(i, i + 2), l.length - 2 - i);
  return out;
}

/** The largest of a few loops; null when none covers anything. */
function largestOf(loops: readonly Loop2[]): Loop2 | null {
  let best: Loop2 | null = null;
  let most = 0;
  for (const loop of loops) {
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

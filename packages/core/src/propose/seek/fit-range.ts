import { type Profile, slabBox } from '../../cut/index.ts';
import type { Printer } from '../../document/index.ts';
import type { Vec3 } from '../../mesh/index.ts';
import { withinBuild } from '../../print/index.ts';

/** Whether what lies between two places along a direction fits the printer. Empty stretches fit. */
function stretchFits(profile: Profile, normal: Vec3, printer: Printer, low: number, high: number): boolean {
  const box = slabBox(profile, low, high);
  if (!box) return true;
  const min = [...box.min] as [number, number, number];
  const max = [...box.max] as [number, number, number];
  // along a coordinate axis the places themselves are the ends; the stations are only near them
  const axis = [0, 1, 2].find((a) => Math.abs(normal[a]) > 1 - 1e-9);
  if (axis !== undefined) {
    const [p, q] = normal[axis] > 0 ? [low, high] : [-high, -low];
    min[axis] = Math.max(min[axis], p);
    max[axis] = Math.min(max[axis], q);
  }
  return withinBuild(printer, [max[0] - min[0], max[1] - min[1], max[2] - min[2]]).within;
}

/** The stretches of a direction where a seam leaves pieces that fit on both of its sides, from stop to stop. */
export function fitBands(
  profile: Profile,
  normal: Vec3,
  printer: Printer,
  low: number,
  high: number,
): [number, number][] {
  const end = farthest(profile, normal, printer, low, high, 1);
  const start = farthest(profile, normal, printer, high, low, -1);
  if (end === null || start === null || start > end) return [];
  // both ways it only gets harder the farther from the end, so one band is all there can be
  return [[Math.max(low, start), Math.min(high, end)]];
}

/**
 * How far a piece may reach from one place towards another and still fit: the place, or null when not even a slice does.
 * Found to a thousandth of a millimetre.
 */
export function farthest(
  profile: Profile,
  normal: Vec3,
  printer: Printer,
  from: number,
  to: number,
  way: 1 | -1,
): number | null {
  const fits = (x: number): boolean =>
    way > 0 ? stretchFits(profile, normal, printer, from, x) : stretchFits(profile, normal, printer, x, from);
  if (fits(to)) return to;
  const stations = Array.from(profile.at).filter((x) => (way > 0 ? x > from && x < to : x < from && x > to));
  if (way < 0) stations.reverse();
  let good = from;
  let bad = to;
  for (const x of stations) {
    if (!fits(x)) {
      bad = x;
      break;
    }
    good = x;
  }
  if (good === from && !fits(from + (bad - from) * 1e-3)) return null;
  while (Math.abs(bad - good) > 1e-3) {
    const middle = (good + bad) / 2;
    if (fits(middle)) good = middle;
    else bad = middle;
  }
  return good;
}

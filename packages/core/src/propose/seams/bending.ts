import type { SliceRegion } from './slice.ts';

/** Of a print with walls and infill, N/mm³: 0.5 g/cm³. */
const WEIGHT = 5e-6;

/**
 * How much the lighter part that a cut leaves bends its face when it is held out level, N/mm²: its weight at half its depth,
 * over the section modulus of what is cut about its weaker axis (I / c; Gere and Timoshenko, Mechanics of Materials).
 */
export function bendingOf(
  cut: readonly Pick<SliceRegion, 'flat'>[],
  parts: readonly { readonly volume: number; readonly deep: number }[],
): number {
  const moments = parts.map((p) => (WEIGHT * p.volume * p.deep) / 2);
  const moment = Math.min(...moments);
  return moment / cut.reduce((sum, r) => sum + modulusOf(r.flat), 0);
}

/** mm³: the least second moment of area through its middle, over how far its outline is from that axis. */
function modulusOf({ outer2, holes2 }: SliceRegion['flat']): number {
  let [area, x, y, xx, yy, xy] = [0, 0, 0, 0, 0, 0];
  for (const l of [outer2, ...holes2]) {
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
      const [ax, ay, bx, by] = [l[j], l[j + 1], l[i], l[i + 1]];
      const w = (ax * by - bx * ay) / 2;
      area += w;
      x += (w * (ax + bx)) / 3;
      y += (w * (ay + by)) / 3;
      xx += (w * (ax * ax + ax * bx + bx * bx)) / 6;
      yy += (w * (ay * ay + ay * by + by * by)) / 6;
      xy += (w * (2 * ax * ay + ax * by + bx * ay + 2 * bx * by)) / 12;
    }
  }
  if (area <= 0) return 1e-9;
  const [mx, my] = [x / area, y / area];
  const [ixx, iyy, ixy] = [xx - area * mx * mx, yy - area * my * my, xy - area * mx * my];
  const least = (ixx + iyy) / 2 - Math.hypot((ixx - iyy) / 2, ixy);
  // across the way in which it spreads most
  const along = Math.atan2(2 * ixy, ixx - iyy) / 2;
  const [ex, ey] = [-Math.sin(along), Math.cos(along)];
  let far = 0;
  for (let i = 0; i < outer2.length; i += 2)
    far = Math.max(far, Math.abs(ex * (outer2[i] - mx) + ey * (outer2[i + 1] - my)));
  return Math.max(1e-9, least / Math.max(far, 1e-9));
}

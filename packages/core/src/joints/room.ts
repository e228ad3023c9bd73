import polylabel from 'polylabel';
import { inRegion, type Loop2, nearestOnLoop, type Region } from '../cut/index.ts';

/** The place of a mating face that is farthest from its edges, and how far, mm. */
export interface Pole {
  readonly u: number;
  readonly v: number;
  readonly distance: number;
}

const poles = new WeakMap<Loop2, Pole>();

/** Pole of inaccessibility of a region, to a hundredth of its size. */
export function poleOf(region: Pick<Region, 'outer2' | 'holes2'>): Pole {
  const known = poles.get(region.outer2);
  if (known) return known;
  const ring = (l: Loop2): [number, number][] => {
    const out: [number, number][] = [];
    for (let i = 0; i < l.length; i += 2) out.push([l[i], l[i + 1]]);
    return out;
  };
  let reach = 0;
  for (const x of region.outer2) reach = Math.max(reach, Math.abs(x - region.outer2[0]));
  const found = polylabel([ring(region.outer2), ...region.holes2.map(ring)], Math.max(reach / 100, 1e-6));
  const pole = { u: found[0], v: found[1], distance: found.distance };
  poles.set(region.outer2, pole);
  return pole;
}

/** Distance from a point inside a region to its nearest edge, mm; negative outside. */
export function edgeDistance(region: Pick<Region, 'outer2' | 'holes2'>, u: number, v: number): number {
  let best = Infinity;
  for (const loop of [region.outer2, ...region.holes2]) best = Math.min(best, nearestOnLoop(loop, u, v).distance);
  return inRegion(region, u, v) ? best : -best;
}

/**
 * The least distance from a convex outline (centre u, v) to the edges of a region, mm: the wall left beside it. Negative
 * when the outline leaves the region.
 */
export function outlineRoom(region: Pick<Region, 'outer2' | 'holes2'>, outline: Loop2): number {
  let best = Infinity;
  for (let i = 0; i < outline.length; i += 2) {
    best = Math.min(best, edgeDistance(region, outline[i], outline[i + 1]));
    if (best < 0) return best;
  }
  // an edge of the region may come between two corners of the outline
  for (const loop of [region.outer2, ...region.holes2]) {
    for (let i = 0; i < loop.length; i += 2) {
      const d = convexDistance(outline, loop[i], loop[i + 1]);
      if (d < best) best = d;
      if (best < 0) return best;
    }
  }
  return best;
}

/** Distance from a point to a convex counter-clockwise outline, negative inside. */
export function convexDistance(outline: Loop2, u: number, v: number): number {
  const inside = insideConvex(outline, u, v);
  const d = nearestOnLoop(outline, u, v).distance;
  return inside ? -d : d;
}

function insideConvex(l: Loop2, u: number, v: number): boolean {
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
    if ((l[i] - l[j]) * (v - l[j + 1]) - (l[i + 1] - l[j + 1]) * (u - l[j]) < 0) return false;
  }
  return true;
}

/** Distance between two convex outlines in the plane, 0 when they meet. */
export function convexGap(a: Loop2, b: Loop2): number {
  let best = Infinity;
  for (let i = 0; i < a.length; i += 2) best = Math.min(best, convexDistance(b, a[i], a[i + 1]));
  for (let i = 0; i < b.length; i += 2) best = Math.min(best, convexDistance(a, b[i], b[i + 1]));
  return Math.max(0, best);
}

import polylabel from 'polylabel';
import { inRegion, type Region } from '../cut/index.ts';
import {
  insideConvex,
  type Loop2,
  loopArea,
  loopLength,
  nearestOnLoop,
  pointSegment2,
  segmentGap2,
  segmentsCross,
} from '../mesh/index.ts';

/** The place of a mating face that is farthest from its edges, and how far, mm. */
export interface Pole {
  readonly u: number;
  readonly v: number;
  readonly distance: number;
}

const poles = new WeakMap<Loop2, Pole>();

/** Nearer to the true pole than this no joint cares, mm. */
const FINE = 0.02;

/** Pole of inaccessibility of a region, to a thirtieth of the radius of a disc or of the thickness of a strip. */
export function poleOf(region: Pick<Region, 'outer2' | 'holes2'>): Pole {
  const known = poles.get(region.outer2);
  if (known) return known;
  const ring = (l: Loop2): [number, number][] => {
    const out: [number, number][] = [];
    for (let i = 0; i < l.length; i += 2) out.push([l[i], l[i + 1]]);
    return out;
  };
  const { outer2, holes2 } = region;
  const area = Math.abs(loopArea(outer2)) - holes2.reduce((sum, l) => sum + Math.abs(loopArea(l)), 0);
  const rim = [outer2, ...holes2].reduce((sum, l) => sum + loopLength(l), 0);
  // twice the area over the outline: the radius of a disc, the thickness of a strip
  const precision = Math.max((2 * area) / rim / 30, FINE);
  const found = polylabel([outer2, ...holes2].map(ring), precision);
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
 * The least distance from a convex outline to the edges of a region, mm: the wall left beside it. Negative when the outline
 * leaves the region, by how far its first corner outside is off.
 */
export function outlineRoom(region: Pick<Region, 'outer2' | 'holes2'>, outline: Loop2): number {
  let [cu, cv] = [0, 0];
  for (let i = 0; i < outline.length; i += 2) {
    cu += outline[i];
    cv += outline[i + 1];
  }
  cu /= outline.length / 2;
  cv /= outline.length / 2;
  let radius = 0;
  for (let i = 0; i < outline.length; i += 2)
    radius = Math.max(radius, Math.hypot(outline[i] - cu, outline[i + 1] - cv));
  let best = inRegion(region, cu, cv) ? Infinity : 0;
  // no edge is farther from the outline than the nearest corner is from its middle
  let bound = Infinity;
  for (const loop of [region.outer2, ...region.holes2]) {
    for (let i = 0; i < loop.length; i += 2) bound = Math.min(bound, (loop[i] - cu) ** 2 + (loop[i + 1] - cv) ** 2);
  }
  bound = (Math.sqrt(bound) + radius) ** 2;
  for (const loop of [region.outer2, ...region.holes2]) {
    for (let i = 0, j = loop.length - 2; i < loop.length && best > 0; j = i, i += 2) {
      if (pointSegment2(cu, cv, loop[j], loop[j + 1], loop[i], loop[i + 1]) >= bound) continue;
      best = Math.min(best, segmentToOutline(outline, loop[j], loop[j + 1], loop[i], loop[i + 1]));
      bound = Math.min(bound, (best + radius) ** 2);
    }
  }
  if (best > 0) return best;
  for (let i = 0; i < outline.length; i += 2) {
    const d = edgeDistance(region, outline[i], outline[i + 1]);
    if (d < 0) return d;
  }
  // an edge of the region comes in between two corners
  return -Math.max(...cornersInside(region, outline));
}

/** How deep corners of the region lie inside an outline, mm; 0 when only edges cross. */
function cornersInside(region: Pick<Region, 'outer2' | 'holes2'>, outline: Loop2): number[] {
  const out = [1e-9];
  for (const loop of [region.outer2, ...region.holes2]) {
    for (let i = 0; i < loop.length; i += 2) out.push(-convexDistance(outline, loop[i], loop[i + 1]));
  }
  return out;
}

/** Distance of a segment to a convex outline, 0 when it meets it or lies inside. */
function segmentToOutline(outline: Loop2, ax: number, ay: number, bx: number, by: number): number {
  if (insideConvex(outline, ax, ay) || insideConvex(outline, bx, by)) return 0;
  let best = Infinity;
  for (let i = 0, j = outline.length - 2; i < outline.length; j = i, i += 2) {
    const [cx, cy, dx, dy] = [outline[j], outline[j + 1], outline[i], outline[i + 1]];
    best = Math.min(best, segmentGap2(ax, ay, bx, by, cx, cy, dx, dy));
  }
  return Math.sqrt(best);
}

/** Distance from a point to a convex counter-clockwise outline, negative inside. */
function convexDistance(outline: Loop2, u: number, v: number): number {
  const inside = insideConvex(outline, u, v);
  const d = nearestOnLoop(outline, u, v).distance;
  return inside ? -d : d;
}

/** Distance between two convex outlines in the plane, 0 when they meet: of corners from edges, unless edges cross. */
export function convexGap(a: Loop2, b: Loop2): number {
  let best = Infinity;
  for (let i = 0; i < a.length; i += 2) best = Math.min(best, convexDistance(b, a[i], a[i + 1]));
  for (let i = 0; i < b.length; i += 2) best = Math.min(best, convexDistance(a, b[i], b[i + 1]));
  return best <= 0 || outlinesCross(a, b) ? 0 : best;
}

function outlinesCross(a: Loop2, b: Loop2): boolean {
  for (let i = 0, j = a.length - 2; i < a.length; j = i, i += 2) {
    for (let k = 0, l = b.length - 2; k < b.length; l = k, k += 2) {
      if (segmentsCross(a[j], a[j + 1], a[i], a[i + 1], b[l], b[l + 1], b[k], b[k + 1])) return true;
    }
  }
  return false;
}

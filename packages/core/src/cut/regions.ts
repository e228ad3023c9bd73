import { type Loop2, loopArea, winding } from '../mesh/index.ts';
import type { CapLoops, Cell } from './cell.ts';
import type { Frame } from './frame.ts';

/**
 * One connected area of a cap. Its outline is given in the seam's (u, v), where outer loops run counter-clockwise and
 * holes clockwise, whichever side the cap belongs to, so that both sides of a seam give the same outline.
 */
export interface Region {
  readonly seam: string;
  readonly side: 1 | -1;
  readonly outer: Uint32Array;
  readonly holes: readonly Uint32Array[];
  readonly outer2: Loop2;
  readonly holes2: readonly Loop2[];
  /** mm², holes taken off */
  readonly area: number;
}

/**
 * Groups the loops of a cap into regions: each hole goes to the smallest outer loop around it. A hole that no outer loop
 * surrounds (overlapping shells) becomes a region of its own with negative area, so that no loop is lost.
 */
export function regionsOf(cell: Pick<Cell, 'positions'>, cap: CapLoops, frame: Frame): Region[] {
  const { positions: p } = cell;
  const loops = cap.loops.map((loop) => {
    const ids = cap.side > 0 ? loop.slice().reverse() : loop;
    const flat = new Float64Array(ids.length * 2);
    for (let i = 0; i < ids.length; i++) {
      const k = ids[i] * 3;
      const x = p[k] - frame.origin[0];
      const y = p[k + 1] - frame.origin[1];
      const z = p[k + 2] - frame.origin[2];
      flat[i * 2] = x * frame.u[0] + y * frame.u[1] + z * frame.u[2];
      flat[i * 2 + 1] = x * frame.v[0] + y * frame.v[1] + z * frame.v[2];
    }
    return { ids, ...measured(flat) };
  });
  return grouped(loops).map(({ outer, holes }) => ({
    seam: cap.seam,
    side: cap.side,
    outer: outer.ids,
    holes: holes.map((h) => h.ids),
    outer2: outer.flat,
    holes2: holes.map((h) => h.flat),
    area: holes.reduce((sum, h) => sum + h.area, outer.area),
  }));
}

/** A region of a section: its outlines, and its area in mm². */
export type FlatRegion = Pick<Region, 'outer2' | 'holes2' | 'area'>;

/** Groups the loops of a section (solid on their left) into regions. */
export function regionsOfLoops(loops: readonly Loop2[]): FlatRegion[] {
  return grouped(loops.map(measured)).map(({ outer, holes }) => ({
    outer2: outer.flat,
    holes2: holes.map((h) => h.flat),
    area: holes.reduce((sum, h) => sum + h.area, outer.area),
  }));
}

interface Measured {
  readonly flat: Loop2;
  readonly area: number;
  readonly box: readonly [number, number, number, number];
}

const measured = (flat: Loop2): Measured => ({ flat, area: loopArea(flat), box: box2(flat) });

function grouped<L extends Measured>(loops: readonly L[]): { outer: L; holes: L[] }[] {
  const outers = loops.filter((l) => l.area > 0).sort((a, b) => a.area - b.area);
  const groups = outers.map((outer) => ({ outer, holes: [] as L[] }));
  for (const hole of loops) {
    if (hole.area > 0) continue;
    const home = groups.find((g) => surrounds(g.outer, hole));
    if (home) home.holes.push(hole);
    else groups.push({ outer: hole, holes: [] });
  }
  return groups;
}

function box2(l: Loop2): [number, number, number, number] {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < l.length; i += 2) {
    box[0] = Math.min(box[0], l[i]);
    box[1] = Math.min(box[1], l[i + 1]);
    box[2] = Math.max(box[2], l[i]);
    box[3] = Math.max(box[3], l[i + 1]);
  }
  return box;
}

/** Whether most of a few points of `inner` lie inside `outer`; a loop may touch the other in single points. */
function surrounds(
  outer: { flat: Loop2; box: readonly number[] },
  inner: { flat: Loop2; box: readonly number[] },
): boolean {
  for (let a = 0; a < 2; a++) {
    if (inner.box[a] < outer.box[a] || inner.box[a + 2] > outer.box[a + 2]) return false;
  }
  const n = inner.flat.length / 2;
  const step = Math.max(1, Math.floor(n / 5));
  let votes = 0;
  for (let i = 0; i < n; i += step) {
    votes += winding(outer.flat, inner.flat[i * 2], inner.flat[i * 2 + 1]) !== 0 ? 1 : -1;
  }
  return votes > 0;
}

/** Whether a point of the seam's plane lies in the region. */
export function inRegion(region: Pick<Region, 'outer2' | 'holes2'>, u: number, v: number): boolean {
  if (winding(region.outer2, u, v) === 0) return false;
  return region.holes2.every((h) => winding(h, u, v) === 0);
}

/**
 * A point well inside a region: the middle of the widest stretch that a level line through it has inside, the best of a
 * few lines.
 */
export function insidePoint(region: Pick<Region, 'outer2' | 'holes2'>): [number, number] {
  const box = box2(region.outer2);
  let best = -1;
  let found: [number, number] = [region.outer2[0], region.outer2[1]];
  for (const share of [0.5, 0.29, 0.73, 0.11, 0.91]) {
    const v = box[1] + (box[3] - box[1]) * share;
    const places: number[] = [];
    for (const l of [region.outer2, ...region.holes2]) {
      for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
        if (l[i + 1] > v === l[j + 1] > v) continue;
        places.push(l[j] + ((v - l[j + 1]) / (l[i + 1] - l[j + 1])) * (l[i] - l[j]));
      }
    }
    places.sort((a, b) => a - b);
    for (let i = 0; i + 1 < places.length; i += 2) {
      const wide = places[i + 1] - places[i];
      if (wide > best) {
        best = wide;
        found = [(places[i] + places[i + 1]) / 2, v];
      }
    }
  }
  return found;
}

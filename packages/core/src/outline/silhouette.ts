import { boxOf, type Loop2, loopArea } from '../mesh/index.ts';
import { ROUGH } from './clean.ts';
import { loopsFrom, sectionOf } from './clip.ts';
import { easedLoop } from './ease.ts';
import { maskOf, tracedLoops } from './mask.ts';

interface Flat {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
}

/** Corners that lie nearer to the line between their neighbours are dropped, mm. */
const STRAIGHT = 0.005;
/** Borders of more corners than this are not united but looked at by cells: the kernel would take seconds. */
const MOST_CORNERS = 8_000;

/**
 * The silhouette of a closed mesh seen from above, mm: outlines counter-clockwise, holes clockwise. It is what the borders
 * between what faces up and what does not cover together; of meshes so rough that these are endless, what cells of a tenth
 * of a millimetre see, or of 1/1500 of the size if that is more. A mesh with corners always has one.
 */
export function silhouette(mesh: Flat): Loop2[] {
  const borders = bordersFacingUp(mesh)
    .map((l) => easedLoop(l, STRAIGHT))
    .filter((l) => l.length > 4);
  const corners = borders.reduce((n, l) => n + l.length / 2, 0);
  const united = borders.length > 0 && corners <= MOST_CORNERS ? loopsFrom(sectionOf(borders, 'Positive')) : [];
  const found = reachesAll(united, mesh) ? united : tracedLoops(maskOf(mesh));
  const kept = found
    .filter((l) => Math.abs(loopArea(l)) > ROUGH.crumb)
    .map((l) => easedLoop(l, STRAIGHT))
    .filter((l) => l.length > 4);
  return kept.length > 0 ? kept : [boxSeenFromAbove(mesh)];
}

/** The box of a mesh as an outline: what is left of a crumb of which nothing else is. */
function boxSeenFromAbove({ positions }: Flat): Loop2 {
  const { min, max } = boxOf(positions);
  return Float64Array.of(min[0], min[1], max[0], min[1], max[0], max[1], min[0], max[1]);
}

/** Whether outlines reach as far to all sides as their mesh: what is lost of them is mostly lost as a whole. */
function reachesAll(loops: readonly Loop2[], { positions: p }: Flat): boolean {
  const own = [Infinity, Infinity, Infinity, Infinity];
  const whole = [Infinity, Infinity, Infinity, Infinity];
  const take = (box: number[], x: number, y: number): void => {
    [x, y, -x, -y].forEach((value, k) => {
      if (value < box[k]) box[k] = value;
    });
  };
  for (const l of loops) for (let i = 0; i < l.length; i += 2) take(own, l[i], l[i + 1]);
  for (let i = 0; i < p.length; i += 3) take(whole, p[i], p[i + 1]);
  return own.every((value, k) => value - whole[k] < 10 * STRAIGHT);
}

/**
 * Walked along directed edges of triangles that face up, less those whose other side faces up too. Where a place is
 * covered once or more, their winding is positive.
 */
function bordersFacingUp({ positions: p, triangles: t }: Flat): Loop2[] {
  const n = p.length / 3;
  const borders = new Map<number, number[]>();
  const open = new Set<number>();
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const up = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a]);
    if (up <= 0) continue;
    for (let e = 0; e < 3; e++) {
      const from = t[i + e];
      const to = t[i + ((e + 1) % 3)];
      // an edge and its twin cancel
      if (!open.delete(to * n + from)) open.add(from * n + to);
    }
  }
  for (const edge of open) {
    const from = Math.floor(edge / n);
    const to = edge % n;
    const list = borders.get(from);
    if (list) list.push(to);
    else borders.set(from, [to]);
  }
  const loops: Loop2[] = [];
  for (const [start, list] of borders) {
    while (list.length > 0) {
      const loop = [p[3 * start], p[3 * start + 1]];
      let at = list.pop()!;
      while (at !== start) {
        loop.push(p[3 * at], p[3 * at + 1]);
        const next = borders.get(at)?.pop();
        if (next === undefined) break;
        at = next;
      }
      if (loop.length > 4) loops.push(Float64Array.from(loop));
    }
  }
  return loops;
}

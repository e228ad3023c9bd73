import { besideLoop, besidePath, type FlatRegion } from '../../../cut/index.ts';
import { type Loop2, loopLength, nearestOnLoop } from '../../../mesh/index.ts';
import type { FormWish, JointForm } from '../../form.ts';
import { endsOf, stripOf, waysAlong } from '../../strip.ts';

/** Sizes of a lap, mm. */
export interface LapSizes {
  /** thickness of the lip */
  readonly lip: number;
  /** how far the lip reaches over the seam */
  readonly depth: number;
  /** the edge of the wall that the lip continues */
  readonly edge: 'inside' | 'outside';
  /** how far it keeps from the ends of a wall that has ends */
  readonly setback: number;
}

type Point = readonly [number, number];

/** A line that bounds a lap across its wall: (tu, tv) · (u, v) > c is where the lap is. */
export interface LapEnd {
  readonly tu: number;
  readonly tv: number;
  readonly c: number;
  /** where it meets the edge of the wall */
  readonly at: Point;
}

/** One side of a lap on its mating face: the lip, or the rebate that takes it up. */
export interface LapSide {
  /** the step between lip and rebate, along the way of the face's outline */
  readonly step: readonly Point[];
  /** at its start and its end, both looking into the lap; none round a closed wall */
  readonly ends: readonly LapEnd[];
  /** of the step from the edge of the wall, mm */
  readonly thick: number;
}

/** Where a lap runs on a mating face. The wall's material is on the left of the outline, as everywhere. */
export interface LapLine {
  /** which loop of the region it runs along: 0 the outer one, from 1 on the holes */
  readonly loop: number;
  readonly closed: boolean;
  /** an edge of that loop well inside the lap, by its first corner */
  readonly seed: number;
  /** that corner */
  readonly seedAt: Point;
  /** the stretch of the wall's edge that it runs along; round a closed wall the first corner comes last again */
  readonly edge: readonly Point[];
  readonly lip: LapSide;
  readonly rebate: LapSide;
  /** mm */
  readonly length: number;
  /** whether the pieces could turn in it: a round one all the way round */
  readonly turns: boolean;
}

/**
 * A lap has no outline of its own: it follows the edge of its mating face, see `lapLine`. Here are its numbers alone.
 *
 *        | |     socket side, with a rebate
 *     |  | |
 *     |  |_|__   lip: goes on where the wall's own skin would
 *     |______|   male side
 */
export function lapForm({ lip, depth }: LapSizes, wish: FormWish): JointForm {
  return {
    own: [],
    other: [],
    depths: [0, depth + wish.depthGap],
    freedom: 0,
    turns: false,
    slimmest: lip,
    shear: 0,
  };
}

/** Edges of a wall this much of its thickness off still count as the same size. */
const ALIKE = 0.002;

/** Whether a place of the face is to be kept clear. */
type Kept = (u: number, v: number) => boolean;

/**
 * Where a lap runs on a region: along the whole hole (or outline) next to `at` when the wall is closed, else along the
 * inner or outer side of the strip, away from its ends. Of a wall that runs through places to be kept clear, the longest stretch
 * that does not. A sentence for people when it cannot.
 */
export function lapLine(
  region: FlatRegion,
  at: Point,
  sizes: LapSizes,
  gap: number,
  kept: Kept | null = null,
): LapLine | string {
  const { thickness, length } = stripOf(region);
  if (length < 4 * thickness) return 'A lap runs along a wall, and this face is none.';
  return region.holes2.length > 0 ? closedLine(region, at, sizes, gap, kept) : openLine(region, sizes, gap, kept);
}

const TOO_BENT = 'The wall is too bent for a lip this thick.';

function closedLine(region: FlatRegion, at: Point, sizes: LapSizes, gap: number, kept: Kept | null): LapLine | string {
  const { lip, edge } = sizes;
  const loops = [region.outer2, ...region.holes2];
  let loop = 0;
  if (edge === 'inside') {
    const away = region.holes2.map((h) => nearestOnLoop(h, at[0], at[1]).distance);
    loop = 1 + away.indexOf(Math.min(...away));
  }
  const along = waysAlong(loops[loop]);
  const free = freeStretch(loops[loop], along, 0, along[along.length - 1], true, kept);
  if (!free) return NO_STRETCH;
  if (free[1] - free[0] < along[along.length - 1]) return stretchLine(loops, loop, along, free, sizes, gap);
  const [near, far] = [lip, lip + gap].map((by) => besideLoop(loops[loop], by));
  if (!near || !far) return TOO_BENT;
  return {
    loop,
    closed: true,
    seed: 0,
    seedAt: [loops[loop][0], loops[loop][1]],
    edge: [...pointsOf(loops[loop]), [loops[loop][0], loops[loop][1]]],
    lip: { step: pointsOf(near), ends: [], thick: lip },
    rebate: { step: pointsOf(far), ends: [], thick: lip + gap },
    length: loopLength(loops[loop]),
    turns: isRound(loops[loop]),
  };
}

const NO_STRETCH = 'A zone that is to be kept clear leaves the lap no stretch of the wall.';

function openLine(region: FlatRegion, sizes: LapSizes, gap: number, kept: Kept | null): LapLine | string {
  const { outer2: l } = region;
  const ends = endsOf(region);
  if (!ends) return 'The wall has not two ends, so a lap finds no way along it.';
  const along = waysAlong(l);
  const total = along[along.length - 1];
  const { thickness } = stripOf(region);
  const sides: [number, number][] = [
    [ends[0], ends[1]],
    [ends[1], ends[0] + total],
  ];
  const lengths = sides.map(([a, b]) => b - a);
  const bent = Math.abs(lengths[0] - lengths[1]) > ALIKE * total;
  const inner = bent && lengths[1] < lengths[0] ? 1 : 0;
  const [from, to] = sides[sizes.edge === 'inside' ? inner : 1 - inner];
  const back = thickness / 2 + sizes.setback;
  if (to - from < 2 * back + 4 * sizes.lip) return 'The wall is too short for a lap.';
  const free = freeStretch(l, along, from + back, to - back, false, kept);
  return free ? stretchLine([l], 0, along, free, sizes, gap) : NO_STRETCH;
}

/** A lap along a stretch of a loop, from one way along it to another. */
function stretchLine(
  loops: readonly Loop2[],
  loop: number,
  along: Float64Array,
  [from, to]: readonly [number, number],
  sizes: LapSizes,
  gap: number,
): LapLine | string {
  const l = loops[loop];
  const total = along[along.length - 1];
  if (to - from < 4 * sizes.lip) return NO_STRETCH;
  const path = stretch(l, along, from, to);
  const wide = 2 * (sizes.lip + gap);
  const [tu, tv] = heading(path[0], path[1]);
  const [su, sv] = heading(path[path.length - 1], path[path.length - 2]);
  const longer: Point[] = [
    [path[0][0] - tu * wide, path[0][1] - tv * wide],
    ...path,
    [path[path.length - 1][0] - su * wide, path[path.length - 1][1] - sv * wide],
  ];
  const bounds = (inset: number): LapEnd[] => [
    { tu, tv, c: tu * path[0][0] + tv * path[0][1] + inset, at: path[0] },
    {
      tu: su,
      tv: sv,
      c: su * path[path.length - 1][0] + sv * path[path.length - 1][1] + inset,
      at: path[path.length - 1],
    },
  ];
  const side = (by: number, inset: number): LapSide | null => {
    const line = besidePath(longer, by);
    const limits = bounds(inset);
    const step = line && between(line, limits);
    return step && { step, ends: limits, thick: by };
  };
  const lip = side(sizes.lip, gap);
  const rebate = side(sizes.lip + gap, 0);
  if (!lip || !rebate) return TOO_BENT;
  const middle = ((from + to) / 2) % total;
  const seed = Math.max(0, along.findIndex((s) => s > middle) - 1);
  return {
    loop,
    closed: false,
    seed,
    seedAt: [l[seed * 2], l[seed * 2 + 1]],
    edge: path,
    lip,
    rebate,
    length: to - from,
    turns: false,
  };
}

/** Places along an edge are looked at so often, and a lap keeps so far from what is to be kept clear, mm. */
const LOOKED = 0.5;
const CLEAR = 1;

/** The longest stretch of a loop between two ways along it that is clear; round a closed one it may go on over its start. Null: none is. */
function freeStretch(
  l: Loop2,
  along: Float64Array,
  from: number,
  to: number,
  round: boolean,
  kept: Kept | null,
): [number, number] | null {
  if (!kept) return [from, to];
  const n = Math.max(2, Math.ceil((to - from) / LOOKED));
  const clear = Array.from({ length: n }, (_, i) => !kept(...placeAt(l, along, from + ((i + 0.5) / n) * (to - from))));
  if (!clear.includes(false)) return [from, to];
  let best: [number, number] | null = null;
  let start = -1;
  for (let i = 0; i < (round ? 2 * n : n) + 1; i++) {
    const free = i < (round ? 2 * n : n) && clear[i % n];
    if (free && start < 0) start = i;
    if (free || start < 0) continue;
    const [a, b] = [start, i].map((k) => from + (k / n) * (to - from));
    const found: [number, number] = [a + (start > 0 ? CLEAR : 0), b - (i < n || round ? CLEAR : 0)];
    if (found[1] > found[0] && (!best || found[1] - found[0] > best[1] - best[0])) best = found;
    start = -1;
  }
  return best;
}

const pointsOf = (l: Loop2): Point[] => Array.from({ length: l.length / 2 }, (_, i) => [l[i * 2], l[i * 2 + 1]]);

const heading = (a: Point, b: Point): [number, number] => {
  const l = Math.hypot(b[0] - a[0], b[1] - a[1]);
  return [(b[0] - a[0]) / l, (b[1] - a[1]) / l];
};

/** The place so far along a loop; ways beyond its length go round again. */
function placeAt(l: Loop2, along: Float64Array, way: number): Point {
  const n = l.length / 2;
  const total = along[n];
  const w = ((way % total) + total) % total;
  let i = 0;
  while (i < n - 1 && along[i + 1] <= w) i++;
  const k = (i + 1) % n;
  const s = (w - along[i]) / (along[i + 1] - along[i]);
  return [l[i * 2] + (l[k * 2] - l[i * 2]) * s, l[i * 2 + 1] + (l[k * 2 + 1] - l[i * 2 + 1]) * s];
}

/** The part of a loop between two ways along it; ways beyond its length go round again. */
function stretch(l: Loop2, along: Float64Array, from: number, to: number): Point[] {
  const n = l.length / 2;
  const total = along[n];
  const out: Point[] = [];
  const add = (p: Point): void => {
    const last = out[out.length - 1];
    if (!last || Math.hypot(last[0] - p[0], last[1] - p[1]) > 1e-6) out.push(p);
  };
  add(placeAt(l, along, from));
  for (let turn = 0; turn < 2; turn++) {
    for (let i = 0; i < n; i++) {
      const way = along[i] + turn * total;
      if (way > from && way < to) add([l[i * 2], l[i * 2 + 1]]);
    }
  }
  add(placeAt(l, along, to));
  return out;
}

/** The part of a line from where it crosses the first bound to where it crosses the second. */
function between(line: readonly Point[], [start, end]: readonly LapEnd[]): Point[] | null {
  const inside = ({ tu, tv, c }: LapEnd, [u, v]: Point): number => tu * u + tv * v - c;
  const crossing = (list: readonly Point[], bound: LapEnd): { index: number; at: Point } | null => {
    for (let i = 0; i + 1 < list.length; i++) {
      const [a, b] = [inside(bound, list[i]), inside(bound, list[i + 1])];
      if (a > 0 || b <= 0) continue;
      const s = a / (a - b);
      const [p, q] = [list[i], list[i + 1]];
      return { index: i + 1, at: [p[0] + (q[0] - p[0]) * s, p[1] + (q[1] - p[1]) * s] };
    }
    return null;
  };
  const from = crossing(line, start);
  const to = crossing([...line].reverse(), end);
  if (!from || !to) return null;
  const last = line.length - 1 - to.index;
  const apart = (p: Point): boolean => [from.at, to.at].every((q) => Math.hypot(p[0] - q[0], p[1] - q[1]) > 1e-6);
  return [from.at, ...line.slice(from.index, last + 1).filter(apart), to.at];
}

/** Whether a loop is a circle, to a fiftieth of its radius. */
function isRound(l: Loop2): boolean {
  const n = l.length / 2;
  let [x, y] = [0, 0];
  for (let i = 0; i < l.length; i += 2) [x, y] = [x + l[i] / n, y + l[i + 1] / n];
  let [low, high] = [Infinity, 0];
  for (let i = 0; i < l.length; i += 2) {
    const r = Math.hypot(l[i] - x, l[i + 1] - y);
    low = Math.min(low, r);
    high = Math.max(high, r);
  }
  return high - low < 0.02 * high;
}

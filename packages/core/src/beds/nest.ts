import { seeded } from '../seeded.ts';
import { type Bitmap, bitmapOf, CELL, Grid } from './bitmap.ts';
import { boxOfShadow, placed, type Shadow } from './outline.ts';
import { nearerThan, sharedArea } from './shared.ts';

/** Something to be put on a bed. */
export interface NestItem {
  readonly id: string;
  /** as it lies, about its own origin, mm */
  readonly shadow: Shadow;
  /** what shares a shadow is looked at once */
  readonly like: string;
  /** of its print */
  readonly hours: number;
  readonly height: number;
  /** a turn with which it fits the room, where that is none of the usual ones, radians */
  readonly turn?: number;
}

export interface Placement {
  readonly id: string;
  readonly bed: number;
  /** where its origin is, mm from the front left corner of the room; radians */
  readonly x: number;
  readonly y: number;
  readonly spin: number;
}

export interface NestRoom {
  readonly width: number;
  readonly depth: number;
  /** kept free between items, mm */
  readonly spacing: number;
  /** round each item beside the spacing, mm */
  readonly brim: number;
  /** boxes that are kept free: corner and size, mm */
  readonly keepOut: readonly { readonly at: readonly [number, number]; readonly size: readonly [number, number] }[];
  /** what may be on a bed together; without it all that fits */
  readonly together?: (hours: readonly number[]) => boolean;
}

/** What stays where it is on a bed that was begun. */
export interface Fixed {
  /** where it lies in the room, mm */
  readonly shadow: Shadow;
  readonly hours: number;
}

export interface Nesting {
  readonly placements: readonly Placement[];
  /** those that were begun included */
  readonly beds: number;
  /** ids of what does not fit on an empty bed */
  readonly left: readonly string[];
}

const TURNS = 8;
/** How many searches for a place a nesting may cost, whatever the time: the result is the same on any machine. */
const SEARCHES = 3000;
const SWAPS = 400;

interface Part extends NestItem {
  readonly turns: readonly { readonly spin: number; readonly bitmap: Bitmap }[];
  /** cells, in the turn that takes fewest */
  readonly area: number;
  readonly long: number;
  readonly box: number;
  readonly rim: number;
}

interface OnBed {
  readonly part: Part;
  readonly x: number;
  readonly y: number;
  readonly turn: number;
}

/** Lower is better: level by level; into the corner; close to the left. */
type Score = (x: number, y: number, bitmap: Bitmap) => number;
const SCORES: readonly Score[] = [
  (x, y, b) => (y + b.height) * 1000 + x,
  (x, y, b) => Math.max(x + b.width, y + b.height) * 1000 + x + y,
  (x, y, b) => (x + b.width) * 1000 + y,
];

const ORDERS: readonly ((a: Part, b: Part) => number)[] = [
  (a, b) => b.area - a.area,
  (a, b) => b.long - a.long,
  (a, b) => b.box - a.box,
  (a, b) => b.rim - a.rim,
  (a, b) => b.box - b.area - (a.box - a.area) || b.area - a.area,
  (a, b) => b.height - a.height || b.area - a.area,
];

/**
 * Puts items on as few beds as it finds, none nearer to another than the spacing. Shadows are bitmaps of 1 mm, tried in eight
 * turns, each on the first bed where any turn fits, at the place of the least score; the best of three scores and six
 * orders is taken, then improved by swaps in the order (a seeded walk). Deterministic: it stops by count. Beds that were
 * begun come first, and what is fixed on them stays.
 */
export function nest(items: readonly NestItem[], room: NestRoom, begun: readonly (readonly Fixed[])[] = []): Nesting {
  const around = room.brim + room.spacing / 2;
  const known = new Map<string, Pick<Part, 'turns' | 'area' | 'long' | 'box' | 'rim'>>();
  const parts = items.map((item): Part => {
    let shape = known.get(item.like);
    if (!shape) {
      shape = shapeOf(item, around);
      known.set(item.like, shape);
    }
    return { ...item, ...shape };
  });
  const nester = new Nester(room, begun);
  const fitting = parts.filter((p) => nester.fitsEmpty(p));
  if (fitting.length === 0) return withAlone({ placements: [], beds: begun.length, left: [] }, parts, room);
  const attempt = (order: readonly Part[], score: Score, before: Attempt | null): Attempt => {
    const beds = nester.fill(order, score);
    const cost = costOf(beds);
    return before && before.cost <= cost + 1e-9 ? before : { beds, cost, order, score };
  };
  const least = Math.ceil(fitting.reduce((n, p) => n + p.area, 0) / nester.cells - 1e-9);
  const ways = ORDERS.flatMap((order) => SCORES.map((score) => ({ order, score })));
  let best: Attempt | null = null;
  for (const { order, score } of ways) {
    if (best && (nester.searches > SEARCHES || best.beds.length <= least)) break;
    const sorted = [...fitting].sort((a, b) => order(a, b) || (a.id < b.id ? -1 : 1));
    best = attempt(sorted, score, best);
  }
  const random = seeded(fitting.length);
  for (let k = 0; k < SWAPS && nester.searches < 2 * SEARCHES && best!.beds.length > least && fitting.length > 2; k++) {
    const order = [...best!.order];
    const i = Math.floor(random() * order.length);
    const j = Math.floor(random() * order.length);
    [order[i], order[j]] = [order[j], order[i]];
    best = attempt(order, best!.score, best);
  }
  const placements = best!.beds.flatMap((bed, b) =>
    bed.map(({ part, x, y, turn }): Placement => {
      const { spin, bitmap } = part.turns[turn];
      return {
        id: part.id,
        bed: b,
        x: x * CELL - bitmap.corner[0] - room.spacing / 2,
        y: y * CELL - bitmap.corner[1] - room.spacing / 2,
        spin,
      };
    }),
  );
  return withAlone({ placements, beds: best!.beds.length, left: [] }, parts, room);
}

/**
 * What found no place by cells, which count a touched one as taken, but fits an empty bed by its exact outline gets one of its
 * own; the rest is left.
 */
function withAlone({ placements, beds }: Nesting, parts: readonly Part[], room: NestRoom): Nesting {
  const lying = new Set(placements.map((p) => p.id));
  const out = [...placements];
  const left: string[] = [];
  let bed = beds;
  for (const part of parts.filter((p) => !lying.has(p.id))) {
    const place = room.together && !room.together([part.hours]) ? null : exactPlace(part, room);
    if (place) out.push({ id: part.id, bed: bed++, ...place });
    else left.push(part.id);
  }
  return { placements: out, beds: bed, left };
}

/** A place on an empty bed at its sides, corners or middle; null where an outline with its brim has none. */
function exactPlace({ shadow, turn }: NestItem, room: NestRoom): Pick<Placement, 'x' | 'y' | 'spin'> | null {
  const kept = room.keepOut.map(({ at: [x, y], size: [w, d] }) => [
    Float64Array.of(x, y, x + w, y, x + w, y + d, x, y + d),
  ]);
  for (const spin of spinsOf(turn)) {
    const turned = placed(shadow, 0, 0, spin);
    const { min, max } = boxOfShadow(turned);
    const free = [room.width, room.depth].map((side, k) => side - (max[k] - min[k]) - 2 * room.brim);
    if (free.some((f) => f < -1e-6)) continue;
    for (const [sx, sy] of SPOTS) {
      const [x, y] = [sx * free[0] + room.brim - min[0], sy * free[1] + room.brim - min[1]];
      const there = placed(turned, x, y, 0);
      if (!kept.some((k) => sharedArea(there, k) > 1e-6 || (room.brim > 0 && nearerThan(there, k, room.brim)))) {
        return { x, y, spin };
      }
    }
  }
  return null;
}

/** Shares of what is free along x and y: the middle first. */
const SPOTS = [0.5, 0, 1].flatMap((x) => [0.5, 0, 1].map((y) => [x, y] as const));

interface Attempt {
  readonly beds: OnBed[][];
  readonly cost: number;
  readonly order: readonly Part[];
  readonly score: Score;
}

/** Beds first; of as many, those whose last bed is emptiest. */
function costOf(beds: readonly (readonly OnBed[])[]): number {
  const last = beds[beds.length - 1] ?? [];
  return beds.length * 1e9 + last.reduce((sum, o) => sum + o.part.area, 0);
}

/** The usual turns, and one of its own. */
const spinsOf = (turn?: number): number[] => [
  ...Array.from({ length: TURNS }, (_, k) => (k * 2 * Math.PI) / TURNS),
  ...(turn ? [turn] : []),
];

function shapeOf({ shadow, turn }: NestItem, around: number): Pick<Part, 'turns' | 'area' | 'long' | 'box' | 'rim'> {
  const turns = spinsOf(turn).map((spin) => {
    return { spin, bitmap: bitmapOf(placed(shadow, 0, 0, spin), around) };
  });
  const { min, max } = boxOfShadow(shadow);
  const [w, h] = [max[0] - min[0] + 2 * around, max[1] - min[1] + 2 * around];
  return {
    turns,
    area: Math.min(...turns.map((t) => t.bitmap.cells)),
    long: Math.max(w, h),
    box: w * h,
    rim: 2 * (w + h),
  };
}

class Nester {
  searches = 0;
  readonly cells: number;
  private readonly width: number;
  private readonly height: number;
  private readonly empty: Grid;
  private readonly scratch: Uint32Array;
  private readonly fits = new Map<string, boolean>();

  constructor(
    private readonly room: NestRoom,
    private readonly begun: readonly (readonly Fixed[])[],
  ) {
    this.width = Math.floor((room.width + room.spacing) / CELL + 1e-6);
    this.height = Math.floor((room.depth + room.spacing) / CELL + 1e-6);
    this.empty = this.grid();
    this.cells = this.empty.free;
    this.scratch = new Uint32Array(this.empty.words);
  }

  private grid(): Grid {
    const grid = new Grid(Math.max(0, this.width), Math.max(0, this.height));
    const { spacing } = this.room;
    for (const { at, size } of this.room.keepOut) {
      const [x, y] = [Math.floor(at[0] + spacing / 2), Math.floor(at[1] + spacing / 2)];
      const w = Math.ceil(at[0] + size[0] + spacing / 2) - x;
      const h = Math.ceil(at[1] + size[1] + spacing / 2) - y;
      grid.take({ runs: Array.from({ length: h }, (_, row) => ({ row, from: 0, length: w })) }, x, y);
    }
    return grid;
  }

  fitsEmpty(part: Part): boolean {
    let known = this.fits.get(part.like);
    if (known === undefined) {
      known = this.place(this.empty, part, SCORES[0]) !== null && this.mayShare([], part);
      this.fits.set(part.like, known);
    }
    return known;
  }

  private mayShare(bed: readonly { readonly hours: number }[], part: Part): boolean {
    const { together } = this.room;
    return !together || together([...bed, part].map((p) => p.hours));
  }

  /** Fills beds in the order given. */
  fill(order: readonly Part[], score: Score): OnBed[][] {
    const beds = this.begun.map((fixed) => {
      const grid = this.grid();
      const corner = [-this.room.spacing / 2, -this.room.spacing / 2] as const;
      const around = this.room.brim + this.room.spacing / 2;
      for (const { shadow } of fixed) grid.take(bitmapOf(shadow, around, corner), 0, 0);
      return { grid, fixed, on: [] as OnBed[], full: new Set<string>() };
    });
    const tryOn = (bed: (typeof beds)[number], part: Part): boolean => {
      if (bed.full.has(part.like) || !this.mayShare([...bed.fixed, ...bed.on.map((o) => o.part)], part)) return false;
      const place = part.area <= bed.grid.free ? this.place(bed.grid, part, score) : null;
      // a bed only fills: what found no place never will
      if (!place) bed.full.add(part.like);
      else {
        bed.grid.take(part.turns[place.turn].bitmap, place.x, place.y);
        bed.on.push({ part, ...place });
      }
      return place !== null;
    };
    for (const part of order) {
      if (beds.some((bed) => tryOn(bed, part))) continue;
      const fresh = { grid: this.grid(), fixed: [], on: [], full: new Set<string>() };
      if (tryOn(fresh, part)) beds.push(fresh);
    }
    return beds.filter((b, i) => b.on.length > 0 || i < this.begun.length).map((b) => b.on);
  }

  /** The place and turn of the least score on a grid; null where there is none. */
  private place(grid: Grid, part: Part, score: Score): { x: number; y: number; turn: number } | null {
    let best: { x: number; y: number; turn: number } | null = null;
    let least = Infinity;
    part.turns.forEach(({ bitmap }, turn) => {
      if (bitmap.width > this.width || bitmap.height > this.height) return;
      this.searches++;
      for (let y = 0; y + bitmap.height <= this.height; y++) {
        // nothing in this row can be better
        if (score(0, y, bitmap) >= least) {
          if (score === SCORES[2]) continue;
          break;
        }
        if (!grid.freeIn(bitmap, y, this.scratch)) continue;
        const x = firstFree(this.scratch, this.width - bitmap.width);
        if (x < 0) continue;
        const found = score(x, y, bitmap);
        if (found < least) [best, least] = [{ x, y, turn }, found];
      }
    });
    return best;
  }
}

/** The first cell that is not set, up to `last`; −1 where all are. */
function firstFree(words: Uint32Array, last: number): number {
  for (let w = 0; w * 32 <= last; w++) {
    const free = ~words[w];
    if (free === 0) continue;
    const x = w * 32 + 31 - Math.clz32(free & -free);
    return x <= last ? x : -1;
  }
  return -1;
}

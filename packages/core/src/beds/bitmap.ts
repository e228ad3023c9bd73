import { boxOfShadow, type Shadow } from './outline.ts';

/** Size of a cell, mm. */
export const CELL = 1;
/** What a shadow may reach into a cell without covering it, as a share of it: rounding must not cost a cell. */
const TOLERANCE = 0.03;

/** Cells in a row that a shadow covers: first, and how many. */
interface Run {
  readonly row: number;
  readonly from: number;
  readonly length: number;
}

/**
 * A shadow by cells of 1 mm, its lower left corner at the corner of cell (0, 0).
 *
 *      row 2   . # # .      runs: (0, 1, 1) (1, 0, 4) (2, 1, 2)
 *      row 1   # # # #      listed from the longest: what is most likely to be in the way is tried first
 *      row 0   . # . .      corner: where the shadow's box begins, mm
 */
export interface Bitmap {
  readonly width: number;
  readonly height: number;
  readonly runs: readonly Run[];
  readonly cells: number;
  readonly corner: readonly [number, number];
}

/**
 * A shadow and what lies within `around` mm of it, by the cells that this touches, counted from the corner of its box, or from
 * one that is given.
 */
export function bitmapOf(shadow: Shadow, around = 0, corner?: readonly [number, number]): Bitmap {
  const { min: own, max } = boxOfShadow(shadow);
  const min = corner ?? ([own[0] - around, own[1] - around] as const);
  const width = Math.max(1, Math.ceil((max[0] + around - min[0]) / CELL - TOLERANCE));
  const height = Math.max(1, Math.ceil((max[1] + around - min[1]) / CELL - TOLERANCE));
  const levels = Array.from(
    { length: height },
    (_, row): Level => ({
      low: min[1] + (row + TOLERANCE) * CELL,
      high: min[1] + (row + 1 - TOLERANCE) * CELL,
      spans: [],
      crossed: [[], []],
    }),
  );
  const rowAt = (y: number): number => Math.min(height - 1, Math.max(0, Math.floor((y - min[1]) / CELL)));
  for (const l of shadow) {
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
      const [ax, ay, bx, by] =
        l[j + 1] <= l[i + 1] ? [l[j], l[j + 1], l[i], l[i + 1]] : [l[i], l[i + 1], l[j], l[j + 1]];
      for (let row = rowAt(ay - around), last = rowAt(by + around); row <= last; row++) {
        const { low, high, spans, crossed } = levels[row];
        [low, high].forEach((y, k) => {
          if (ay <= y && by > y) crossed[k].push(ax + ((y - ay) / (by - ay)) * (bx - ax));
        });
        const span = spanNear(ax, ay, bx, by, around, low, high);
        if (span) spans.push(span);
      }
    }
  }
  const runs = levels.flatMap(({ spans, crossed }, row) => {
    for (const xs of crossed) {
      xs.sort((x, y) => x - y);
      for (let i = 0; i + 1 < xs.length; i += 2) spans.push([xs[i], xs[i + 1]]);
    }
    return runsOf(spans, row, min[0], width);
  });
  runs.sort((x, y) => y.length - x.length || x.row - y.row);
  return { width, height, runs, cells: runs.reduce((n, r) => n + r.length, 0), corner: min };
}

/** A row of cells between two heights: where edges are near, and where they cross its lower and its upper end. */
interface Level {
  readonly low: number;
  readonly high: number;
  readonly spans: [number, number][];
  readonly crossed: readonly [number[], number[]];
}

/** From where to where what lies within `around` of an edge (its lower end first) reaches between two heights. */
function spanNear(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  around: number,
  low: number,
  high: number,
): [number, number] | null {
  if (by + around < low || ay - around > high) return null;
  let left = Infinity;
  let right = -Infinity;
  const take = (x: number, half: number): void => {
    left = Math.min(left, x - half);
    right = Math.max(right, x + half);
  };
  // round both ends
  for (const [x, y] of [
    [ax, ay],
    [bx, by],
  ]) {
    const off = y < low ? low - y : y > high ? y - high : 0;
    if (off <= around) take(x, Math.sqrt(around * around - off * off));
  }
  // beside the edge: corners of the band that lie between the heights, and where its sides cross these
  const long = Math.hypot(bx - ax, by - ay);
  if (long > 0) {
    const [nx, ny] = [(-(by - ay) / long) * around, ((bx - ax) / long) * around];
    for (const side of [1, -1]) {
      const [px, py, qx, qy] = [ax + side * nx, ay + side * ny, bx + side * nx, by + side * ny];
      if (Math.max(py, qy) < low || Math.min(py, qy) > high) continue;
      const at = (y: number): number =>
        py === qy ? px : px + Math.min(1, Math.max(0, (y - py) / (qy - py))) * (qx - px);
      take(at(low), 0);
      take(at(high), 0);
      if (py === qy) take(qx, 0);
    }
  }
  return left <= right ? [left, right] : null;
}

/** Stretches of a row as runs of the cells that they touch. */
function runsOf(spans: readonly (readonly [number, number])[], row: number, start: number, width: number): Run[] {
  const out: Run[] = [];
  const cells = spans
    .map(([a, b]): [number, number] => [
      Math.max(0, Math.floor((a - start) / CELL + TOLERANCE)),
      Math.min(width, Math.ceil((b - start) / CELL - TOLERANCE)),
    ])
    .filter(([a, b]) => b > a)
    .sort((a, b) => a[0] - b[0]);
  let open: [number, number] | null = null;
  for (const [a, b] of cells) {
    if (open && a <= open[1]) open[1] = Math.max(open[1], b);
    else {
      if (open) out.push({ row, from: open[0], length: open[1] - open[0] });
      open = [a, b];
    }
  }
  if (open) out.push({ row, from: open[0], length: open[1] - open[0] });
  return out;
}

/** Cells of a bed, those that are taken set: 32 a word, rows one after the other. */
export class Grid {
  readonly words: number;
  /** level k holds, at x, whether any of the cells x … x + 2^k − 1 is taken; beyond the edge all are */
  private readonly levels: Uint32Array[];
  /** how many cells are taken, each counted once */
  taken = 0;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    // a word more than the row takes: shifts read beyond it
    this.words = Math.ceil(width / 32) + 1;
    const depth = Math.ceil(Math.log2(Math.max(2, width))) + 1;
    this.levels = Array.from({ length: depth }, () => new Uint32Array(this.words * height));
    for (let row = 0; row < height; row++) {
      for (let x = width; x < this.words * 32; x++) this.levels[0][row * this.words + (x >> 5)] |= 1 << (x & 31);
      this.widen(row);
    }
  }

  /** Cells that are not taken. */
  get free(): number {
    return this.width * this.height - this.taken;
  }

  /** Takes the cells of a bitmap whose corner is at a cell; what lies beyond the grid is left out. */
  take({ runs }: Pick<Bitmap, 'runs'>, x: number, y: number): void {
    const rows = new Set<number>();
    for (const { row, from, length } of runs) {
      const at = y + row;
      if (at < 0 || at >= this.height) continue;
      for (let c = Math.max(0, x + from); c < Math.min(this.width, x + from + length); c++) {
        const word = at * this.words + (c >> 5);
        if ((this.levels[0][word] >>> (c & 31)) & 1) continue;
        this.levels[0][word] |= 1 << (c & 31);
        this.taken++;
      }
      rows.add(at);
    }
    for (const row of rows) this.widen(row);
  }

  private widen(row: number): void {
    const { words } = this;
    for (let k = 1; k < this.levels.length; k++) {
      const below = this.levels[k - 1];
      const level = this.levels[k];
      const by = 2 ** (k - 1);
      for (let w = 0; w < words; w++) {
        level[row * words + w] = below[row * words + w] | shifted(below, row * words, w, by, words);
      }
    }
  }

  /**
   * Where in a row a bitmap's corner may be, as bits: 0 is free. `out` has `words` words; false when nowhere.
   */
  freeIn({ width, runs }: Bitmap, y: number, out: Uint32Array): boolean {
    const { words } = this;
    out.fill(0);
    // beyond this start the bitmap's box leaves the bed
    const last = this.width - width;
    if (last < 0) return false;
    for (const { row, from, length } of runs) {
      const k = 31 - Math.clz32(length);
      const level = this.levels[k];
      const base = (y + row) * words;
      const second = from + length - 2 ** k;
      let all = 0xffffffff;
      for (let w = 0; w < words; w++) {
        out[w] |= shifted(level, base, w, from, words) | shifted(level, base, w, second, words);
        if (w * 32 <= last) all &= out[w];
      }
      if (all === -1 || all >>> 0 === 0xffffffff) return false;
    }
    return true;
  }
}

/** Word w of a row moved towards its start by `by` cells; beyond its end all are taken. */
function shifted(row: Uint32Array, base: number, w: number, by: number, words: number): number {
  const word = w + (by >> 5);
  const bits = by & 31;
  const low = word < words ? row[base + word] : 0xffffffff;
  if (bits === 0) return low;
  const high = word + 1 < words ? row[base + word + 1] : 0xffffffff;
  return (low >>> bits) | (high << (32 - bits));
}

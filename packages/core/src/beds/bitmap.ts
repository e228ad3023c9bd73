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

/** A shadow by the cells that it touches, counted from the corner of its box, or from one that is given. */
export function bitmapOf(shadow: Shadow, corner?: readonly [number, number]): Bitmap {
  const { min: own, max } = boxOfShadow(shadow);
  const min = corner ?? own;
  const width = Math.max(1, Math.ceil((max[0] - min[0]) / CELL - TOLERANCE));
  const height = Math.max(1, Math.ceil((max[1] - min[1]) / CELL - TOLERANCE));
  const runs: Run[] = [];
  for (let row = 0; row < height; row++) {
    const low = min[1] + (row + TOLERANCE) * CELL;
    const high = min[1] + (row + 1 - TOLERANCE) * CELL;
    const spans = [...spansAt(shadow, low), ...spansAt(shadow, high), ...edgesWithin(shadow, low, high)]
      .map(([a, b]): [number, number] => [
        Math.max(0, Math.floor((a - min[0]) / CELL + TOLERANCE)),
        Math.min(width, Math.ceil((b - min[0]) / CELL - TOLERANCE)),
      ])
      .filter(([a, b]) => b > a)
      .sort((a, b) => a[0] - b[0]);
    let open: [number, number] | null = null;
    for (const [a, b] of spans) {
      if (open && a <= open[1]) open[1] = Math.max(open[1], b);
      else {
        if (open) runs.push({ row, from: open[0], length: open[1] - open[0] });
        open = [a, b];
      }
    }
    if (open) runs.push({ row, from: open[0], length: open[1] - open[0] });
  }
  runs.sort((a, b) => b.length - a.length || a.row - b.row);
  return { width, height, runs, cells: runs.reduce((n, r) => n + r.length, 0), corner: min };
}

/** Where a level line is inside a shadow. */
function spansAt(shadow: Shadow, y: number): [number, number][] {
  const xs: number[] = [];
  for (const loop of shadow) {
    for (let i = 0, j = loop.length - 2; i < loop.length; j = i, i += 2) {
      const [ya, yb] = [loop[j + 1], loop[i + 1]];
      if (ya <= y !== yb <= y) xs.push(loop[j] + ((y - ya) / (yb - ya)) * (loop[i] - loop[j]));
    }
  }
  xs.sort((a, b) => a - b);
  return Array.from({ length: xs.length >> 1 }, (_, i) => [xs[2 * i], xs[2 * i + 1]]);
}

/** From where to where each side runs between two levels. */
function edgesWithin(shadow: Shadow, low: number, high: number): [number, number][] {
  const out: [number, number][] = [];
  for (const loop of shadow) {
    for (let i = 0, j = loop.length - 2; i < loop.length; j = i, i += 2) {
      const [xa, ya, xb, yb] = [loop[j], loop[j + 1], loop[i], loop[i + 1]];
      if (Math.max(ya, yb) < low || Math.min(ya, yb) > high) continue;
      const at = (y: number): number =>
        ya === yb ? xa : xa + Math.min(1, Math.max(0, (y - ya) / (yb - ya))) * (xb - xa);
      const [a, b] = ya === yb ? [xa, xb] : [at(low), at(high)];
      out.push([Math.min(a, b), Math.max(a, b)]);
    }
  }
  return out;
}

/** Cells of a bed, those that are taken set: 32 a word, rows one after the other. */
export class Grid {
  readonly words: number;
  /** level k holds, at x, whether any of the cells x … x + 2^k − 1 is taken; beyond the edge all are */
  private readonly levels: Uint32Array[];
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

  /** Takes the cells of a bitmap whose corner is at a cell. */
  take({ runs, cells }: Bitmap, x: number, y: number): void {
    const rows = new Set<number>();
    for (const { row, from, length } of runs) {
      const at = y + row;
      if (at < 0 || at >= this.height) continue;
      for (let c = Math.max(0, x + from); c < Math.min(this.width, x + from + length); c++) {
        this.levels[0][at * this.words + (c >> 5)] |= 1 << (c & 31);
      }
      rows.add(at);
    }
    for (const row of rows) this.widen(row);
    this.taken += cells;
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

import type { Columns } from './columns.ts';

/** The room under a free hand's tool: lower gaps cannot be reached into, mm. */
const REACH = 3;

/** Columns of support under a posed piece, before they are thinned by their density. */
export interface Supports {
  /** mm³ that the columns fill */
  readonly volume: number;
  /** of it: what stands on the piece */
  readonly onPiece: number;
  /** of it: what cannot be reached from outside; 0 where that was not asked for */
  readonly locked: number;
  /** what the columns touch from below, seen from above, mm² */
  readonly area: number;
  /** what they stand on, of the piece, by SURFACE, mm² */
  readonly footing: readonly number[];
  /** each column: x, y, from z, to z, mm */
  readonly columns: Float32Array;
  /** what the piece covers, seen from above, mm² */
  readonly covered: number;
}

/**
 * Support by a height raster: a column under each place that hangs over (`hangs` of its triangle is not 0), from the bed or
 * the piece below, whose triangles are of `surface`. What is lower than `ground` rests. After the method of Ezair, Massarwi and Elber (Computers & Graphics 51, 2015).
 * `reach` also asks which columns can be got at: from above, or sideways through gaps of 3 mm.
 */
export function supportsOf(
  raster: Columns,
  { hangs, surface }: { readonly hangs: Uint8Array; readonly surface: Uint8Array },
  ground: number,
  reach = false,
): Supports {
  const { nx, ny, x0, y0, size, first, z, out, triangle } = raster;
  const cell = size * size;
  const list: number[] = [];
  const gapOf: number[] = [];
  const gaps = reach ? gapsOf(raster) : null;
  const footing = [0, 0, 0, 0];
  let [volume, onPiece, area, covered] = [0, 0, 0, 0];
  for (let c = 0; c < nx * ny; c++) {
    if (first[c] < first[c + 1]) covered += cell;
    let depth = 0;
    let gap = gaps ? gaps.first[c] : 0;
    let floor = 0;
    let under = -1;
    for (let i = first[c]; i < first[c + 1]; i++) {
      if (out[i]) {
        depth--;
        if (depth === 0) {
          floor = z[i];
          under = triangle[i];
          gap++;
        }
        continue;
      }
      depth++;
      if (depth !== 1 || z[i] <= ground || z[i] <= floor || hangs[triangle[i]] === 0) continue;
      const high = z[i] - floor;
      volume += high * cell;
      area += cell;
      if (under >= 0) {
        onPiece += high * cell;
        footing[surface[under]] += cell;
      }
      list.push(x0 + (c % nx) * size, y0 + Math.floor(c / nx) * size, floor, z[i]);
      gapOf.push(gap);
    }
  }
  let locked = 0;
  if (gaps) {
    const open = reachable(raster, gaps);
    gapOf.forEach((g, k) => {
      if (!open[g]) locked += (list[4 * k + 3] - list[4 * k + 2]) * cell;
    });
  }
  return { volume, onPiece, locked, area, footing, columns: Float32Array.from(list), covered };
}

/** The free stretches of every column, from the bed up: those of cell c are first[c] … first[c + 1] − 1. */
interface Gaps {
  readonly first: Uint32Array;
  readonly low: Float32Array;
  readonly high: Float32Array;
}

function gapsOf({ nx, ny, first, z, out }: Columns): Gaps {
  const from = new Uint32Array(nx * ny + 1);
  const low: number[] = [];
  const high: number[] = [];
  for (let c = 0; c < nx * ny; c++) {
    from[c] = low.length;
    let depth = 0;
    let floor = 0;
    for (let i = first[c]; i < first[c + 1]; i++) {
      if (out[i]) {
        depth--;
        if (depth === 0) floor = z[i];
      } else {
        if (depth === 0) {
          low.push(floor);
          high.push(z[i]);
        }
        depth++;
      }
    }
    low.push(floor);
    high.push(Infinity);
  }
  from[nx * ny] = low.length;
  return { first: from, low: Float32Array.from(low), high: Float32Array.from(high) };
}

/** Which gaps hang together with the outside: what is open above does, and what overlaps such a one by enough. */
function reachable({ nx, ny }: Columns, { first, low, high }: Gaps): Uint8Array {
  const open = new Uint8Array(low.length);
  const stack: [cell: number, gap: number][] = [];
  for (let c = 0; c < nx * ny; c++) {
    const top = first[c + 1] - 1;
    open[top] = 1;
    stack.push([c, top]);
  }
  for (let next = stack.pop(); next; next = stack.pop()) {
    const [c, g] = next;
    const x = c % nx;
    for (const d of [x > 0 ? c - 1 : -1, x < nx - 1 ? c + 1 : -1, c - nx, c + nx]) {
      if (d < 0 || d >= nx * ny) continue;
      for (let h = first[d]; h < first[d + 1]; h++) {
        if (open[h] || Math.min(high[g], high[h]) - Math.max(low[g], low[h]) < REACH) continue;
        open[h] = 1;
        stack.push([d, h]);
      }
    }
  }
  return open;
}

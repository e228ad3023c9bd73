import type { Loop2 } from '../mesh/index.ts';
import { easedLoop } from './ease.ts';

/** Smallest cell, mm, and most cells along a side. */
const CELL = 0.1;
const MOST = 1500;
/** Stairs along a slanted edge are smoothed away by this, in cells. */
const EASE = 0.75;

/** What a mesh covers, seen from above: one byte a cell, row by row from the corner. */
export interface Mask {
  readonly width: number;
  readonly height: number;
  readonly cells: Uint8Array;
  /** side of a cell, mm */
  readonly cell: number;
  readonly corner: readonly [number, number];
}

/** Cells whose middle lies under a triangle that faces up. */
export function maskOf({
  positions: p,
  triangles: t,
}: {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
}): Mask {
  let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < p.length; i += 3) {
    x0 = Math.min(x0, p[i]);
    x1 = Math.max(x1, p[i]);
    y0 = Math.min(y0, p[i + 1]);
    y1 = Math.max(y1, p[i + 1]);
  }
  const cell = Math.max(CELL, (x1 - x0) / MOST, (y1 - y0) / MOST);
  const width = Math.max(1, Math.ceil((x1 - x0) / cell));
  const height = Math.max(1, Math.ceil((y1 - y0) / cell));
  const cells = new Uint8Array(width * height);
  const ys = new Float64Array(6);
  for (let i = 0; i < t.length; i += 3) {
    for (let k = 0; k < 3; k++) {
      ys[2 * k] = (p[3 * t[i + k]] - x0) / cell - 0.5;
      ys[2 * k + 1] = (p[3 * t[i + k] + 1] - y0) / cell - 0.5;
    }
    fill(cells, width, height, ys);
  }
  return { width, height, cells, cell, corner: [x0, y0] };
}

/** Sets the cells within a triangle (corners x y x y x y, in cells) that runs counter-clockwise. */
function fill(cells: Uint8Array, width: number, height: number, q: Float64Array): void {
  const [ax, ay, bx, by, cx, cy] = q;
  if ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax) <= 0) return;
  const from = Math.max(0, Math.ceil(Math.min(ay, by, cy)));
  const to = Math.min(height - 1, Math.floor(Math.max(ay, by, cy)));
  for (let row = from; row <= to; row++) {
    let left = Infinity;
    let right = -Infinity;
    for (let e = 0; e < 6; e += 2) {
      const [px, py, qx, qy] = [q[e], q[e + 1], q[(e + 2) % 6], q[(e + 3) % 6]];
      if (Math.min(py, qy) > row || Math.max(py, qy) < row || py === qy) continue;
      const x = px + ((row - py) / (qy - py)) * (qx - px);
      left = Math.min(left, x);
      right = Math.max(right, x);
    }
    const first = Math.max(0, Math.ceil(left));
    const last = Math.min(width - 1, Math.floor(right));
    if (first <= last) cells.fill(1, row * width + first, row * width + last + 1);
  }
}

/** Steps along the sides of cells: east, north, west, south. */
const DX = [1, 0, -1, 0];
const DY = [0, 1, 0, -1];

/**
 * Outlines of a mask along the sides of its cells, eased by less than a cell: counter-clockwise, holes clockwise. Cells that touch in a
 * corner only are apart.
 */
export function tracedLoops({ width, height, cells, cell, corner }: Mask): Loop2[] {
  const set = (x: number, y: number): boolean =>
    x >= 0 && y >= 0 && x < width && y < height && cells[y * width + x] === 1;
  const wide = width + 1;
  // for each corner of cells the ways that an outline leaves it, as bits
  const ways = new Uint8Array(wide * (height + 1));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (!set(x, y)) continue;
      if (!set(x, y - 1)) ways[y * wide + x] |= 1;
      if (!set(x + 1, y)) ways[y * wide + x + 1] |= 2;
      if (!set(x, y + 1)) ways[(y + 1) * wide + x + 1] |= 4;
      if (!set(x - 1, y)) ways[(y + 1) * wide + x] |= 8;
    }
  }
  const loops: Loop2[] = [];
  for (let start = 0; start < ways.length; start++) {
    while (ways[start] !== 0) {
      let at = start;
      let way = Math.log2(ways[start] & -ways[start]);
      const loop: number[] = [];
      do {
        ways[at] &= ~(1 << way);
        loop.push(corner[0] + cell * (at % wide), corner[1] + cell * Math.floor(at / wide));
        at += DX[way] + wide * DY[way];
        if (at === start) break;
        // left before straight on before right: what is inside lies on the left
        way = [1, 0, 3].map((turn) => (way + turn) % 4).find((w) => (ways[at] >> w) & 1) ?? -1;
      } while (way >= 0);
      loops.push(easedLoop(Float64Array.from(loop), EASE * cell));
    }
  }
  return loops.filter((l) => l.length > 4);
}

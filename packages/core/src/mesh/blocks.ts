import { bounds } from './measure.ts';
import type { Box, IndexedMesh } from './types.ts';

/**
 * A spatial index: triangles sorted along a Morton curve and cut into blocks with a box each.
 *
 * order  triangle numbers, block by block (BLOCK each, the last may hold fewer)
 * boxes  six numbers a block: min x, y, z, max x, y, z
 */
export interface Blocks {
  readonly mesh: IndexedMesh;
  readonly order: Uint32Array;
  readonly boxes: Float64Array;
}

export const BLOCK = 32;

/** Triangle numbers along a Morton curve: 10-bit codes of the triangles' first corners, radix-sorted, in linear time. */
export function mortonOrder(mesh: Pick<IndexedMesh, 'positions' | 'triangles'>): Uint32Array {
  const { positions: p, triangles: t } = mesh;
  const n = t.length / 3;
  const box = bounds(p);
  const span = Math.max(box.max[0] - box.min[0], box.max[1] - box.min[1], box.max[2] - box.min[2]);
  const k = span > 0 ? 1023 / span : 0;
  const codes = new Uint32Array(n);
  for (let i = 0; i < n; i++) {
    const v = t[i * 3] * 3;
    codes[i] =
      spread((p[v] - box.min[0]) * k) |
      (spread((p[v + 1] - box.min[1]) * k) << 1) |
      (spread((p[v + 2] - box.min[2]) * k) << 2);
  }
  return radixOrder(codes);
}

/** Builds the index in linear time. */
export function buildBlocks(mesh: IndexedMesh): Blocks {
  const { positions: p, triangles: t } = mesh;
  const n = t.length / 3;
  const order = mortonOrder(mesh);
  const boxes = new Float64Array(Math.ceil(n / BLOCK) * 6);
  for (let b = 0; b * BLOCK < n; b++) {
    let x0 = Infinity;
    let y0 = Infinity;
    let z0 = Infinity;
    let x1 = -Infinity;
    let y1 = -Infinity;
    let z1 = -Infinity;
    for (let i = b * BLOCK; i < Math.min(n, (b + 1) * BLOCK); i++) {
      for (let c = 0; c < 3; c++) {
        const v = t[order[i] * 3 + c] * 3;
        if (p[v] < x0) x0 = p[v];
        if (p[v] > x1) x1 = p[v];
        if (p[v + 1] < y0) y0 = p[v + 1];
        if (p[v + 1] > y1) y1 = p[v + 1];
        if (p[v + 2] < z0) z0 = p[v + 2];
        if (p[v + 2] > z1) z1 = p[v + 2];
      }
    }
    const k = b * 6;
    boxes[k] = x0;
    boxes[k + 1] = y0;
    boxes[k + 2] = z0;
    boxes[k + 3] = x1;
    boxes[k + 4] = y1;
    boxes[k + 5] = z1;
  }
  return { mesh, order, boxes };
}

/** Blocks that are looked at together before each by itself. */
const GROUP = 16;
const groups = new WeakMap<Blocks, Float64Array>();

/** Numbers of the blocks whose boxes come within `reach` mm of a box, and how near, in the order of the blocks. */
export function blocksNear(blocks: Blocks, box: Box, reach: number): { block: number; distance: number }[] {
  const { boxes } = blocks;
  let coarse = groups.get(blocks);
  if (!coarse) {
    coarse = groupBoxes(boxes);
    groups.set(blocks, coarse);
  }
  const limit = reach * reach;
  const out: { block: number; distance: number }[] = [];
  const count = boxes.length / 6;
  for (let g = 0; g * GROUP < count; g++) {
    if (squaredGap(coarse, g * 6, box) >= limit) continue;
    for (let b = g * GROUP; b < Math.min(count, (g + 1) * GROUP); b++) {
      const gap = squaredGap(boxes, b * 6, box);
      if (gap < limit) out.push({ block: b, distance: Math.sqrt(gap) });
    }
  }
  return out;
}

function squaredGap(boxes: Float64Array, k: number, { min, max }: Box): number {
  const dx = Math.max(0, boxes[k] - max[0], min[0] - boxes[k + 3]);
  const dy = Math.max(0, boxes[k + 1] - max[1], min[1] - boxes[k + 4]);
  const dz = Math.max(0, boxes[k + 2] - max[2], min[2] - boxes[k + 5]);
  return dx * dx + dy * dy + dz * dz;
}

function groupBoxes(boxes: Float64Array): Float64Array {
  const count = boxes.length / 6;
  const out = new Float64Array(Math.ceil(count / GROUP) * 6);
  for (let g = 0; g * 6 < out.length; g++) {
    out.fill(Infinity, g * 6, g * 6 + 3);
    out.fill(-Infinity, g * 6 + 3, g * 6 + 6);
    for (let b = g * GROUP; b < Math.min(count, (g + 1) * GROUP); b++) {
      for (let a = 0; a < 3; a++) {
        out[g * 6 + a] = Math.min(out[g * 6 + a], boxes[b * 6 + a]);
        out[g * 6 + 3 + a] = Math.max(out[g * 6 + 3 + a], boxes[b * 6 + 3 + a]);
      }
    }
  }
  return out;
}

/** Spreads the low 10 bits of x so that two zero bits stand between each. */
function spread(x: number): number {
  let v = x & 1023;
  v = (v | (v << 16)) & 0x030000ff;
  v = (v | (v << 8)) & 0x0300f00f;
  v = (v | (v << 4)) & 0x030c30c3;
  return (v | (v << 2)) & 0x09249249;
}

/** Indices that sort the keys, by two counting passes of 15 bits (stable). */
function radixOrder(keys: Uint32Array): Uint32Array {
  let from = new Uint32Array(keys.length);
  for (let i = 0; i < from.length; i++) from[i] = i;
  for (const shift of [0, 15]) {
    const counts = new Uint32Array(32769);
    for (let i = 0; i < keys.length; i++) counts[((keys[i] >>> shift) & 32767) + 1]++;
    for (let c = 0; c < 32768; c++) counts[c + 1] += counts[c];
    const to = new Uint32Array(keys.length);
    for (let i = 0; i < from.length; i++) to[counts[(keys[from[i]] >>> shift) & 32767]++] = from[i];
    from = to;
  }
  return from;
}

import type { Frame, Loop2 } from '../cut/index.ts';
import { BLOCK, type Blocks, dot, type Vec3 } from '../mesh/index.ts';

/**
 * How much material lies under an outline on a plane: the least distance from the plane to the mesh inside the column that
 * goes from the outline towards `direction` (+1 along the normal), mm; infinite when nothing is met. Exact: triangles are
 * clipped by the column's sides. What lies within `skip` mm of the plane does not count (the cut face's own rim).
 *
 *   ---[____]---  plane
 *      |    |
 *      |   /|   <- least height
 */
export function columnDepth(frame: Frame, outline: Loop2, direction: 1 | -1, blocks: Blocks, skip = 1e-6): number {
  const { boxes, order, mesh } = blocks;
  const column = columnOf(frame, outline, direction, skip);
  let best = Infinity;
  for (let b = 0; b < boxes.length / 6; b++) {
    if (missesColumn(boxes, b * 6, frame, column.reach, column.inward, best)) continue;
    const end = Math.min(order.length, (b + 1) * BLOCK);
    for (let i = b * BLOCK; i < end; i++) best = column.lowest(mesh.positions, mesh.triangles, order[i] * 3, best);
  }
  return best;
}

/** The same over a plain list of triangles, three vertex indices each. */
export function columnToTriangles(
  frame: Frame,
  outline: Loop2,
  direction: 1 | -1,
  p: Float64Array,
  t: Uint32Array,
  skip = 1e-6,
): number {
  const column = columnOf(frame, outline, direction, skip);
  let best = Infinity;
  for (let k = 0; k < t.length; k += 3) best = column.lowest(p, t, k, best);
  return best;
}

function columnOf(frame: Frame, outline: Loop2, direction: 1 | -1, skip: number) {
  const { origin: o, u, v, normal } = frame;
  const inward: Vec3 = [normal[0] * direction, normal[1] * direction, normal[2] * direction];
  const reach = spanOf(outline);
  const lowest = (p: Float64Array, t: Uint32Array, k: number, limit: number): number => {
    const corners: number[][] = [];
    let highest = -Infinity;
    for (let c = 0; c < 3; c++) {
      const q = t[k + c] * 3;
      const d: Vec3 = [p[q] - o[0], p[q + 1] - o[1], p[q + 2] - o[2]];
      corners.push([dot(d, u), dot(d, v), dot(d, inward)]);
      highest = Math.max(highest, corners[c][2]);
    }
    if (highest <= skip || Math.min(corners[0][2], corners[1][2], corners[2][2]) >= limit) return limit;
    if (apart(corners, reach)) return limit;
    let best = limit;
    for (const [, , h] of clipped(corners, outline)) if (h > skip && h < best) best = h;
    return best;
  };
  return { inward, reach, lowest };
}

type Span = readonly [number, number, number, number];

function spanOf(l: Loop2): Span {
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < l.length; i += 2) {
    u0 = Math.min(u0, l[i]);
    u1 = Math.max(u1, l[i]);
    v0 = Math.min(v0, l[i + 1]);
    v1 = Math.max(v1, l[i + 1]);
  }
  return [u0, v0, u1, v1];
}

function apart(corners: readonly number[][], [u0, v0, u1, v1]: Span): boolean {
  return (
    corners.every((c) => c[0] < u0) ||
    corners.every((c) => c[0] > u1) ||
    corners.every((c) => c[1] < v0) ||
    corners.every((c) => c[1] > v1)
  );
}

/** Whether a box keeps out of the column up to the height that still counts. */
function missesColumn(
  boxes: Float64Array,
  k: number,
  f: Frame,
  [u0, v0, u1, v1]: Span,
  n: Vec3,
  best: number,
): boolean {
  const range = (axis: Vec3): [number, number] => {
    let low = 0;
    let high = 0;
    for (let a = 0; a < 3; a++) {
      const x = axis[a] * (boxes[k + a] - f.origin[a]);
      const y = axis[a] * (boxes[k + 3 + a] - f.origin[a]);
      low += Math.min(x, y);
      high += Math.max(x, y);
    }
    return [low, high];
  };
  const [a0, a1] = range(f.u);
  if (a0 > u1 || a1 < u0) return true;
  const [b0, b1] = range(f.v);
  if (b0 > v1 || b1 < v0) return true;
  const [h0, h1] = range(n);
  return h1 < 0 || h0 >= best;
}

/** A polygon clipped by a convex counter-clockwise outline in its first two coordinates. Sutherland and Hodgman (1974). */
function clipped(poly: readonly number[][], outline: Loop2): number[][] {
  let list = [...poly];
  const n = outline.length;
  for (let i = 0, j = n - 2; i < n && list.length > 0; j = i, i += 2) {
    const ex = outline[i] - outline[j];
    const ey = outline[i + 1] - outline[j + 1];
    const out: number[][] = [];
    for (let s = 0; s < list.length; s++) {
      const a = list[s];
      const b = list[(s + 1) % list.length];
      const da = ex * (a[1] - outline[j + 1]) - ey * (a[0] - outline[j]);
      const db = ex * (b[1] - outline[j + 1]) - ey * (b[0] - outline[j]);
      if (da >= 0) out.push(a);
      if (da >= 0 !== db >= 0) {
        const w = da / (da - db);
        out.push([a[0] + w * (b[0] - a[0]), a[1] + w * (b[1] - a[1]), a[2] + w * (b[2] - a[2])]);
      }
    }
    list = out;
  }
  return list;
}

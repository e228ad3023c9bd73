import { BLOCK, type Blocks } from './blocks.ts';
import type { Vec3 } from './types.ts';

/**
 * Distances at which a ray meets the indexed triangles, unsorted. Direction need not be of unit length: distances are
 * in its multiples. Möller and Trumbore, "Fast, minimum storage ray-triangle intersection" (1997).
 */
export function rayHits(blocks: Blocks, origin: Vec3, direction: Vec3): number[] {
  const hits: number[] = [];
  eachHit(blocks, origin, direction, (s) => hits.push(s));
  return hits;
}

/**
 * Winding number ahead of a point: how often a ray from it leaves solids, less how often it enters them. `but`: a triangle that does not
 * count, as the one that the point lies on.
 */
export function windingAhead(blocks: Blocks, origin: Vec3, direction: Vec3, but: number): number {
  let sum = 0;
  eachHit(blocks, origin, direction, (_, triangle, leaves) => {
    if (triangle !== but) sum += leaves;
  });
  return sum;
}

/** Calls for each hit, with its distance, the triangle, and 1 where the ray goes out through its front, −1 where it comes in. */
function eachHit(
  blocks: Blocks,
  origin: Vec3,
  direction: Vec3,
  call: (distance: number, triangle: number, leaves: 1 | -1) => void,
): void {
  const { order, boxes, mesh } = blocks;
  const { positions: p, triangles: t } = mesh;
  const [dx, dy, dz] = direction;
  for (let b = 0; b * 6 < boxes.length; b++) {
    if (!meetsBox(boxes, b * 6, origin, direction)) continue;
    const end = Math.min(order.length, (b + 1) * BLOCK);
    for (let i = b * BLOCK; i < end; i++) {
      const k = order[i] * 3;
      const a = t[k] * 3;
      const c = t[k + 1] * 3;
      const d = t[k + 2] * 3;
      const e1x = p[c] - p[a];
      const e1y = p[c + 1] - p[a + 1];
      const e1z = p[c + 2] - p[a + 2];
      const e2x = p[d] - p[a];
      const e2y = p[d + 1] - p[a + 1];
      const e2z = p[d + 2] - p[a + 2];
      const px = dy * e2z - dz * e2y;
      const py = dz * e2x - dx * e2z;
      const pz = dx * e2y - dy * e2x;
      const det = e1x * px + e1y * py + e1z * pz;
      if (det === 0) continue;
      const sx = origin[0] - p[a];
      const sy = origin[1] - p[a + 1];
      const sz = origin[2] - p[a + 2];
      const u = (sx * px + sy * py + sz * pz) / det;
      if (u < 0 || u > 1) continue;
      const qx = sy * e1z - sz * e1y;
      const qy = sz * e1x - sx * e1z;
      const qz = sx * e1y - sy * e1x;
      const v = (dx * qx + dy * qy + dz * qz) / det;
      if (v < 0 || u + v > 1) continue;
      const s = (e2x * qx + e2y * qy + e2z * qz) / det;
      if (s > 0) call(s, order[i], det < 0 ? 1 : -1);
    }
  }
}

function meetsBox(boxes: Float64Array, k: number, o: Vec3, d: Vec3): boolean {
  let near = 0;
  let far = Infinity;
  for (let a = 0; a < 3; a++) {
    const lo = boxes[k + a] - o[a];
    const hi = boxes[k + 3 + a] - o[a];
    if (d[a] === 0) {
      if (lo > 0 || hi < 0) return false;
      continue;
    }
    const s = lo / d[a];
    const e = hi / d[a];
    near = Math.max(near, Math.min(s, e));
    far = Math.min(far, Math.max(s, e));
  }
  return near <= far;
}

const DIRECTIONS: readonly Vec3[] = [
  [0.5773, 0.5771, 0.5776],
  [-0.2673, 0.5345, 0.8018],
  [0.8111, -0.4867, 0.3244],
];

/** Whether a point lies inside a closed mesh: the majority of three skew rays' parities. */
export function insideSolid(blocks: Blocks, point: Vec3): boolean {
  let votes = 0;
  for (const d of DIRECTIONS) votes += rayHits(blocks, point, d).length % 2;
  return votes >= 2;
}

import type { Box, IndexedMesh, Vec3 } from './types.ts';

/**
 * Enclosed volume in mm³, negative for an inside-out surface: the sum of signed tetrahedra over the triangles,
 * taken from the first vertex so that models far from the origin keep their digits.
 */
export function volume(mesh: Pick<IndexedMesh, 'positions' | 'triangles'>): number {
  const { positions: p, triangles: t } = mesh;
  if (t.length === 0) return 0;
  const ox = p[t[0] * 3];
  const oy = p[t[0] * 3 + 1];
  const oz = p[t[0] * 3 + 2];
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const a = t[i] * 3;
    const b = t[i + 1] * 3;
    const c = t[i + 2] * 3;
    const ax = p[a] - ox;
    const ay = p[a + 1] - oy;
    const az = p[a + 2] - oz;
    const bx = p[b] - ox;
    const by = p[b + 1] - oy;
    const bz = p[b + 2] - oz;
    const cx = p[c] - ox;
    const cy = p[c + 1] - oy;
    const cz = p[c + 2] - oz;
    sum += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  }
  return sum / 6;
}

/** The cross product of two sides of triangle i: along its normal, twice its area long. */
export function triangleCross(p: Float64Array, t: Uint32Array, i: number): Vec3 {
  const a = t[i * 3] * 3;
  const b = t[i * 3 + 1] * 3;
  const c = t[i * 3 + 2] * 3;
  const ux = p[b] - p[a];
  const uy = p[b + 1] - p[a + 1];
  const uz = p[b + 2] - p[a + 2];
  const vx = p[c] - p[a];
  const vy = p[c + 1] - p[a + 1];
  const vz = p[c + 2] - p[a + 2];
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
}

/** Surface area in mm². */
export function area(mesh: Pick<IndexedMesh, 'positions' | 'triangles'>): number {
  const { positions: p, triangles: t } = mesh;
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const a = t[i] * 3;
    const b = t[i + 1] * 3;
    const c = t[i + 2] * 3;
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const vx = p[c] - p[a];
    const vy = p[c + 1] - p[a + 1];
    const vz = p[c + 2] - p[a + 2];
    sum += Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
  }
  return sum / 2;
}

/** The box around all positions; of nothing: min above max. */
export function bounds(positions: Float64Array | Float32Array): Box {
  let x0 = Infinity;
  let y0 = Infinity;
  let z0 = Infinity;
  let x1 = -Infinity;
  let y1 = -Infinity;
  let z1 = -Infinity;
  for (let i = 0; i < positions.length; i += 3) {
    const x = positions[i];
    const y = positions[i + 1];
    const z = positions[i + 2];
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
    if (z < z0) z0 = z;
    if (z > z1) z1 = z;
  }
  return { min: [x0, y0, z0], max: [x1, y1, z1] };
}

const boxes = new WeakMap<Float64Array, Box>();

/** The box around the positions of a mesh, kept for as long as they are. */
export function boxOf(positions: Float64Array): Box {
  let box = boxes.get(positions);
  if (!box) {
    box = bounds(positions);
    boxes.set(positions, box);
  }
  return box;
}

export const sizeOf = (box: Box): Vec3 => [box.max[0] - box.min[0], box.max[1] - box.min[1], box.max[2] - box.min[2]];

/** The smallest box around both. */
export const uniteBoxes = (a: Box, b: Box): Box => ({
  min: [Math.min(a.min[0], b.min[0]), Math.min(a.min[1], b.min[1]), Math.min(a.min[2], b.min[2])],
  max: [Math.max(a.max[0], b.max[0]), Math.max(a.max[1], b.max[1]), Math.max(a.max[2], b.max[2])],
});

/** The eight corners of a box. */
export const boxCorners = ({ min, max }: Box): Vec3[] =>
  Array.from({ length: 8 }, (_, i) => [i & 1 ? max[0] : min[0], i & 2 ? max[1] : min[1], i & 4 ? max[2] : min[2]]);

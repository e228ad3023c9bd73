import type { Box, IndexedMesh, Vec3 } from './types.ts';
import { cross, dot, sub, vecOf } from './vec.ts';

/**
 * Whether a triangle of a mesh meets a box. By separating axes, after Akenine-Möller, "Fast 3D Triangle-Box Overlap Testing"
 * (Journal of Graphics Tools 6, 2001).
 */
export function meetsBox(
  { positions: p, triangles: t }: Pick<IndexedMesh, 'positions' | 'triangles'>,
  box: Box,
): boolean {
  const middle = vecOf((k) => (box.min[k] + box.max[k]) / 2);
  const half = vecOf((k) => (box.max[k] - box.min[k]) / 2);
  const corner = (v: number): Vec3 => vecOf((k) => p[v * 3 + k] - middle[k]);
  for (let i = 0; i < t.length; i += 3) {
    if (overlaps([corner(t[i]), corner(t[i + 1]), corner(t[i + 2])], half)) return true;
  }
  return false;
}

const AXES: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** Whether a triangle meets a box about the origin. */
function overlaps([a, b, c]: readonly [Vec3, Vec3, Vec3], half: Vec3): boolean {
  const apart = (axis: Vec3): boolean => {
    const [x, y, z] = [dot(axis, a), dot(axis, b), dot(axis, c)];
    const reach = half[0] * Math.abs(axis[0]) + half[1] * Math.abs(axis[1]) + half[2] * Math.abs(axis[2]);
    return Math.min(x, y, z) > reach || Math.max(x, y, z) < -reach;
  };
  if (AXES.some(apart)) return false;
  const edges = [sub(b, a), sub(c, b), sub(a, c)];
  if (apart(cross(edges[0], edges[1]))) return false;
  return !edges.some((e) => AXES.some((axis) => apart(cross(e, axis))));
}

import {
  type Box,
  boxOf,
  buildBlocks,
  type IndexedMesh,
  insideSolid,
  treeOf,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';
import { crossings } from './crossings.ts';

/**
 * A place at which two closed solids reach into each other, or null: their surfaces cross, one lies in the other, or they
 * are the same. Solids that only touch do not overlap.
 */
export function overlapping(a: IndexedMesh, b: IndexedMesh): Vec3 | null {
  const boxA = boxOf(a.positions);
  const boxB = boxOf(b.positions);
  if ([0, 1, 2].some((k) => boxA.max[k] <= boxB.min[k] || boxB.max[k] <= boxA.min[k])) return null;
  const hit = crossings(treeOf(a), treeOf(b), 1, 1);
  if (hit.pairs > 0) {
    const { positions: p, triangles: t } = a;
    const i = hit.triangles[0] * 3;
    return vecOf((k) => (p[t[i] * 3 + k] + p[t[i + 1] * 3 + k] + p[t[i + 2] * 3 + k]) / 3);
  }
  return within(a, b, boxB) ?? within(b, a, boxA) ?? (sameBox(boxA, boxB) ? middleOf(a) : null);
}

/** A vertex of `a` inside `b`, of some spread over those in its box. */
function within(a: IndexedMesh, b: IndexedMesh, box: Box): Vec3 | null {
  const { positions: p } = a;
  const inBox: number[] = [];
  for (let k = 0; k < p.length; k += 3) {
    if ([0, 1, 2].every((x) => p[k + x] > box.min[x] && p[k + x] < box.max[x])) inBox.push(k);
  }
  if (inBox.length === 0) return null;
  const blocks = buildBlocks(b);
  const step = Math.max(1, Math.floor(inBox.length / 8));
  for (let i = 0; i < inBox.length; i += step) {
    const k = inBox[i];
    const at: Vec3 = [p[k], p[k + 1], p[k + 2]];
    if (insideSolid(blocks, at)) return at;
  }
  return null;
}

/** Two solids that touch everywhere: the same one twice. */
const sameBox = (a: Box, b: Box): boolean => [0, 1, 2].every((k) => a.min[k] === b.min[k] && a.max[k] === b.max[k]);

const middleOf = ({ positions: p }: IndexedMesh): Vec3 => [p[0], p[1], p[2]];

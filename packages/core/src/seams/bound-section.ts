import { type Frame, sectionAt } from '../cut/index.ts';
import type { Seam } from '../document/index.ts';
import type { Affine, Loop2 } from '../mesh/index.ts';
import { intersect } from '../outline/index.ts';
import { cornersOf } from './kinds/index.ts';
import { boxMesh } from './seam-solid.ts';

/**
 * Of a section what lies in the box that bounds a flat seam, mm in the frame's (u, v).
 *
 *      ____________
 *     |     ...... |      the section, and dotted what the seam cuts of it
 *     |     :    : |
 *     |_____:....:_|
 *
 * Needs the kernel to be loaded.
 */
export function withinBound(
  loops: readonly Loop2[],
  bound: NonNullable<Extract<Seam, { kind: 'flat' }>['bound']>,
  map: Affine,
  frame: Frame,
): Loop2[] {
  const { low, high } = cornersOf(bound);
  return intersect(loops, sectionAt(boxMesh({ min: low, max: high }, map), frame).loops);
}

import type { Seam } from '../document/index.ts';
import type { Joint } from '../joints/kinds/index.ts';
import type { Affine } from '../mesh/index.ts';
import { flatOfPart, flatPlace } from './flats.ts';
import { planeId, type SeamPlace, seamKind } from './kinds/index.ts';

/**
 * The place of one plane of a seam: its own, a half-plane of a fan, a straight stretch of a profile, a side of its box, a flat
 * of a bent face. Null where there is no plane.
 */
export function partPlace(seam: Seam, part: number, map: Affine): SeamPlace | null {
  const flat = flatOfPart(seam, part);
  return flat ? flatPlace(seam, flat, map) : seamKind(seam).planeAt(seam, part, map);
}

/** The plane that a joint lies on. */
export function planeOfJoint(joint: Pick<Joint, 'seam' | 'part'>, seam: Seam | undefined): string {
  const single = seam === undefined || seamKind(seam).way(seam) === 'plane';
  return single ? joint.seam : planeId(joint.seam, joint.part ?? 0);
}

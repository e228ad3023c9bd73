import type { Room, RoomPlace } from '../joints/index.ts';
import type { MatingFace } from '../seams/index.ts';
import type { FormedJoint } from './model.ts';

/** Where a room of a joint on a face lies, and on which side of that. */
export function roomPlace(
  { u, v, axis, direction }: Pick<FormedJoint, 'u' | 'v' | 'axis' | 'direction'>,
  face: MatingFace,
  whose: Room['side'],
): { place: RoomPlace; side: 0 | 1 } {
  const side = direction > 0 === (whose === 'own') ? 0 : 1;
  const inward = (whose === 'own' ? -direction : direction) as 1 | -1;
  return { place: { frame: face.frames[side], region: face.region, at: [u, v], axis, direction, inward }, side };
}

import { type Frame, fromFrame } from '../cut/index.ts';
import { movedLoop, type Prism, regular, type SwingRoom } from '../joints/index.ts';
import type { IndexedMesh, Loop2 } from '../mesh/index.ts';
import type { MatingFace } from '../seams/index.ts';
import { tubeMesh } from './rings.ts';

/** It is taken off from so far before the face, and so far beyond the face's farthest place, mm. */
const OVER = 0.05;
const BEYOND = 2;
const CORNERS = 48;
const BANDS = 6;

/** How far the own piece is taken off, so that it swings: to beyond the farthest place of the face from the joint, mm. */
export function reachOf({ region: { outer2 } }: MatingFace, u: number, v: number): number {
  let far = 0;
  for (let i = 0; i < outer2.length; i += 2) far = Math.max(far, Math.hypot(outer2[i] - u, outer2[i + 1] - v));
  return far + BEYOND;
}

/** A regular outline about a place that touches its circle from outside, its first corner along u. */
const about = (u: number, v: number, radius: number, corners: number): Loop2 =>
  movedLoop(regular(corners, 2 * radius, -Math.PI / corners).at(0), u, v);

/** What is taken off the own piece as one prism, that others keep clear of. `inward`: +1 where the piece lies along the normal. */
export const swingPrism = (
  room: SwingRoom,
  face: MatingFace,
  u: number,
  v: number,
  frame: Frame,
  inward: 1 | -1,
): Prism => {
  const far = reachOf(face, u, v);
  return { frame, outline: about(u, v, far, 24), depth: room.lift + room.slope * far, direction: inward };
};

/**
 * What is taken off the own piece: a ring round the disc that stays, from a little before the face up to the cone, in bands
 * whose facets are no longer than a share of it.
 *
 *    \_          _/   top: along the cone
 *     | |      | |    walls: at the disc, and at the reach
 *     |_|      |_|    bottom: outside the face
 */
export function swingCutter(
  room: SwingRoom,
  face: MatingFace,
  [u, v]: readonly [number, number],
  frame: Frame,
  inward: 1 | -1,
): IndexedMesh {
  const far = reachOf(face, u, v);
  const radii = Array.from({ length: BANDS + 1 }, (_, i) => room.foot + ((far - room.foot) * i) / BANDS);
  const ring = (radius: number, height: number): number[][] => {
    const loop = about(u, v, radius, CORNERS);
    const points = Array.from({ length: CORNERS }, (_, i) => [
      ...fromFrame(frame, loop[2 * i], loop[2 * i + 1], inward * height),
    ]);
    return inward > 0 ? points : points.reverse();
  };
  const rise = (r: number): number => room.lift + room.slope * r;
  const steps = Math.ceil((BANDS * rise(far)) / (far - room.foot));
  const up = Array.from({ length: steps - 1 }, (_, i) => (rise(far) * (i + 1)) / steps);
  // along the bottom outwards, up, and back along the cone
  return tubeMesh([
    ...radii.map((r) => ring(r, -OVER)),
    ...up.map((height) => ring(far, height)),
    ...radii.toReversed().map((r) => ring(r, rise(r))),
  ]);
}

import { type CapRegion, type Frame, fromFrame, type Solid } from '../cut/index.ts';
import type { IndexedMesh, Loop2, Vec3 } from '../mesh/index.ts';
import type { Reshaping } from '../solid/index.ts';
import type { Prism } from './wall.ts';

/** Where a room of a joint lies: on one side of its face. Lengths in mm. */
export interface RoomPlace {
  /** the face's plane on that side, and its outlines in it */
  readonly frame: Frame;
  readonly region: Pick<CapRegion, 'outer2' | 'holes2'>;
  /** the joint's place */
  readonly at: readonly [u: number, v: number];
  /** from the own piece into its neighbour: unit, and +1 where that is along the normal */
  readonly axis: Vec3;
  readonly direction: 1 | -1;
  /** into the piece that the room is in: +1 along the normal */
  readonly inward: 1 | -1;
}

/** Where what a joint needs room for comes out of its piece, mm from the face. */
export interface Exit {
  /** the nearest and the farthest place of its outline at which the skin is met; 0 where it is not even in the piece at the face */
  readonly least: number;
  readonly most: number;
  /** where more of the piece stands in its way, along its middle; null where nothing does */
  readonly barred: number | null;
}

/** What a plane parts from a solid, if all of that lies in the convex room of the `meshes`, which are taken off otherwise. */
export interface Sweep {
  /** what lies above it goes */
  readonly plane: Frame;
  readonly holds: (at: Vec3) => boolean;
  readonly meshes: readonly IndexedMesh[];
}

/**
 * What the kernel does to a solid at one place: first what sweeps, then the steps, one after the other. It is done in a slab of the
 * solid, across which the steps reach little, or in all of it.
 */
export interface Carving {
  readonly sweep?: Sweep;
  readonly steps: readonly Reshaping[];
  /** unit, square to each other: the steps lie along the one, and reach little across it along the other */
  readonly along: Vec3;
  readonly across: Vec3;
}

/**
 * Room that a joint wants of a piece beyond what is built into its cap: what comes out of the skin, is taken off along it, or
 * stands beyond the face.
 */
export interface Room {
  /** whose: of the piece with the male half, or of its neighbour */
  readonly side: 'own' | 'other';
  /** what opens on the face, the mouth first, to draw it and to keep it from the rim; none where it may go over that */
  readonly outlines: readonly Loop2[];
  /** where it comes out of its piece; of what does not, or may anywhere, there is none */
  exit?(place: RoomPlace, solid: Solid): Exit | null;
  /** what holds what it takes up, that others keep clear of */
  prisms(place: RoomPlace, exit: Exit | null): readonly Prism[];
  /** stretches of it round which wall must stay; where it comes out, they end `wall` mm before the skin */
  walled?(place: RoomPlace, exit: Exit | null, wall: number): readonly Prism[];
  /** what makes it of its piece; null: nothing, as it is */
  carving(place: RoomPlace, exit: Exit | null): Carving | null;
}

/** An outline at a height into the piece, as corners in space: counter-clockwise seen from where it goes to. */
export function ringAt({ frame, inward }: RoomPlace, loop: Loop2, height: number): number[][] {
  const points = Array.from({ length: loop.length / 2 }, (_, i) => [
    ...fromFrame(frame, loop[2 * i], loop[2 * i + 1], inward * height),
  ]);
  return inward > 0 ? points : points.reverse();
}

/** What is taken off beyond a face's farthest place, so that nothing of its rim stays, mm. */
const BEYOND = 2;

/** How far a face reaches from a place in it, and somewhat on, mm. */
export function reachOf({ outer2 }: RoomPlace['region'], [u, v]: readonly [number, number]): number {
  let far = 0;
  for (let i = 0; i < outer2.length; i += 2) far = Math.max(far, Math.hypot(outer2[i] - u, outer2[i + 1] - v));
  return far + BEYOND;
}

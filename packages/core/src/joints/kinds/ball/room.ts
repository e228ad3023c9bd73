import { cross, type IndexedMesh, type Loop2, normalize, tubeMesh } from '../../../mesh/index.ts';
import { movedLoop, regular } from '../../outline.ts';
import { type Room, type RoomPlace, reachOf, ringAt } from '../../rooms.ts';

/** It is taken off from so far before the face, mm. */
const OVER = 0.05;
const CORNERS = 48;
const BANDS = 6;

/**
 * What the own piece loses round a joint that swings: from a disc on its face outwards a cone, which is where the neighbour's
 * face comes to when it is turned about the ball's middle. Lengths in mm.
 *
 *   \            /      own piece
 *    \__|    |__/       slope: height for each mm away from the axis; lift: what it would be at the axis
 *   -----|____|-----    face; foot: radius of the disc
 */
export interface SwingSizes {
  readonly foot: number;
  readonly lift: number;
  readonly slope: number;
}

/** The room in which a ball's own piece swings. */
export const swingRoom = (sizes: SwingSizes): Room => ({
  side: 'own',
  outlines: [],
  prisms: ({ frame, region, at, inward }) => {
    const far = reachOf(region, at);
    const depth = sizes.lift + sizes.slope * far;
    return [{ frame, outline: about(at, far, 24), depth, direction: inward }];
  },
  carving: (place) => ({
    steps: [{ does: 'take', meshes: [cutterOf(sizes, place)] }],
    along: place.axis,
    across: normalize(cross(place.axis, place.frame.v)),
  }),
});

/** A regular outline about a place that touches its circle from outside, its first corner along u. */
const about = ([u, v]: readonly [number, number], radius: number, corners: number): Loop2 =>
  movedLoop(regular(corners, 2 * radius, -Math.PI / corners).at(0), u, v);

/**
 * What is taken off: a ring round the disc that stays, from a little before the face up to the cone, in bands whose facets are
 * no longer than a share of it.
 *
 *    \_          _/   top: along the cone
 *     | |      | |    walls: at the disc, and at the reach
 *     |_|      |_|    bottom: outside the face
 */
function cutterOf({ foot, lift, slope }: SwingSizes, place: RoomPlace): IndexedMesh {
  const { region, at } = place;
  const far = reachOf(region, at);
  const radii = Array.from({ length: BANDS + 1 }, (_, i) => foot + ((far - foot) * i) / BANDS);
  const ring = (radius: number, height: number): number[][] => ringAt(place, about(at, radius, CORNERS), height);
  const rise = (r: number): number => lift + slope * r;
  const steps = Math.ceil((BANDS * rise(far)) / (far - foot));
  const up = Array.from({ length: steps - 1 }, (_, i) => (rise(far) * (i + 1)) / steps);
  // along the bottom outwards, up, and back along the cone
  return tubeMesh([
    ...radii.map((r) => ring(r, -OVER)),
    ...up.map((height) => ring(far, height)),
    ...radii.toReversed().map((r) => ring(r, rise(r))),
  ]);
}

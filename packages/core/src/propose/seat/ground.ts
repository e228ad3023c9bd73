import { poleOf, stripOf } from '../../joints/index.ts';
import type { MatingFace } from '../../seams/index.ts';
import type { Group } from './group.ts';
import { midWall } from './mid-wall.ts';
import { onLine, pairOf, spread, thinned } from './places.ts';
import type { FaceShape } from './specs.ts';
import type { Footing, StandingRoom } from './standing-room.ts';
import type { AxisLine } from './symmetry.ts';

/** Between joints along a thin wall, mm. */
const SPACING = 40;
/** Between joints on walls too wide for a row of small ones, mm. */
const ALONG = 110;
/** Places on a face that are looked at. */
const MOST_PLACES = 500;

/** Where joints of a size may go on a face, the most wanted first. */
export interface Ground {
  readonly points: readonly (readonly [number, number])[];
  /** joints that the face wants, and how many may find room, before any is measured */
  readonly count: number;
  readonly slots: number;
  /** places in their order along a wall */
  readonly inOrder: boolean;
  /** of the wall, mm */
  readonly length: number;
}

/**
 * The ground for joints that need so much room round their middles (`need`, mm): how many the face wants, and along a thin wall
 * also their places.
 */
export function groundOf(face: MatingFace, { strip }: FaceShape, need: number, spacing = SPACING): Ground {
  if (strip) {
    const step = Math.max(0.5, Math.min(2, spacing / 20));
    const places = midWall(face.region, step).filter((p) => p.thickness / 2 >= need - 1e-6);
    const count = Math.max(2, Math.min(60, Math.round(strip.length / spacing)));
    // corners and narrow places only make a wall's joints fewer by as much as they take up of it
    const share = (places.length * step) / strip.length;
    const slots = places.length === 0 ? 0 : Math.max(1, Math.min(count, Math.round(count * share)));
    return { points: places.map((p) => p.at), count, slots, inOrder: true, length: strip.length };
  }
  const { thickness, length } = stripOf(face.region);
  // a wide wall is held all along it, a plain face by its size
  const wanted = length > 8 * thickness ? length / ALONG : Math.sqrt(face.area / 100) / 3.2;
  return { points: [], count: Math.max(2, Math.min(6, Math.round(wanted))), slots: 0, inOrder: false, length: 0 };
}

/** A ground with the places at which a joint can stand on every face of the group. `rooms`: one a face. */
export function roomyGround(
  ground: Ground,
  group: Group,
  rooms: readonly StandingRoom[],
  needs: Omit<Footing, 'spare'>,
  axis: AxisLine | null,
): Ground {
  const { reach, wall, depths } = needs;
  const apart = 2 * reach + wall;
  const [first, ...others] = rooms;
  const pole = poleOf(group[0].face.region).distance;
  // with a little to spare to the edge, where as many find room like that
  const most = Math.max(0, Math.min(0.15 * pole, 0.95 * pole - reach - wall));
  let found: Ground = ground;
  for (const spare of new Set([most, 0])) {
    const footing = { ...needs, spare };
    const turned = { ...footing, depths: [depths[1], depths[0]] as const };
    const elsewhere = others.map((room, i) => {
      const sibling = group[i + 1];
      const can = room.standing(sibling.swapped ? turned : footing);
      return (p: readonly [number, number]): boolean => can(...sibling.at(p));
    });
    const can = first.standing(footing);
    const places = first.places(can);
    if (axis) for (const p of [...places]) places.push(onLine(axis, p, first.field.cell));
    const points = thinned(
      places.filter(
        (p) => elsewhere.every((other) => other(p)) && (!axis || pairOf(axis, p, apart).every((q) => can(q[0], q[1]))),
      ),
      MOST_PLACES,
    );
    found = { ...ground, points, slots: spread(points, ground.count, axis, apart).length };
    if (found.slots >= ground.count) break;
  }
  return found;
}

import { radians } from '../../../units.ts';
import type { FormWish, JointForm, Ring, Stack } from '../../form.ts';
import { movedLoop, rectangle } from '../../outline.ts';
import { hingeRooms, type Knuckles } from './room.ts';

/** Sizes of a hinge; mm, the angle in radians. */
export interface HingeSizes {
  readonly diameter: number;
  readonly length: number;
  readonly knuckles: number;
  readonly pin: number;
  readonly opens: number;
}

/** It opens so much farther than is said, so that what is said is free, radians. */
const MARGIN = radians(1);
/** A knuckle stands so far from the wall that its neighbour's room ends in, mm: solids that only touch would be one. */
const LAND = 0.02;
/** Chords of knuckles and rooms stray no more than this from their circles, mm. */
const CHORD = 0.002;
/** How far its opening is tried, radians. */
const MOST = radians(175);
/** Rings that half a cylinder is measured by. */
const COARSE = 4;

/** How wide one knuckle is, mm. */
export const knuckleWidth = ({ length, knuckles }: Pick<HingeSizes, 'length' | 'knuckles'>, gap: number): number =>
  (length - (knuckles - 1) * (gap + LAND)) / knuckles;

/** Where knuckles, their rooms and the bore are, of a hinge with its axis turned by so much from u, radians. */
export function knucklesOf(sizes: HingeSizes, gap: number, turn: number): Knuckles {
  const { diameter, length, knuckles, pin, opens } = sizes;
  const width = knuckleWidth(sizes, gap);
  const all = Array.from({ length: knuckles }, (_, i): [number, number] => {
    const from = i * (width + gap + LAND) - length / 2;
    return [from, from + width];
  });
  const [own, other] = [0, 1].map((side) => all.filter((_, i) => i % 2 === side));
  return {
    axis: [Math.cos(turn), Math.sin(turn)],
    radius: diameter / 2,
    room: diameter / 2 + gap,
    bore: pin / 2 + gap,
    own,
    other,
    opens: opens + MARGIN,
  };
}

/**
 * Knuckles of both pieces in turn round an axis in their face, the first and the last those of the own piece. Each stands half
 * in its own piece and half in a room of its neighbour, and a pin goes through all of them. To the axis' right, where the
 * faces would meet, the own piece is taken off as far as it opens.
 *
 *        neighbour
 *   ________.-.________      seen along the axis: a knuckle of the own piece, and its room
 *   \ off  ( o )
 *    \      '-'   own
 *     \     |
 */
export function hingeForm(sizes: HingeSizes, wish: FormWish): JointForm {
  const { u, v, turn, gap } = wish;
  const hinge = knucklesOf(sizes, gap, turn);
  const { radius, own, other } = hinge;
  const width = knuckleWidth(sizes, gap);
  const bar = (kind: 'male' | 'socket', [from, to]: readonly [number, number]): Stack => {
    const [r, beyond] = kind === 'male' ? [radius, 0] : [radius + gap, gap];
    const middle = (from + to) / 2;
    const ring = (across: number, height: number): Ring => ({
      height,
      loop: movedLoop(
        rectangle(to - from + 2 * beyond, 2 * across, turn).at(0),
        u + middle * hinge.axis[0],
        v + middle * hinge.axis[1],
      ),
    });
    const fine = Math.ceil(Math.PI / 2 / (2 * Math.acos(1 - CHORD / r)));
    // the last ring is half a step off the top, so that its flat is a chord, too
    const halfBar = (steps: number, out: number): Ring[] =>
      Array.from({ length: steps + 1 }, (_, i) => {
        const a = (i * Math.PI) / 2 / (steps + 0.5);
        return ring(out * Math.cos(a), i === 0 ? 0 : out * Math.sin(a));
      });
    return {
      kind,
      carved: true,
      rings: halfBar(fine, r + CHORD),
      around: halfBar(COARSE, r / Math.cos(Math.PI / 4 / (COARSE + 0.5))),
    };
  };
  return {
    own: [...own.map((k) => bar('male', k)), ...other.map((k) => bar('socket', k))],
    other: [...own.map((k) => bar('socket', k)), ...other.map((k) => bar('male', k))],
    rooms: hingeRooms(hinge),
    // what the own piece has behind its axis leans to the right of it
    swings: { centre: 0, ways: [Math.atan2(-hinge.axis[0], hinge.axis[1])], made: hinge.opens, most: MOST },
    depths: [radius + gap, radius + gap],
    freedom: 0,
    turns: false,
    slimmest: Math.min(width, radius - hinge.bore),
    shear: own.length * width * sizes.diameter,
  };
}

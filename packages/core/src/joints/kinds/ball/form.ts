import { radians } from '../../../units.ts';
import { areaOf, type FormWish, type JointForm, type Ring, type Stack } from '../../form.ts';
import { arc, movedLoop } from '../../outline.ts';
import { type SwingSizes, swingRoom } from './room.ts';

/** Sizes of a ball on a neck and of the cup that holds it; mm, the swing in radians. */
export interface BallSizes {
  readonly diameter: number;
  readonly neck: number;
  /** straight part of the neck */
  readonly length: number;
  /** how much narrower than the ball the cup's rim is, on every side */
  readonly bite: number;
  readonly slot: number;
  /** how far each half of the ball is sprung outwards */
  readonly spread: number;
  readonly swing: number;
}

/** It swings so much farther than is said, so that what is said is free, radians. */
const MARGIN = radians(1);
/** What is left of the face round the neck, mm. */
const LEDGE = 0.4;
/** Chords of ball and cup stray no more than this from their circles, mm: their facets stray by that either way. */
const CHORD = 0.002;
/** The ball ends and the cup goes straight from these latitudes on, radians. */
const BALL_END = radians(60);
const CUP_END = radians(80);
/** How many directions a swing is tried in, and how far, radians. */
const WAYS = 8;
const MOST = radians(60);
/** Corners and steps of the outlines by which walls are measured. */
const COARSE = 24;

/** What follows from the sizes of a ball and its gap; heights from the face towards the neighbour. */
export interface BallPlan {
  readonly radius: number;
  readonly neck: number;
  /** height of the ball's middle */
  readonly centre: number;
  /** radius and height of the cup's rim */
  readonly rim: number;
  readonly rimAt: number;
  /** radius of the cup's mouth on the face */
  readonly mouth: number;
  /** radius of what is left of the own face */
  readonly foot: number;
}

/** `foot` swings with the ball: the mouth is as wide as its edge asks for, on the face and wherever it dips below it. */
export function ballPlan({ diameter, neck, length, bite, swing }: BallSizes, gap: number): BallPlan {
  const radius = diameter / 2;
  const n = neck / 2;
  const centre = Math.SQRT2 * radius - n + length;
  const rim = radius - bite;
  const hold = Math.sqrt((radius + gap) ** 2 - rim ** 2);
  const rimAt = Math.max(0.2, centre - hold);
  const angle = swing + MARGIN;
  const [sin, cos] = [Math.sin(angle), Math.cos(angle)];
  const foot = n + LEDGE;
  const [out, dip] = [foot * cos + centre * sin, centre * (1 - cos) + foot * sin];
  const share = Math.min(0.9, dip / rimAt);
  const mouth = Math.max(rim, (centre * sin + foot) / cos, (out - rim * share) / (1 - share));
  return { radius, neck: n, centre, rim, rimAt, mouth, foot };
}

/** The room that a ball's own piece swings in; the swing in radians. */
export function swingSizes({ centre, foot }: BallPlan, swing: number): SwingSizes {
  const angle = swing + MARGIN;
  return { foot, lift: centre / Math.cos(angle) - centre, slope: Math.tan(angle) };
}

/**
 * How far a ball can swing before its neck meets the cup's rim, radians: the neck widens to the ball at 45°, so towards the
 * rim, in polar coordinates about the ball's middle, it is √2 · radius / (sin + cos) far out.
 */
export function mostSwing(plan: BallPlan, gap: number): number {
  const { radius, neck, centre, rim, rimAt } = plan;
  const rimPolar = Math.atan2(rim, centre - rimAt);
  for (let polar = Math.PI / 4; polar > 0.02; polar -= 0.005) {
    const cone = (Math.SQRT2 * radius) / (Math.sin(polar) + Math.cos(polar));
    if (Math.min(cone, neck / Math.sin(polar)) > radius + gap) return Math.max(0, rimPolar - polar - MARGIN);
  }
  return rimPolar;
}

/**
 * A ball on a neck, split so that it springs, in a cup whose rim is narrower than it.
 *
 *      .-|-.       neighbour: the cup, open to its rim, and from there a mouth in which the neck swings
 *     (  |  )
 *      \ | /       45° from the neck to the ball, so that it prints standing without support
 *   ____||____     face; of the own piece only a disc round the neck stays on it,
 *  \___/  \___/    the rest is taken off along a cone that lets it swing (`room.ts`)
 */
export function ballForm(ball: BallSizes, wish: FormWish): JointForm {
  const { slot, spread, swing } = ball;
  const plan = ballPlan(ball, wish.gap);
  const { radius, neck, centre, rim, rimAt, mouth } = plan;
  const step = 2 * Math.acos(1 - CHORD / radius);
  const corners = Math.max(24, Math.ceil((2 * Math.PI) / step / 4) * 4);

  const low = centre - radius * Math.SQRT1_2;
  const profile: [radius: number, height: number][] = [
    [neck, 0],
    [neck, ball.length],
  ];
  const out = radius + CHORD;
  for (const a of between(-Math.PI / 4, BALL_END, step)) profile.push([out * Math.cos(a), centre + out * Math.sin(a)]);
  const prong = (turn: number): Stack => ({
    kind: 'male',
    rings: profile.map(([r, height]): Ring => {
      const half = Math.acos(slot / 2 / r);
      const shift = spread * Math.min(1, height / low);
      return {
        height,
        loop: movedLoop(
          arc(r, turn - half, turn + half, corners / 2),
          wish.u + shift * Math.cos(turn),
          wish.v + shift * Math.sin(turn),
        ),
      };
    }),
  });

  const room = radius + wish.gap;
  const outer = room + CHORD;
  const from = -Math.asin((centre - rimAt) / room);
  const floor = centre + room + wish.depthGap;
  const round = (r: number, height: number, n = corners): Ring => ({
    height,
    loop: movedLoop(arc(r, wish.turn, wish.turn + (2 * Math.PI * (n - 1)) / n, n), wish.u, wish.v),
  });
  const cup = between(from, CUP_END, step)
    .slice(1)
    .map((a): [number, number] => [outer * Math.cos(a), centre + outer * Math.sin(a)]);
  const rings = [round(mouth + wish.mouth, 0), round(rim, rimAt), ...cup.map(([r, h]) => round(r, h))];
  rings.push(round(outer * Math.cos(CUP_END), floor));
  const own = [prong(wish.turn), prong(wish.turn + Math.PI)];
  const wide = outer / Math.cos(Math.PI / COARSE);
  const around = [
    round((mouth + wish.mouth) / Math.cos(Math.PI / COARSE), 0, COARSE),
    round(Math.max(rim, wide * Math.cos(from / 2)), rimAt, COARSE),
    ...between(0, radians(75), Math.PI / 12).map((a) => round(wide * Math.cos(a), centre + wide * Math.sin(a), COARSE)),
    round(wide * Math.cos(radians(75)), Math.max(floor, centre + wide), COARSE),
  ];
  return {
    own,
    other: [{ kind: 'socket', rings, around }],
    rooms: [swingRoom(swingSizes(plan, swing))],
    swings: {
      centre,
      ways: Array.from({ length: WAYS }, (_, w) => (2 * Math.PI * w) / WAYS),
      made: swing + MARGIN,
      most: MOST,
    },
    depths: [0, floor],
    freedom: 0,
    // turning is what it is for: nothing is missing that would keep the pieces from it
    turns: false,
    slimmest: neck - slot / 2,
    shear: 2 * areaOf(own[0].rings[0].loop),
  };
}

/** From one number to another in equal steps of at most `step`. */
function between(from: number, to: number, step: number): number[] {
  const n = Math.ceil((to - from) / step);
  return Array.from({ length: n + 1 }, (_, i) => from + ((to - from) * i) / n);
}

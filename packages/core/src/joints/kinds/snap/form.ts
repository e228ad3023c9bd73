import { areaOf, type FormWish, type JointForm, type Stack, wallsOf } from '../../form.ts';
import { circle, segment } from '../../outline.ts';
import { bentProng, pushed } from '../../prong.ts';

/** Sizes of a split pin that springs, mm. */
export interface SnapSizes {
  readonly diameter: number;
  readonly depth: number;
  /** width of the slot between its two prongs */
  readonly slot: number;
  /** how far the barb stands out on either side */
  readonly barb: number;
}

/** How far the barb's widest place is below the tip, mm. */
const tipOf = ({ depth, barb }: SnapSizes): number => Math.min(depth / 3, Math.max(1.2, 2.5 * barb));

/**
 * A split pin with a barb, and its socket with a groove: it can be taken apart again.
 *
 *      _   _
 *     / | | \          lead-in
 *     \ | | /          barb, 45° below, so that it lets go again
 *      || ||           two prongs, the slot between them as deep as the pin
 *   ___||_||___
 */
export function snapForm(snap: SnapSizes, wish: FormWish): JointForm {
  const { diameter, depth, barb } = snap;
  const tip = tipOf(snap);
  const widest = depth - tip;
  const lead = Math.min(barb + 0.4 * tip, (diameter - snap.slot) / 4 + barb);
  const prong = (turn: number): Stack => {
    const walls = wallsOf(segment(diameter, snap.slot / 2, turn), 0, wish);
    const start = Math.max(0.1, widest - barb);
    return {
      kind: 'male',
      rings: [walls.ring(0), walls.ring(start), walls.narrowed(widest, -barb), walls.narrowed(depth, lead - barb)],
    };
  };
  // its corners are not those of the prongs, so it is drawn finer
  const bore = wallsOf(circle(diameter, wish.turn, 3), 0, wish);
  // square to the 45° of the barb the clearance is that of the walls, on whichever side it leans
  const tilt = Math.hypot(...wish.lean);
  const drop = (Math.hypot(1, 1 + tilt) - Math.hypot(1, tilt)) * wish.gap;
  const floor = depth + wish.depthGap;
  const rings = bore.socket(floor, wish.gap, wish.mouth).slice(0, -1);
  rings.push(bore.ring(Math.max(rings[rings.length - 1].height + 0.05, widest - barb - drop), wish.gap));
  rings.push(bore.ring(widest - drop, wish.gap, barb), bore.ring(floor, wish.gap, barb));
  const own = [prong(wish.turn), prong(wish.turn + Math.PI)];
  return {
    own,
    other: [{ kind: 'socket', rings }],
    depths: [0, floor],
    freedom: 0,
    turns: true,
    slimmest: (diameter - snap.slot) / 2,
    shear: 2 * areaOf(own[0].rings[0].loop),
  };
}

/** What a prong goes through when it is pushed in. */
export interface SnapLoad {
  /** how far each prong bends, mm; not above 0: nothing holds */
  readonly bend: number;
  /** strain at its root, as a share */
  readonly strain: number;
  /** to push it in, N */
  readonly force: number;
}

/**
 * Strain and force of a split pin, each prong bent at its barb and pushed in over a lead-in of angle a: its force ·
 * (friction + tan a) / (1 − friction · tan a), both prongs together.
 *
 * modulus: MPa.
 */
export function snapLoad(snap: SnapSizes, gap: number, modulus: number): SnapLoad {
  const tip = tipOf(snap);
  const length = snap.depth - tip;
  const bend = snap.barb - gap;
  if (bend <= 0) return { bend, strain: 0, force: 0 };
  const { strain, force: side } = bentProng(segment(snap.diameter, snap.slot / 2, 0).at(0), length, bend, modulus);
  const slope = Math.min(1.5, (snap.barb + 0.4 * tip) / tip);
  return { bend, strain, force: pushed(2 * side, slope) };
}

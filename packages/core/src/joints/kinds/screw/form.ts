import type { FormWish, JointForm, Ring } from '../../form.ts';
import { shaftRoom } from './room.ts';
import type { ScrewSize } from './sizes.ts';

/** What a screw is given, mm. */
export interface ScrewSizes {
  readonly sizes: ScrewSize;
  readonly into: 'insert' | 'nut' | 'plastic';
  /** material of the own piece under its head */
  readonly grip: number;
  /** the bore of the insert and how long that is */
  readonly insert: number;
  readonly insertLength: number;
  /** from under its head to its end */
  readonly length: number;
  /** material over a nut */
  readonly cover: number;
}

/** Beyond the end of a screw there stays so much room, mm. */
const BEYOND = 1;
/** Corners of all outlines of a screw, so that rings of any of them can follow each other. */
const CORNERS = 48;

/**
 * A screw from the outside of the own piece into its neighbour.
 *
 *      |  | |  |
 *      |  |_|  |      neighbour: an insert pressed in from the face, a nut laid in while it prints, or a narrow bore
 *   ---+---+---+---
 *       |   |         own piece: a clearance hole with `grip` mm under the head, and from there a
 *     __|   |__       way for head and driver out to the skin (taken out of the solid: `room.ts`)
 *    |         |
 */
export function screwForm(screw: ScrewSizes, wish: FormWish): JointForm {
  const { sizes, into, grip, length, cover } = screw;
  const round = (diameter: number, height: number, more = 0): Ring =>
    screwRing(diameter / 2 + more, height, false, wish);
  const end = Math.max(length - grip, 0) + BEYOND;
  const clear = (height: number): Ring => round(sizes.clear, height, wish.gap);
  const inside: Ring[] = [];
  if (into === 'insert') {
    // an insert melts its own way: its bore is as its maker says, whatever the fit
    inside.push(
      ...mouthed((h, more) => round(screw.insert, h, more), wish.mouth),
      round(screw.insert, screw.insertLength),
    );
    if (end > screw.insertLength + 1e-6) inside.push(clear(screw.insertLength), clear(end));
  } else if (into === 'nut') {
    const nut = (height: number): Ring => screwRing(sizes.nut / 2 + wish.gap, height, true, wish);
    const far = cover + sizes.nutHeight + wish.depthGap;
    inside.push(
      ...mouthed((h, more) => round(sizes.clear, h, wish.gap + more), wish.mouth),
      clear(cover),
      nut(cover),
      nut(far),
    );
    if (end > far + 1e-6) inside.push(clear(far), clear(end));
  } else {
    inside.push(...mouthed((h, more) => round(sizes.core, h, more), wish.mouth), round(sizes.core, end));
  }
  const here = { ...wish, lean: [-wish.lean[0], -wish.lean[1]] as const };
  const own = (diameter: number, height: number): Ring => screwRing(diameter / 2 + wish.gap, height, false, here);
  return {
    own: [],
    other: [{ kind: 'socket', rings: inside }],
    rooms: [shaftRoom({ hole: [own(sizes.clear, 0), own(sizes.clear, grip)], head: own(sizes.head, grip) })],
    depths: [grip, inside[inside.length - 1].height],
    freedom: null,
    turns: true,
    slimmest: null,
    shear: (Math.PI / 4) * sizes.thread ** 2,
  };
}

const mouthed = (at: (height: number, more: number) => Ring, mouth: number): Ring[] =>
  mouth > 0 ? [at(0, mouth), at(mouth, 0)] : [at(0, 0)];

/**
 * A circle or a hexagon by half its width, whose sides touch what goes through from outside. Where the axis leans it is
 * longer that way in the face's plane, so that it is as wide square to the axis.
 */
export function screwRing(
  half: number,
  height: number,
  sixSided: boolean,
  { u, v, turn, lean: [s, t] }: Pick<FormWish, 'u' | 'v' | 'turn' | 'lean'>,
): Ring {
  const leaning = Math.hypot(s, t);
  const [lu, lv] = leaning > 0 ? [s / leaning, t / leaning] : [0, 0];
  const longer = Math.hypot(1, leaning) - 1;
  const loop = new Float64Array(2 * CORNERS);
  for (let i = 0; i < CORNERS; i++) {
    const angle = (2 * Math.PI * i) / CORNERS;
    const off = sixSided ? (angle % (Math.PI / 3)) - Math.PI / 6 : Math.PI / CORNERS;
    const r = half / Math.cos(off);
    const [x, y] = [r * Math.cos(angle + turn), r * Math.sin(angle + turn)];
    const along = longer * (x * lu + y * lv);
    loop[2 * i] = u + s * height + x + along * lu;
    loop[2 * i + 1] = v + t * height + y + along * lv;
  }
  return { loop, height };
}

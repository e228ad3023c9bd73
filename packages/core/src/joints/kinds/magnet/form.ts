import { type FormWish, type JointForm, type Stack, wallsOf } from '../../form.ts';
import { circle, rectangle } from '../../outline.ts';

/** Sizes of a magnet and its pockets, mm. */
export interface MagnetSizes {
  readonly shape: 'disc' | 'block';
  /** diameter of a disc, or length of a block along u */
  readonly diameter: number;
  /** of a block, along v */
  readonly height?: number | undefined;
  readonly thickness: number;
  /** material between the magnet and the mating face; 0: the pocket is open */
  readonly cover: number;
}

/**
 * A pocket on both sides, open to the mating face or closed by a cover (the print is paused to lay the magnet in).
 *
 *   ____________       ____________
 *      |    |             cover
 *      |____|           [______]
 */
export function magnetForm(magnet: MagnetSizes, wish: FormWish): JointForm {
  const { diameter, height = diameter, cover } = magnet;
  const outline = magnet.shape === 'disc' ? circle(diameter, wish.turn) : rectangle(diameter, height, wish.turn);
  const depth = magnet.thickness + wish.depthGap;
  const pocket = (own: boolean): Stack => {
    const walls = wallsOf(outline, 0, wish, own);
    if (cover <= 0) return { kind: 'socket', rings: walls.socket(depth, wish.gap, wish.mouth) };
    return { kind: 'void', rings: [walls.ring(cover, wish.gap), walls.ring(cover + depth, wish.gap)] };
  };
  const reach = Math.max(0, cover) + depth;
  return {
    own: [pocket(true)],
    other: [pocket(false)],
    depths: [reach, reach],
    freedom: null,
    turns: outline.round,
    slimmest: null,
    shear: 0,
  };
}

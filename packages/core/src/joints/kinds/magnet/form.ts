import { type FormWish, type JointForm, type Ring, type Stack, wallsOf } from '../../form.ts';
import { circle, movedLoop, rectangle } from '../../outline.ts';

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
  const { cover } = magnet;
  const outline = outlineOf(magnet, wish.turn);
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

const outlineOf = ({ shape, diameter, height = diameter }: MagnetSizes, turn: number) =>
  shape === 'disc' ? circle(diameter, turn) : rectangle(diameter, height, turn);

/** The magnet itself at a height over its face. */
export const magnetRing = (
  magnet: MagnetSizes,
  { u, v, turn, lean: [s, t] }: Pick<FormWish, 'u' | 'v' | 'turn' | 'lean'>,
  height: number,
): Ring => ({ height, loop: movedLoop(outlineOf(magnet, turn).at(0), u + s * height, v + t * height) });

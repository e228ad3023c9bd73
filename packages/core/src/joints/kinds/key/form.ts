import { areaOf, type FormWish, type JointForm, type Ring, wallsOf } from '../../form.ts';
import { flattened, type Outline, rectangle, regular } from '../../outline.ts';

/** Sizes of a key, mm and radians. */
export interface KeySizes {
  readonly outline: 'rectangle' | 'square' | 'hexagon' | 'd' | 'rounded';
  /** along u before it is turned; of a square, hexagon or D the only one that counts */
  readonly width: number;
  readonly height?: number | undefined;
  readonly depth: number;
  readonly socketDepth?: number | undefined;
  /** of every side, against the axis */
  readonly taper: number;
  /** radius of its upright edges */
  readonly corner: number;
  /** 45° bevel round the tip */
  readonly chamfer: number;
}

/**
 * A tapered block, and its socket: it centres itself and locks the turn.
 *
 *       ______         the upright edges are rounded at least by what taper and bevel take away, so they
 *      /      \        stay arcs round the same middle up to the tip
 *   __/        \__
 */
export function keyForm(key: KeySizes, wish: FormWish): JointForm {
  const taper = Math.tan(key.taper);
  const corner = key.corner > 0 ? Math.max(key.corner, taper * (key.depth + wish.depthGap) + key.chamfer + 0.05) : 0;
  const outline = keyOutline(key, wish.turn, corner);
  const walls = wallsOf(outline, taper, wish);
  const depth = Math.min(key.depth, walls.highest);
  const chamfer = Math.min(key.chamfer, depth / 2, (outline.inradius - taper * depth) / 2);
  const male: Ring[] = [walls.ring(0)];
  if (chamfer > 0) male.push(walls.ring(depth - chamfer), walls.ring(depth, 0, -chamfer));
  else male.push(walls.ring(depth));
  const socketDepth = key.socketDepth ?? depth + wish.depthGap;
  const follow = Math.max(depth, walls.deepest(wish.gap));
  return {
    own: [{ kind: 'male', rings: male }],
    other: [{ kind: 'socket', rings: walls.socket(socketDepth, wish.gap, wish.mouth, follow) }],
    depths: [0, socketDepth],
    freedom: key.taper,
    turns: false,
    slimmest: 2 * outline.inradius,
    shear: areaOf(male[0].loop),
  };
}

function keyOutline({ outline, width, height = width }: KeySizes, turn: number, corner: number): Outline {
  switch (outline) {
    case 'rectangle':
      return rectangle(width, height, turn, corner);
    case 'square':
      return regular(4, width, turn, corner);
    case 'hexagon':
      return regular(6, width, turn, corner);
    case 'd':
      return flattened(width, turn);
    case 'rounded':
      return rectangle(width, height, turn, Math.min(width, height) / 2);
  }
}

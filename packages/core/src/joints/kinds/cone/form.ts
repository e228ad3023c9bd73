import { areaOf, type FormWish, type JointForm, wallsOf } from '../../form.ts';
import { circle } from '../../outline.ts';

/** Sizes of a registration cone, mm and radians. */
export interface ConeSizes {
  /** at its foot */
  readonly diameter: number;
  /** between its wall and the mating face; 45° prints without support either way round */
  readonly slope: number;
  /** diameter of the flat at its tip */
  readonly tip: number;
}

/** How high a cone stands, mm. */
const coneDepth = ({ diameter, slope, tip }: ConeSizes): number =>
  ((diameter - Math.min(tip, diameter * 0.8)) / 2) * Math.tan(slope);

/**
 * A cone with a small flat tip, and its socket: it needs little depth, so it suits thin shells.
 *
 *       _            __     __
 *      / \        45°  \   /
 *   __/   \__           | |      the depth gap
 */
export function coneForm(cone: ConeSizes, wish: FormWish): JointForm {
  const taper = 1 / Math.tan(cone.slope);
  const walls = wallsOf(circle(cone.diameter, wish.turn), taper, wish);
  const depth = Math.min(coneDepth(cone), walls.highest);
  // below the tip the socket goes on straight: narrowing farther it would end before the depth gap is there
  const socketDepth = depth + wish.depthGap;
  const root = walls.ring(0);
  return {
    own: [{ kind: 'male', rings: [root, walls.ring(depth)] }],
    other: [{ kind: 'socket', rings: walls.socket(socketDepth, wish.gap, wish.mouth, depth) }],
    depths: [0, socketDepth],
    freedom: Math.PI / 2 - cone.slope,
    turns: true,
    slimmest: Math.min(cone.diameter, Math.max(cone.tip, 2 * (cone.diameter / 2 - depth * taper))),
    shear: areaOf(root.loop),
  };
}

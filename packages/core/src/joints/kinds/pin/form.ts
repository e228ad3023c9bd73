import { areaOf, type FormWish, type JointForm, type Ring, wallsOf } from '../../form.ts';
import { circle, type Outline, regular } from '../../outline.ts';

/** Sizes of a straight pin, mm. An angular one is measured across its flats. */
export interface PinSizes {
  readonly shape: 'round' | 'square' | 'hexagon' | 'octagon';
  readonly diameter: number;
  /** how far it stands out of its mating face */
  readonly depth: number;
  /** depth of the socket; without it depth and depth gap */
  readonly socketDepth?: number | undefined;
  /** 45° lead-in round the tip, measured along the pin */
  readonly chamfer: number;
}

const CORNERS = { square: 4, hexagon: 6, octagon: 8 } as const;

export const pinOutline = (shape: PinSizes['shape'], diameter: number, turn: number): Outline =>
  shape === 'round' ? circle(diameter, turn) : regular(CORNERS[shape], diameter, turn);

/**
 * A straight pin with a lead-in, and its socket.
 *
 *        ____          ____________
 *       /    \            |    |      depth gap
 *      |      |           |    |
 *      | male |           |    |      gap on every side
 *   ___|      |___     ___|    |___
 */
export function pinForm(pin: PinSizes, wish: FormWish): JointForm {
  const { diameter, depth } = pin;
  const outline = pinOutline(pin.shape, diameter, wish.turn);
  const walls = wallsOf(outline, 0, wish);
  const male: Ring[] = [walls.ring(0)];
  if (pin.chamfer > 0) male.push(walls.ring(depth - pin.chamfer), walls.ring(depth, 0, -pin.chamfer));
  else male.push(walls.ring(depth));
  const socketDepth = pin.socketDepth ?? depth + wish.depthGap;
  return {
    own: [{ kind: 'male', rings: male }],
    other: [{ kind: 'socket', rings: walls.socket(socketDepth, wish.gap, wish.mouth) }],
    depths: [0, socketDepth],
    freedom: 0,
    turns: outline.round,
    slimmest: diameter,
    shear: areaOf(male[0].loop),
  };
}

import type { Loop2 } from '../cut/index.ts';
import { movedLoop, type OutlineShape, offsetConvex, outlineOf } from './outline.ts';

/** A pin's sizes in mm and angles in radians. */
export interface Pin {
  readonly shape: OutlineShape;
  /** diameter, or width across flats, of the male half */
  readonly diameter: number;
  /** how far the male half stands out of its mating face */
  readonly depth: number;
  /** depth of the socket */
  readonly socketDepth: number;
  readonly turn: number;
  /** 45° lead-in round the tip, measured along the pin */
  readonly chamfer: number;
  /** clearance per side */
  readonly gap: number;
}

/** A convex outline at a height above the mating face. */
export interface Ring {
  readonly loop: Loop2;
  readonly height: number;
}

/** The two halves of a joint: rings from the mating face outwards, the first at height 0. */
export interface JointForm {
  readonly male: readonly Ring[];
  readonly socket: readonly Ring[];
}

/**
 * A straight pin with a lead-in, and its socket, at (u, v) of the mating face.
 *
 *        ____          ____________
 *       /    \            |    |      depth gap
 *      |      |           |    |
 *      | male |           |    |      gap on every side
 *   ___|      |___     ___|    |___
 */
export function pinForm(pin: Pin, u: number, v: number): JointForm {
  const outline = movedLoop(outlineOf(pin.shape, pin.diameter, pin.turn), u, v);
  const male: Ring[] = [{ loop: outline, height: 0 }];
  if (pin.chamfer > 0) {
    male.push({ loop: outline, height: pin.depth - pin.chamfer });
    male.push({ loop: offsetConvex(outline, -pin.chamfer), height: pin.depth });
  } else male.push({ loop: outline, height: pin.depth });
  const mouth = offsetConvex(outline, pin.gap);
  return {
    male,
    socket: [
      { loop: mouth, height: 0 },
      { loop: mouth, height: pin.socketDepth },
    ],
  };
}

import { radians } from '../../../units.ts';
import { areaOf, type FormWish, type JointForm, type Ring, type Walls, wallsOf } from '../../form.ts';
import { circle, flattened, type Outline, regular } from '../../outline.ts';

/** Sizes of a loose rod or block, mm and radians. */
export interface DowelSizes {
  /** what it is made of: printed with the pieces, or bought by the length */
  readonly stock: 'printed' | 'wood' | 'rod' | 'filament' | 'own';
  /** of a printed one; stock is round */
  readonly shape: 'round' | 'square' | 'tapered';
  readonly diameter: number;
  /** into the own piece and into its neighbour */
  readonly depths: readonly [number, number];
  /** a printed one can be made thinner instead of its sockets wider */
  readonly gapOn: 'socket' | 'rod';
  /** how much of a stick there is to cut from; without it that of the stock */
  readonly stockLength?: number | undefined;
}

/** Lead-in at both ends of a printed rod, mm. */
const LEAD_IN = 0.6;
/** Taper of a rod that narrows towards both ends. */
const TAPER = Math.tan(radians(2));

/**
 * A loose rod with a socket on both sides.
 *
 *   ____      ____
 *       |    |          neighbour
 *   ----|    |----
 *       |____|          own piece
 *
 * Printed: round with a flat on which it lies on the bed, square, or round with a flat and tapered towards both ends.
 */
export function dowelForm(dowel: DowelSizes, wish: FormWish): JointForm {
  const printed = dowel.stock === 'printed';
  const outline = dowelOutline(dowel, wish.turn);
  const taper = printed && dowel.shape === 'tapered' ? TAPER : 0;
  const onRod = printed && dowel.gapOn === 'rod';
  const there = wallsOf(outline, taper, wish);
  const here = wallsOf(outline, taper, wish, true);
  const [own, other] = dowel.depths.map((d) => Math.min(d, there.highest - wish.depthGap));
  const gap = onRod ? 0 : wish.gap;
  const narrower = onRod ? -wish.gap : 0;
  const sockets = [here, there].map((walls, i) =>
    walls.socket((i === 0 ? own : other) + wish.depthGap, gap, wish.mouth),
  );
  // where both ends meet its sides have two directions: narrow enough for either
  const middle = there.ring(0, 0, narrower * Math.hypot(1, taper + Math.hypot(...wish.lean)));
  const lead = printed ? Math.min(LEAD_IN, own / 3, other / 3, outline.inradius / 3) : 0;
  return {
    own: [{ kind: 'socket', rings: sockets[0] }],
    other: [{ kind: 'socket', rings: sockets[1] }],
    rod: [...end(here, own, narrower, lead).map(below).reverse(), middle, ...end(there, other, narrower, lead)],
    depths: [own + wish.depthGap, other + wish.depthGap],
    freedom: Math.atan(taper),
    turns: outline.round,
    slimmest: 2 * (outline.inradius + narrower),
    shear: areaOf(there.ring(0, narrower).loop),
  };
}

function dowelOutline({ stock, shape, diameter }: DowelSizes, turn: number): Outline {
  if (stock !== 'printed') return circle(diameter, turn);
  return shape === 'square' ? regular(4, diameter, turn) : flattened(diameter, turn);
}

/** The rings of a rod at one end. */
function end(walls: Walls, depth: number, narrower: number, lead: number): Ring[] {
  if (lead <= 0) return [walls.ring(depth, narrower)];
  return [walls.ring(depth - lead, narrower), walls.ring(depth, narrower, -lead)];
}

const below = (ring: Ring): Ring => ({ ...ring, height: -ring.height });

import type { Loop2 } from '../mesh/index.ts';
import { movedLoop, type Outline, offsetSides, outward } from './outline.ts';
import type { Room } from './rooms.ts';

/** A convex outline at a height above the mating face, mm. */
export interface Ring {
  readonly loop: Loop2;
  readonly height: number;
}

/**
 * A convex-ringed solid built into one piece: rings of as many corners each, from the mating face away.
 *
 * male     stands out of its piece; its first ring is its root, at height 0
 * socket   goes into its piece; its first ring is its mouth, at height 0
 * void     is closed all round inside its piece, from its first ring to its last
 */
export interface Stack {
  readonly kind: 'male' | 'socket' | 'void';
  readonly rings: readonly Ring[];
  /** fewer and coarser rings that hold it, for measuring by; without them its own */
  readonly around?: readonly Ring[];
  /** made by the kernel with the rest of its joint, not built into the cap */
  readonly carved?: true;
}

/**
 * What every kind of joint comes to. `own` goes into the piece that carries the male half (of two equal sides, the one
 * named as male), `other` into its neighbour; heights of both count away from the mating face: a male half towards the
 * neighbour, sockets and voids into their own piece.
 */
export interface JointForm {
  readonly own: readonly Stack[];
  readonly other: readonly Stack[];
  /** a loose rod, ring by ring; heights towards the neighbour, below 0 inside the own piece */
  readonly rod?: readonly Ring[];
  /** what it wants of its pieces beyond their caps, made by the kernel */
  readonly rooms?: readonly Room[];
  /** the pieces can be swung about it */
  readonly swings?: Swinging;
  /** how deep it goes into the own piece (0 for a male half) and into the neighbour, mm */
  readonly depths: readonly [number, number];
  /** half-angle of the cone of directions in which it can be drawn apart, radians; null: it does not guide */
  readonly freedom: number | null;
  /** whether it lets the pieces turn about its axis */
  readonly turns: boolean;
  /** least width of what stands out, mm; null when nothing does */
  readonly slimmest: number | null;
  /** cross-section that would have to shear, mm² */
  readonly shear: number;
}

/** How the pieces that a joint holds can be swung; angles in radians. */
export interface Swinging {
  /** what they are swung about: so far behind the face, towards the neighbour, mm */
  readonly centre: number;
  /** directions in which it is tried, in (u, v): the pieces lean that way */
  readonly ways: readonly number[];
  /** how far it is made to swing, and how far that is tried */
  readonly made: number;
  readonly most: number;
}

/** Where and how a joint is to be built. Lengths in mm on the face's frame. */
export interface FormWish {
  readonly u: number;
  readonly v: number;
  readonly turn: number;
  /** how far the axis moves along (u, v) for each mm towards the neighbour */
  readonly lean: readonly [number, number];
  /** clearance per side, measured square to the wall */
  readonly gap: number;
  readonly depthGap: number;
  /** how much wider the socket's mouth is than the rest, at 45° */
  readonly mouth: number;
}

/** The least half-width that a tapering half keeps at its tip, mm. */
const LEAST_TIP = 0.1;
/** … and that its socket keeps at its floor. */
const LEAST_FLOOR = 0.05;

/**
 * Walls that rise from an outline: narrower by `taper` mm for each mm of height, and moved along `lean`.
 *
 *      ____          h      clearance is square to the wall, so a leaning or tapering side is offset by
 *     /    \                gap · √(1 + s²) in the plane, where s is how far that side moves outward
 *    /      \               for each mm of height
 *   /________\       0
 */
export class Walls {
  private readonly base: Loop2;
  private readonly slopes: Float64Array;
  /** up to where a tapering outline keeps some width, mm */
  readonly highest: number;

  constructor(
    private readonly outline: Outline,
    private readonly taper: number,
    private readonly lean: readonly [number, number],
    private readonly at: readonly [number, number],
  ) {
    this.highest = taper > 0 ? Math.max(0, (outline.inradius - LEAST_TIP) / taper) : Infinity;
    this.base = outline.at(0);
    const inset = Math.min(0.01, outline.inradius / 2);
    const narrow = outline.at(inset);
    this.slopes = Float64Array.from({ length: this.base.length / 2 }, (_, i) => {
      const [mx, my] = outward(this.base, i);
      const moved = mx * (narrow[i * 2] - this.base[i * 2]) + my * (narrow[i * 2 + 1] - this.base[i * 2 + 1]);
      return (moved / inset) * taper;
    });
  }

  /** The outline at a height: with a clearance square to its walls, and wider in the plane by `wider`. */
  ring(height: number, clearance = 0, wider = 0): Ring {
    const [s, t] = this.lean;
    const loop = offsetSides(this.base, (i, [mx, my]) => {
      const slope = this.slopes[i];
      return slope * height + clearance * Math.hypot(1, slope + mx * s + my * t) + wider;
    });
    return this.shifted(loop, height);
  }

  /** The outline narrowed (or widened) in its own way, at a height. */
  narrowed(height: number, inset: number): Ring {
    return this.shifted(this.outline.at(inset), height);
  }

  private shifted(loop: Loop2, height: number): Ring {
    const [s, t] = this.lean;
    return { loop: movedLoop(loop, this.at[0] + s * height, this.at[1] + t * height), height };
  }

  /** The deepest a socket with a clearance can follow the walls, mm. */
  deepest(clearance: number): number {
    if (this.taper <= 0) return Infinity;
    const half = this.outline.inradius + clearance * Math.hypot(1, this.taper);
    return Math.max(0, (half - LEAST_FLOOR) / this.taper);
  }

  /**
   * The rings of a socket: its mouth, wider by `mouth`, and its walls down to `follow`; from there it goes on straight to its
   * floor at `depth`, so that it is as deep as it is meant to be also where tapering walls would meet before.
   */
  socket(depth: number, clearance: number, mouth: number, follow = depth): Ring[] {
    const rings = [this.ring(0, clearance, mouth)];
    const chamfer = Math.min(mouth, depth / 2);
    if (mouth > 0) rings.push(this.ring(chamfer, clearance));
    const last = this.ring(Math.min(depth, follow), clearance);
    rings.push(last);
    const [s, t] = this.lean;
    const on = depth - last.height;
    if (on > 1e-9) rings.push({ loop: movedLoop(last.loop, s * on, t * on), height: depth });
    return rings;
  }
}

export const wallsOf = (outline: Outline, taper: number, wish: FormWish, own = false): Walls =>
  new Walls(outline, taper, own ? [-wish.lean[0], -wish.lean[1]] : wish.lean, [wish.u, wish.v]);

/** Area of a convex loop, mm². */
export function areaOf(l: Loop2): number {
  let sum = 0;
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) sum += l[j] * l[i + 1] - l[i] * l[j + 1];
  return sum / 2;
}

import type { Plan } from '../../document/index.ts';
import { type Fit, type Pole, poleOf, stripOf } from '../../joints/index.ts';
import { gapOf, type JointInput } from '../../joints/kinds/index.ts';
import type { MatingFace } from '../../seams/index.ts';
import { mm } from '../../units.ts';
import type { StandingRoom } from './standing-room.ts';

/** A kind and size of joint that may suit a face, and how far round its middle it reaches, mm. */
export interface Spec {
  readonly joint: Record<string, unknown> & { readonly kind: JointInput['kind'] };
  readonly reach: number;
  readonly depth: number;
  /** its tip is bevelled, as far as its depth lets it */
  readonly chamfered?: boolean;
  /** holds the turn by itself */
  readonly locks: boolean;
  /** "hexagonal pins 8" */
  readonly says: string;
}

/** The narrowest cone that is seated, mm. */
const LEAST_CONE = 1.5;

/** What a face is like. */
export interface FaceShape {
  readonly pole: Pole;
  /** a wall rather than a solid section: its mean thickness and length, mm */
  readonly strip: { readonly thickness: number; readonly length: number } | null;
}

/** Walls up to this are shells, mm. */
const SHELL = 7;

export function shapeOf(face: MatingFace): FaceShape {
  const pole = poleOf(face.region);
  const { thickness, length } = stripOf(face.region);
  return { pole, strip: thickness < SHELL && length > 6 * thickness ? { thickness, length } : null };
}

const half = (x: number): number => Math.floor(x * 2) / 2;
const tenth = (x: number): number => Math.floor(x * 10) / 10;

/** Joints for a face, the most wanted first, each with `wall` mm left beside it. */
export function specsFor(
  shape: FaceShape,
  wall: number,
  plan: Plan,
  wish: { readonly kind: JointInput['kind'] | 'auto'; readonly twins: boolean; readonly heavy: boolean },
): Spec[] {
  const gap = (joint: Spec['joint']): number =>
    gapOf((joint.fit as Fit | undefined) ?? 'slip', joint.kind, plan.printer, 'stock' in joint);
  const { distance } = shape.pole;
  const round = (joint: Spec['joint'] & { diameter: number }, depth: number, says: string): Spec => ({
    joint,
    depth,
    reach: joint.diameter / 2 + gap(joint),
    locks: false,
    says: `${says} ${joint.diameter}`,
  });
  const specs: Spec[] = [];
  const add = (spec: Spec): void => {
    if (spec.reach + wall <= distance + 1e-6) specs.push(spec);
  };
  const room = distance - wall;
  const wants = (kind: JointInput['kind']): boolean => wish.kind === 'auto' || wish.kind === kind;

  if (shape.strip) {
    const rods = (): void => {
      for (const diameter of [2.85, 1.75]) {
        add(round({ kind: 'dowel', stock: 'filament', diameter, fit: 'snug' }, 4 * diameter, 'pins of filament'));
      }
    };
    // twins stay twins with loose rods, where the wall has room for them
    if (wish.twins && wants('dowel')) rods();
    if (wants('cone')) specs.push(...smallCones(shape, wall, plan));
    if (!wish.twins && wants('dowel')) rods();
    if (wish.kind === 'auto') return specs;
  }
  const wide = [1.1, 0.8, 0.55].map((k) => Math.max(3, Math.min(12, half(k * room))));
  // a wide face may have little below it
  const sizes = [...new Set([...wide, ...[8, 5, 3].filter((d) => d < wide[2])])];
  if (wants('dowel') && (wish.twins || wish.heavy || wish.kind === 'dowel')) {
    for (const d of sizes) {
      const wood = wish.heavy && !wish.twins ? [10, 8, 6].find((w) => w <= d) : undefined;
      if (wood) add(round({ kind: 'dowel', stock: 'wood', diameter: wood }, 2 * wood, 'wooden dowels'));
      else add({ ...round({ kind: 'dowel', diameter: d }, 1.25 * d, 'loose dowels'), locks: true });
    }
  }
  // heavy pieces too thin for rods take what others do
  for (const d of wish.twins && wish.kind === 'auto' ? [] : sizes) {
    if (wants('key') && !wish.twins && (d >= 5 || wish.kind === 'key')) {
      const joint = { kind: 'key' as const, width: half(1.2 * d), height: half(0.8 * d), corner: tenth(d / 8) };
      const reach = Math.hypot(joint.width, joint.height) / 2 + gap(joint);
      add({
        joint,
        depth: 0.8 * d,
        reach,
        chamfered: true,
        locks: true,
        says: `keys ${joint.width} × ${joint.height}`,
      });
    }
    if (wants('pin') && !wish.twins) {
      const joint = { kind: 'pin' as const, shape: 'hexagon', diameter: d };
      add({
        joint,
        depth: d,
        reach: d / 2 / Math.cos(Math.PI / 6) + gap(joint),
        chamfered: true,
        locks: true,
        says: `hexagonal pins ${d}`,
      });
    }
    if (wish.kind === 'cone') add(round({ kind: 'cone', diameter: d, fit: 'snug' }, 0, 'cones'));
    if (wish.kind === 'snap' && d >= 4)
      add(round({ kind: 'snap', diameter: d, slot: tenth(d / 5) }, 1.8 * d, 'snap pins'));
    if (wish.kind === 'magnet') add(round({ kind: 'magnet', diameter: d, thickness: 3 }, 0, 'magnets'));
  }
  // two dowels hold where none can be angular; a face too small for a dowel of twins takes what there is
  if (wish.twins && specs.length === 0 && wish.kind === 'auto' && room > 1) {
    const d = tenth(Math.max(1.5, room));
    add({ ...round({ kind: 'dowel', diameter: d }, 2 * d, 'loose dowels'), locks: true });
  }
  return specs;
}

/** Cones as wide as a small place lets them be, and a little smaller: they guide where nothing else has room. */
export function smallCones({ pole }: FaceShape, wall: number, { printer }: Plan): Spec[] {
  const joint = { kind: 'cone' as const, fit: 'snug', depthGap: 0.2, tip: Math.min(2 * printer.nozzle, 0.8) };
  const gap = gapOf('snug', 'cone', printer);
  const room = pole.distance - wall - gap;
  return [1, 0.85, 0.7].flatMap((share) => {
    const diameter = tenth(Math.min(6, 2 * room) * share);
    if (diameter < LEAST_CONE) return [];
    return [
      { joint: { ...joint, diameter }, reach: diameter / 2 + gap, depth: 0, locks: false, says: `cones ${diameter}` },
    ];
  });
}

/**
 * Laps for a thin wall, the longest first: lip and the wall beside it share what there is, and where the wall leans, a shorter
 * lip leaves more of it.
 */
export function lapSpecs({ pole, strip }: FaceShape, wall: number, { printer }: Plan): Spec[] {
  if (!strip) return [];
  const gap = gapOf('slip', 'lap', printer);
  const thin = Math.min(2 * pole.distance, strip.thickness) - gap;
  // to the twentieth of a millimetre
  const lip = Math.max(wall, Math.floor(thin * 0.46 * 20) / 20);
  if (thin - lip < wall) return [];
  return [...new Set([Math.max(2, half(3 * lip)), 2, 1.2])].flatMap((depth) =>
    (['inside', 'outside'] as const).map((edge) => ({
      joint: { kind: 'lap' as const, lip, edge },
      reach: lip,
      depth,
      locks: true,
      says: `lap with a lip of ${mm(lip)}`,
    })),
  );
}

/** The shallowest joint that is seated, with its depth gap, mm. */
const SHALLOWEST = 1.8;

/** Why nothing fits on a face, and what would help. `room`: what lies below it, of a face that is no thin wall. */
export function whyNone(
  { pole, strip }: FaceShape,
  wall: number,
  room: Pick<StandingRoom, 'deepest' | 'allKept'> | null,
  auto: boolean,
): { why: string; help: string } {
  const wide = 2 * pole.distance;
  const needs = 2 * (wall + 0.1) + LEAST_CONE;
  if (wide < needs) {
    return {
      why: `The ${strip ? 'wall' : 'face'} is at most ${mm(wide)} wide; a joint with ${mm(wall)} of wall round it needs ${mm(needs)}.`,
      help: strip
        ? `A thicker wall, a seam that crosses it at a slant, or glue along the edge would help.${auto ? ' Cones or a lap that are asked for by kind are seated with weaker walls, and warned about.' : ''}`
        : 'Moving the seam to a wider place would help.',
    };
  }
  const least = needs / 2;
  if (room?.allKept(least)) {
    return {
      why: 'All of the face with room for a joint lies in a zone that is to be kept clear.',
      help: 'Moving the seam or the zone would help.',
    };
  }
  const deepest = room ? room.deepest(least) : Infinity;
  if (deepest < SHALLOWEST + wall) {
    return {
      why: `Below the face there are at most ${mm(deepest)} of material where it is wide enough; the shallowest joint needs ${mm(SHALLOWEST + wall)}.`,
      help: 'Moving the seam away from the skin, from its neighbours and their joints would help.',
    };
  }
  return {
    why: `No place on the face keeps ${mm(wall)} of wall round a joint on both sides.`,
    help: 'Moving the seam away from its neighbours, or a thicker wall, would help.',
  };
}

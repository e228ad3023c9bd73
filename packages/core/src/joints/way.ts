import { cross, dot, normalize, type Vec3 } from '../mesh/index.ts';

/** A joint's hold on how two groups may be drawn apart: directions within `freedom` radians of its axis. */
export interface Guide {
  readonly axis: Vec3;
  readonly freedom: number;
}

/** Kept of every joint's freedom, so that what is allowed is allowed with ease; radians. */
const SPARE = (0.5 * Math.PI) / 180;
/** How far two straight joints may differ, radians. */
const STRAIGHT = (0.05 * Math.PI) / 180;

/** How far a direction is beyond what a guide allows, radians; not above 0 where it may go that way. */
export const excessOf = (way: Vec3, { axis, freedom }: Guide): number =>
  Math.acos(Math.max(-1, Math.min(1, dot(way, axis)))) - Math.max(STRAIGHT, freedom - SPARE);

/** How far a direction leads into a face: its outward normals (unit, from the side that stays) must not be gone against. */
const against = (way: Vec3, normal: Vec3): number => -Math.asin(Math.max(-1, Math.min(1, dot(way, normal))));

/**
 * A direction in which one group of pieces can be drawn off another: against none of the faces' `normals`, and within the
 * freedom of every joint. Null when there is none.
 *
 * The sets are convex cones below 90°, so going against whatever is violated most, a little less each time, ends in their
 * common part if there is one (subgradient descent); axes and their crossings are tried first, as straight joints leave
 * only these.
 */
export function wayOut(normals: readonly Vec3[], guides: readonly Guide[]): Vec3 | null {
  const worst = (way: Vec3): { excess: number; towards: Vec3 } => {
    let excess = -Infinity;
    let towards: Vec3 = way;
    for (const n of normals) {
      const e = against(way, n);
      if (e > excess) [excess, towards] = [e, n];
    }
    for (const g of guides) {
      const e = excessOf(way, g);
      if (e > excess) [excess, towards] = [e, g.axis];
    }
    return { excess, towards };
  };
  const mean = (list: readonly Vec3[]): Vec3[] => {
    const sum = list.reduce<Vec3>((s, n) => [s[0] + n[0], s[1] + n[1], s[2] + n[2]], [0, 0, 0]);
    return Math.hypot(...sum) > 1e-9 ? [normalize(sum)] : [];
  };
  const tries = [...guides.map((g) => g.axis), ...mean(guides.map((g) => g.axis)), ...mean(normals), ...normals];
  const crossed = pairs(normals.slice(0, 12))
    .map(([a, b]) => cross(a, b))
    .filter((c) => Math.hypot(...c) > 1e-6)
    .flatMap((c): Vec3[] => [normalize(c), normalize([-c[0], -c[1], -c[2]])]);
  let best: { way: Vec3; excess: number } | null = null;
  for (const way of [...tries, ...crossed]) {
    const { excess } = worst(way);
    if (excess <= 1e-6) return way;
    if (!best || excess < best.excess) best = { way, excess };
  }
  if (!best) return null;
  let { way } = best;
  for (let i = 0; i < 200; i++) {
    const { excess, towards } = worst(way);
    if (excess <= 1e-6) return way;
    const step = Math.min(1, excess) / (1 + i / 20);
    way = normalize([way[0] + towards[0] * step, way[1] + towards[1] * step, way[2] + towards[2] * step]);
  }
  return null;
}

const pairs = <T>(list: readonly T[]): [T, T][] => list.flatMap((a, i) => list.slice(i + 1).map((b): [T, T] => [a, b]));

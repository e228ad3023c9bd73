import { inRegion, makeFrame, regionsOfLoops, sectionAt } from '../../cut/index.ts';
import {
  type Blocks,
  cross,
  dot,
  nearestOnLoop,
  normalize,
  perAxis,
  sphereDirections,
  type Vec3,
} from '../../mesh/index.ts';

/** The direction of a limb at a place inside it, and the area of its section there in mm². */
export interface Limb {
  readonly axis: Vec3;
  readonly area: number;
}

/**
 * The local axis of a limb: the normal of the plane through a place inside it whose section there is smallest. Tried over a
 * half sphere of directions, then turned by smaller and smaller steps. Null when no plane has a section there.
 */
export function limbAxis(blocks: Blocks, at: Vec3): Limb | null {
  const areaOf = (normal: Vec3): number => {
    const { loops } = sectionAt(blocks.mesh, makeFrame(at, normal), blocks);
    const regions = regionsOfLoops(loops);
    const home = regions.find((r) => inRegion(r, 0, 0));
    if (home) return home.area;
    let least = Infinity;
    let area = Infinity;
    for (const r of regions) {
      const { distance } = nearestOnLoop(r.outer2, 0, 0);
      if (distance < least) [least, area] = [distance, r.area];
    }
    return area;
  };
  let axis: Vec3 = [0, 0, 1];
  let area = areaOf(axis);
  const attempt = (normal: Vec3): boolean => {
    const found = areaOf(normal);
    if (found >= area * (1 - 1e-9)) return false;
    axis = normal;
    area = found;
    return true;
  };
  for (const way of sphereDirections(80).slice(0, 40)) attempt(way);
  for (const unit of [
    [1, 0, 0],
    [0, 1, 0],
  ] as const)
    attempt(unit);
  for (let step = 0.15; step > 0.004; ) {
    const side = normalize(cross(axis, Math.abs(axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]));
    const other = cross(axis, side);
    let better = false;
    for (const [a, b] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ]) {
      const turned = perAxis(axis, (x, k) => x + step * (a * side[k] + b * other[k]));
      better = attempt(normalize(turned)) || better;
      if (better) break;
    }
    if (!better) step /= 2;
  }
  if (!Number.isFinite(area)) return null;
  return { axis: dot(axis, [0.3, 0.5, 0.8]) < 0 ? [-axis[0], -axis[1], -axis[2]] : axis, area };
}

import type { ShowMark } from '../document/index.ts';
import {
  type Affine,
  determinant,
  distance,
  dot,
  halfEdges,
  type IndexedMesh,
  mapPoint,
  normalize,
  type Tree,
  triangleCross,
  type Vec3,
} from '../mesh/index.ts';

/** A mark as it stands on the model, mm. */
export interface PlacedMark extends Pick<ShowMark, 'angle' | 'off'> {
  readonly at: Vec3;
  /** Infinity: as far as the angle lets it */
  readonly radius: number;
}

/** Puts a mark onto the model. Its radius grows by the cube root of the map's determinant. */
export const placeMark = ({ at, angle, radius, off }: ShowMark, map: Affine): PlacedMark => ({
  at: mapPoint(map, at),
  angle,
  radius: radius === undefined ? Infinity : radius * Math.cbrt(Math.abs(determinant(map))),
  off,
});

/**
 * The triangles that a mark covers, from the one it was set on over all edges that bend no more than its angle:
 *
 *     ________
 *    /  flat /|      a flood ends at creases; one with a radius also where triangles have
 *   /___x___/ |      their middle farther off, or look the other way (the back of a thin wall)
 *   |       | /
 *
 * A triangle is covered whole. The one it starts from always is.
 */
export function floodFrom(mesh: IndexedMesh, start: number, { at, angle, radius }: PlacedMark): number[] {
  const { twin } = halfEdges(mesh);
  const normal = (i: number): Vec3 => normalize(triangleCross(mesh.positions, mesh.triangles, i));
  const first = normal(start);
  const limited = radius < Infinity;
  const least = Math.cos(Math.min(angle, Math.PI)) - 1e-9;
  const seen = new Set([start]);
  const found = [start];
  for (const i of found) {
    const own = normal(i);
    for (let h = 3 * i; h < 3 * i + 3; h++) {
      const next = twin[h] < 0 ? -1 : Math.floor(twin[h] / 3);
      if (next < 0 || seen.has(next)) continue;
      const other = normal(next);
      if (dot(own, other) < least) continue;
      if (limited && (distance(middleOf(mesh, next), at) > radius || dot(first, other) < 0)) continue;
      seen.add(next);
      found.push(next);
    }
  }
  return found;
}

/** The middle of a triangle. */
export function middleOf({ positions: p, triangles: t }: Tree['mesh'], i: number): Vec3 {
  const [a, b, c] = [3 * t[3 * i], 3 * t[3 * i + 1], 3 * t[3 * i + 2]];
  return [(p[a] + p[b] + p[c]) / 3, (p[a + 1] + p[b + 1] + p[c + 1]) / 3, (p[a + 2] + p[b + 2] + p[c + 2]) / 3];
}

import { GephyraError } from '../errors.ts';
import { area, type Box, boxOf, type IndexedMesh, perAxis } from '../mesh/index.ts';
import { noSidedPlace, riseAcross, riseBeyond, sided, signedDistance } from './signed.ts';
import { withoutSpecks } from './specks.ts';
import { type Field, fieldSurface, samplingCost } from './surface.ts';

export type WallSide = 'inward' | 'outward' | 'both';

/** A wall as it was made, and how finely. */
export interface Walled {
  readonly mesh: IndexedMesh;
  /** edge of the cells it was sampled with, mm */
  readonly cell: number;
}

/** Cells to a wall when nothing is said. */
const CELLS_A_WALL = 3;

/** The cells that a wall is sampled with when nothing is said, mm: a third of it, larger on very large surfaces. */
export function usualCell(thickness: number, surface: number): number {
  let cell = thickness / CELLS_A_WALL;
  while (samplingCost(surface, cell).cells > 6_000_000 && cell < thickness / 2) cell *= 1.1;
  return cell;
}

/**
 * Gives a surface a wall: everything within `thickness` of it on the wanted side.
 *
 *   outward  ======      inward  ------      both  ======
 *            ------              ======            ------       ------ the surface
 *                                                  ======
 *
 * Where the surface ends the wall ends square to it. Throws GephyraError `skin.tooFine`, `skin.nothing`.
 */
export function wallOf(
  mesh: IndexedMesh,
  thickness: number,
  side: WallSide,
  wantedCell?: number,
  progress: (share: number) => void = () => {},
): Walled {
  const surface = sided(mesh);
  const cell = wantedCell ?? usualCell(thickness, area(mesh) * 2);
  const half = thickness / 2;
  const shift = side === 'outward' ? half : side === 'inward' ? -half : 0;
  const place = noSidedPlace();
  const field: Field = {
    value(x, y, z, reach) {
      signedDistance(surface, x, y, z, thickness + reach, place);
      if (place.triangle < 0) return reach;
      const off = Math.abs((place.rim ? place.along : place.distance) - shift) - half;
      return place.rim ? Math.max(off, place.beyond) : off;
    },
    jumps: () => place.rim,
    rise(x, y, z, out) {
      signedDistance(surface, x, y, z, thickness * 2, place);
      const d = place.rim ? place.along : place.distance;
      const off = Math.abs(d - shift) - half;
      if (place.rim && place.beyond > off) riseBeyond(surface, place, x, y, z, out);
      else riseAcross(surface, place, x, y, z, d < shift ? -1 : 1, out);
    },
  };
  const out = fieldSurface(field, padded(boxOf(mesh.positions), thickness + cell * 2), cell, progress);
  if (out.tags.length === 0) {
    throw new GephyraError('skin.nothing', `No wall of ${thickness} mm came out. Choose smaller cells.`);
  }
  return { mesh: withoutSpecks(out, Math.max(cell * 3, thickness * 1.5)), cell };
}

/** The box with a margin on every side. The margin is odd on purpose: grid planes should not fall onto round coordinates. */
export function padded(box: Box, margin: number): Box {
  return {
    min: perAxis(box.min, (x, a) => x - margin * (1.01 + a * 0.013)),
    max: perAxis(box.max, (x) => x + margin * 1.02),
  };
}

import { GephyraError } from '../errors.ts';
import { area, type Box, boxOf, type IndexedMesh, perAxis } from '../mesh/index.ts';
import { noSidedPlace, riseAcross, riseBeyond, sided, signedDistance } from './signed.ts';
import { withoutSpecks } from './specks.ts';
import { type Field, fieldSurface, samplingCost } from './surface.ts';
import { type Thickness, tilted } from './thickness.ts';

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
 * Gives a surface a wall: everything within its thickness there on the wanted side.
 *
 *   outward  ======      inward  ------      both  ======
 *            ------              ======            ------       ------ the surface
 *                                                  ======
 *
 * Where the surface ends the wall ends square to it. Throws GephyraError `skin.tooFine`, `skin.nothing`.
 */
export function wallOf(
  mesh: IndexedMesh,
  thickness: Thickness,
  side: WallSide,
  wantedCell?: number,
  progress: (share: number) => void = () => {},
): Walled {
  const surface = sided(mesh);
  const { least, most } = thickness;
  const cell = wantedCell ?? usualCell(least, area(mesh) * 2);
  // where the wall's middle is, and how far either side of it, as shares of its thickness
  const shift = side === 'outward' ? 0.5 : side === 'inward' ? -0.5 : 0;
  const place = noSidedPlace();
  const field: Field = {
    value(x, y, z, reach) {
      signedDistance(surface, x, y, z, most + reach, place);
      if (place.triangle < 0) return reach;
      const here = thickness.at(place.x, place.y, place.z);
      const off = Math.abs((place.rim ? place.along : place.distance) - shift * here) - here / 2;
      return place.rim ? Math.max(off, place.beyond) : off;
    },
    steep: 1 + thickness.steep,
    // halfway between two places it jumps from the thickness of one to that of the other
    tears: thickness.growth !== null || surface.openVertex.includes(1),
    jumps: () => place.rim,
    rise(x, y, z, out) {
      signedDistance(surface, x, y, z, most * 2, place);
      const here = thickness.at(place.x, place.y, place.z);
      const d = place.rim ? place.along : place.distance;
      const sign = d < shift * here ? -1 : 1;
      const off = sign * (d - shift * here) - here / 2;
      if (place.rim && place.beyond > off) {
        riseBeyond(surface, place, x, y, z, out);
        return;
      }
      riseAcross(surface, place, x, y, z, sign, out);
      tilted(thickness, place.x, place.y, place.z, -(sign * shift + 0.5), out);
    },
  };
  const out = fieldSurface(field, padded(boxOf(mesh.positions), most + cell * 2), cell, progress);
  if (out.tags.length === 0) {
    throw new GephyraError('skin.nothing', `No wall of ${most} mm came out. Choose smaller cells.`);
  }
  return { mesh: withoutSpecks(out, Math.max(cell * 3, least * 1.5)), cell };
}

/** The box with a margin on every side. The margin is odd on purpose: grid planes should not fall onto round coordinates. */
export function padded(box: Box, margin: number): Box {
  return {
    min: perAxis(box.min, (x, a) => x - margin * (1.01 + a * 0.013)),
    max: perAxis(box.max, (x) => x + margin * 1.02),
  };
}

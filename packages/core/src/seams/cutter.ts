import type { Triangulator } from '../cut/index.ts';
import type { Seam } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import { type Affine, type Box, type IndexedMesh, sizeOf } from '../mesh/index.ts';
import type { Kernel } from '../solid/index.ts';
import { flatPlanes, sinkFlats } from './flats.ts';
import { type SeamShape, seamKind } from './kinds/index.ts';
import { seamSolid } from './seam-solid.ts';

/** The solid of a seam, with the flats worked into it. */
export interface Cutter {
  /** closed, on the model; each triangle's tag is its facet */
  readonly mesh: IndexedMesh;
  readonly facets: SeamShape['facets'];
  /** flats of the seam that could not be worked into it, by their numbers */
  readonly lost: readonly number[];
}

/**
 * The solid of a seam that cuts by one. `reach` is the box of the model that it must part.
 * Throws GephyraError `seam.tangled` when a drawn line crosses itself, `seam.far` when it reaches so far from the model that the
 * kernel's numbers could not hold both.
 */
export function cutterOf(seam: Seam, map: Affine, reach: Box, fallback: Triangulator, kernel: Kernel): Cutter {
  const shape = seamKind(seam).shape!(seam, map, reach);
  const cutter = { mesh: seamSolid(shape, map, fallback), facets: shape.facets, lost: [] };
  const size = Math.hypot(...sizeOf(reach));
  const { positions: p } = cutter.mesh;
  for (let k = 0; k < p.length; k++) {
    const off = Math.max(reach.min[k % 3] - p[k], p[k] - reach.max[k % 3]);
    if (off <= FAR * size) continue;
    throw new GephyraError(
      'seam.far',
      'This seam reaches far beyond the model, so it could not be cut exactly. Bring its points or its radius nearer to the model.',
    );
  }
  const flats = flatPlanes(seam, map);
  if (flats.length === 0 || cutter.mesh.tags.length === 0) return cutter;
  const sunk = sinkFlats(
    kernel,
    cutter.mesh,
    flats.map(({ place, flat }) => ({ place, diameter: flat.diameter })),
    cutter.facets.length,
  );
  const facets = flats.map(({ plane }, i) => sunk.built[i] && { plane, place: sunk.built[i] });
  return {
    mesh: sunk.mesh,
    facets: [...cutter.facets, ...facets, null],
    lost: flats.flatMap(({ flat }, i) => (sunk.built[i] ? [] : [flat.n])),
  };
}

/** How many sizes of the model a seam's solid may reach beyond it. */
const FAR = 40;

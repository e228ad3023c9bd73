import { closedMesh, fromFrame, halve, type Triangulator, triangulate } from '../cut/index.ts';
import {
  type Affine,
  type Box,
  boxCorners,
  determinant,
  type IndexedMesh,
  type Loop2,
  mapPoint,
  turnedOver,
} from '../mesh/index.ts';
import type { BoxSolid, SeamShape, SweptSolid } from './kinds/index.ts';

/** A solid that is none. */
const NOTHING: IndexedMesh = {
  positions: new Float64Array(0),
  triangles: new Uint32Array(0),
  tags: new Uint32Array(0),
};

/** The solid that a seam's kind has described, closed, on the model; each triangle's tag is its facet. */
export function seamSolid({ solid }: SeamShape, map: Affine, fallback: Triangulator): IndexedMesh {
  if (!solid) return NOTHING;
  return solid.as === 'box' ? boxAbove(solid, map, fallback) : swept(solid, map, fallback);
}

function boxAbove({ box, above }: BoxSolid, map: Affine, fallback: Triangulator): IndexedMesh {
  const kept = halve(boxMesh(box, map), above, fallback).above;
  return kept ? closedMesh(kept, () => 0) : NOTHING;
}

/** The sides of a box by its corners, looked at from outside. */
const BOX_SIDES = [
  [0, 4, 6, 2],
  [1, 3, 7, 5],
  [0, 1, 5, 4],
  [2, 6, 7, 3],
  [0, 2, 3, 1],
  [4, 5, 7, 6],
];

/** A box of the source's coordinates on the model; side i has tag i + 1. */
export function boxMesh(box: Box, map: Affine): IndexedMesh {
  const mesh: IndexedMesh = {
    positions: Float64Array.from(boxCorners(box).flatMap((c) => mapPoint(map, c))),
    triangles: Uint32Array.from(BOX_SIDES.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])),
    tags: Uint32Array.from(BOX_SIDES.flatMap((_, i) => [i + 1, i + 1])),
  };
  return determinant(map) < 0 ? turnedOver(mesh) : mesh;
}

/** Steps of a sweep that is bent. */
const BENT_STEPS = 24;

function swept(
  { outline, facetOf, frame, extent: { low, high, radius }, bend, sideways }: SweptSolid,
  map: Affine,
  fallback: Triangulator,
): IndexedMesh {
  const rim = 0.02 * (radius + high - low);
  const steps = bend === 0 ? 1 : BENT_STEPS;
  const n = outline.length;
  const positions: number[] = [];
  for (let k = 0; k <= steps; k++) {
    const w = low - rim + ((high - low + 2 * rim) * k) / steps;
    const t = Math.min(1, Math.max(-1, (2 * (w - low)) / (high - low) - 1));
    const shift = bend * (1 - t * t);
    for (const [u, v] of outline) {
      positions.push(...mapPoint(map, fromFrame(frame, u + sideways[0] * shift, v + sideways[1] * shift, w)));
    }
  }
  const triangles: number[] = [];
  const tags: number[] = [];
  for (let k = 0; k < steps; k++) {
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n;
      const a = k * n;
      triangles.push(a + i, a + j, a + n + j, a + i, a + n + j, a + n + i);
      tags.push(facetOf[i], facetOf[i]);
    }
  }
  const flat: Loop2 = Float64Array.from(outline.flat());
  const ends = triangulate(flat, [], fallback);
  const last = Math.max(...facetOf);
  for (let i = 0; i < ends.length; i += 3) {
    triangles.push(ends[i], ends[i + 2], ends[i + 1]);
    triangles.push(steps * n + ends[i], steps * n + ends[i + 1], steps * n + ends[i + 2]);
    tags.push(last, last);
  }
  const mesh = {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: Uint32Array.from(tags),
  };
  return determinant(map) < 0 ? turnedOver(mesh) : mesh;
}

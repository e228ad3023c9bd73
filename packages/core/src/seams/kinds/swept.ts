import { type Frame, fromFrame, type Triangulator, triangulate } from '../../cut/index.ts';
import {
  type Affine,
  type Box,
  boxCorners,
  determinant,
  type IndexedMesh,
  type Loop2,
  mapPoint,
  turnedOver,
  type Vec3,
} from '../../mesh/index.ts';
import type { Point } from './seam-kind.ts';

/** How far the model reaches in a source frame: round the frame's origin in its plane, and along its normal. */
export interface Extent {
  readonly centre: readonly [number, number];
  readonly radius: number;
  readonly low: number;
  readonly high: number;
}

/** How far a box reaches; `back` leads from the model to the source. */
export function extentIn(frame: Frame, box: Box, back: Affine): Extent {
  let [u0, u1, v0, v1, low, high] = [Infinity, -Infinity, Infinity, -Infinity, Infinity, -Infinity];
  for (const corner of boxCorners(box)) {
    const d = mapPoint(back, corner).map((x, a) => x - frame.origin[a]);
    const along = (axis: Vec3): number => d[0] * axis[0] + d[1] * axis[1] + d[2] * axis[2];
    u0 = Math.min(u0, along(frame.u));
    u1 = Math.max(u1, along(frame.u));
    v0 = Math.min(v0, along(frame.v));
    v1 = Math.max(v1, along(frame.v));
    low = Math.min(low, along(frame.normal));
    high = Math.max(high, along(frame.normal));
  }
  return { centre: [(u0 + u1) / 2, (v0 + v1) / 2], radius: Math.hypot(u1 - u0, v1 - v0) / 2, low, high };
}

/** A solid that is none. */
export const NOTHING: IndexedMesh = {
  positions: new Float64Array(0),
  triangles: new Uint32Array(0),
  tags: new Uint32Array(0),
};

const BENT_STEPS = 24;

/**
 * Sweeps a counter-clockwise outline along a frame's normal, over the model's whole length and somewhat more; `bend` moves
 * the middle sideways. Side i goes from corner i to the next and has facet `facetOf[i]`; the two ends have the last facet.
 */
export function swept(
  outline: readonly Point[],
  facetOf: readonly number[],
  frame: Frame,
  map: Affine,
  { low, high, radius }: Extent,
  bend: number,
  sideways: Point,
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

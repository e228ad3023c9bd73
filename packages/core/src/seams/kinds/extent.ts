import type { Frame } from '../../cut/index.ts';
import { type Affine, type Box, boxCorners, mapPoint, type Vec3 } from '../../mesh/index.ts';
import type { Extent } from './seam-kind.ts';

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

import { type Loop2, loopArea } from '../mesh/index.ts';
import { silhouette } from '../outline/index.ts';

/** The shadow of a piece that lies on the bed: loops x y x y …, counter-clockwise outside, clockwise round holes, mm. */
export type Shadow = readonly Loop2[];

/** The silhouette of a closed mesh seen from above. Needs the kernel to be loaded. */
export const shadowOf = (mesh: { readonly positions: Float64Array; readonly triangles: Uint32Array }): Shadow =>
  silhouette(mesh);

/** A shadow turned about the origin, radians, then moved, mm. */
export function placed(shadow: Shadow, x: number, y: number, spin: number): Shadow {
  const [c, s] = [Math.cos(spin), Math.sin(spin)];
  return shadow.map((loop) =>
    loop.map((_, i) => {
      const k = i & ~1;
      return i === k ? c * loop[k] - s * loop[k + 1] + x : s * loop[k] + c * loop[k + 1] + y;
    }),
  );
}

/** Mirrored at x = 0, as mirror twins are. */
export const mirroredShadow = (shadow: Shadow): Shadow =>
  shadow.map((loop) => {
    const out = new Float64Array(loop.length);
    for (let i = 0; i < loop.length; i += 2) {
      out[loop.length - 2 - i] = -loop[i];
      out[loop.length - 1 - i] = loop[i + 1];
    }
    return out;
  });

/** mm² */
export const shadowArea = (shadow: Shadow): number => shadow.reduce((sum, loop) => sum + loopArea(loop), 0);

export interface FlatBox {
  readonly min: readonly [number, number];
  readonly max: readonly [number, number];
}

export function boxOfShadow(shadow: Shadow): FlatBox {
  const min: [number, number] = [Infinity, Infinity];
  const max: [number, number] = [-Infinity, -Infinity];
  for (const loop of shadow) {
    for (let i = 0; i < loop.length; i++) {
      if (loop[i] < min[i % 2]) min[i % 2] = loop[i];
      if (loop[i] > max[i % 2]) max[i % 2] = loop[i];
    }
  }
  return { min, max };
}

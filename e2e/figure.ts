import type { Kernel } from '../packages/core/src/solid/index.ts';

/** A figure of four limbs, some 500 mm wide and 450 tall, closed. */
export function limbedFigure({ Manifold }: Kernel): { positions: Float64Array; triangles: Uint32Array } {
  const limb = (x: number, y: number, z: number) =>
    Manifold.hull([Manifold.sphere(40, 16), Manifold.sphere(26, 16).translate([x, y, z])]);
  const { vertProperties, triVerts } = Manifold.union([
    limb(-210, 40, 90),
    limb(210, -30, 120),
    limb(-70, 0, -230),
    limb(80, 20, -230),
  ]).getMesh();
  return { positions: Float64Array.from(vertProperties), triangles: triVerts };
}

import type { IndexedMesh } from '../src/mesh/index.ts';
import { kernel, meshOfSolid } from './judges.ts';

/** A cup: a round shell with walls of `wall` mm, open at the top, 80 mm in radius unless it is said. */
export function cup(wall: number, radius = 80, corners = 96): IndexedMesh {
  const shell = kernel.Manifold.sphere(radius, corners).subtract(kernel.Manifold.sphere(radius - wall, corners));
  return meshOfSolid(shell.trimByPlane([0, 0, -1], -radius / 2));
}

/** A box without a lid, its corners sharp: few and large triangles. */
export function tray(wall: number): IndexedMesh {
  const outer = kernel.Manifold.cube([120, 90, 100], true);
  const inner = kernel.Manifold.cube([120 - 2 * wall, 90 - 2 * wall, 100], true).translate([0, 0, wall]);
  return meshOfSolid(outer.subtract(inner));
}

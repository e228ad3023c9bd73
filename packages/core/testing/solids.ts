import type { IndexedMesh } from '../src/mesh/index.ts';
import { kernel, meshOfSolid } from './judges.ts';

type Manifold = InstanceType<typeof kernel.Manifold>;

const block = (size: [number, number, number], at: [number, number, number]): Manifold =>
  kernel.Manifold.cube(size).translate(at);

/** Simple solids whose overhangs are known by arithmetic; all stand on z = 0, mm. */
export const SOLIDS = {
  /** on its point */
  cone: (radius: number, height: number): IndexedMesh =>
    meshOfSolid(kernel.Manifold.cylinder(height, 0.001, radius, 720)),
  sphere: (radius: number): IndexedMesh => meshOfSolid(kernel.Manifold.sphere(radius, 256).translate([0, 0, radius])),
  /** a post of 10 × 10 × 30 under a beam of 50 × 10 × 10 */
  tee: (): IndexedMesh => meshOfSolid(block([10, 10, 30], [20, 0, 0]).add(block([50, 10, 10], [0, 0, 30]))),
  /** two piers of 10 × 20 × 25 under a deck of 60 × 20 × 5 */
  bridge: (): IndexedMesh =>
    meshOfSolid(
      block([10, 20, 25], [0, 0, 0])
        .add(block([10, 20, 25], [50, 0, 0]))
        .add(block([60, 20, 5], [0, 0, 25])),
    ),
  /** a plate of 60 × 40 × 4 on four legs of 6 × 6 × 36 */
  table: (): IndexedMesh =>
    meshOfSolid(
      [0, 54].reduce(
        (all, x) => [0, 34].reduce((sum, y) => sum.add(block([6, 6, 36], [x, y, 0])), all),
        block([60, 40, 4], [0, 0, 36]),
      ),
    ),
  /** a shelf of 30 × 20 × 4 at a height of 20, on a wall of 4 × 20 × 40 that stands on a foot of 34 × 20 × 5 */
  shelf: (): IndexedMesh =>
    meshOfSolid(
      block([34, 20, 5], [0, 0, 0])
        .add(block([4, 20, 40], [0, 0, 0]))
        .add(block([34, 20, 4], [0, 0, 20])),
    ),
  cube: (side: number): IndexedMesh => meshOfSolid(block([side, side, side], [0, 0, 0])),
  tube: (outer: number, inner: number, height: number): IndexedMesh =>
    meshOfSolid(
      kernel.Manifold.cylinder(height, outer, outer, 720).subtract(
        kernel.Manifold.cylinder(height + 2, inner, inner, 720).translate([0, 0, -1]),
      ),
    ),
} as const;

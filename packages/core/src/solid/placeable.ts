import type { Affine, IndexedMesh, Vec3 } from '../mesh/index.ts';
import { type Kernel, toKernel } from './kernel.ts';

/** A solid that the kernel keeps, to be tried in one place after the other. Whoever made it deletes it. */
export class Placeable {
  private readonly solid: ReturnType<typeof toKernel>;

  constructor(
    private readonly kernel: Kernel,
    mesh: Pick<IndexedMesh, 'positions' | 'triangles'> | ReturnType<typeof toKernel>,
  ) {
    this.solid = 'positions' in mesh ? toKernel(kernel, mesh) : mesh;
  }

  /** What of it lies in a ball, mm. */
  within(centre: Vec3, radius: number): Placeable {
    const ball = this.kernel.Manifold.sphere(radius, 48);
    const there = ball.translate([...centre]);
    const part = this.solid.intersect(there);
    ball.delete();
    there.delete();
    return new Placeable(this.kernel, part);
  }

  /** How much of it is in another that a map has moved, mm³. */
  overlap(other: Placeable, map: Affine): number {
    const moved = other.solid.transform([
      ...[0, 1, 2, 3].flatMap((c) => [map[c], map[4 + c], map[8 + c], c === 3 ? 1 : 0]),
    ] as Parameters<typeof other.solid.transform>[0]);
    const both = this.solid.intersect(moved);
    const volume = both.volume();
    both.delete();
    moved.delete();
    return volume;
  }

  delete(): void {
    this.solid.delete();
  }
}

import { GephyraError } from '../errors.ts';
import type { IndexedMesh } from '../mesh/index.ts';
import type { Kernel } from './kernel.ts';
import { fromKernel, toTagged } from './tagged.ts';

/** What of a solid lies inside a cutter, and what outside, each closed; empty meshes where there is nothing. */
export interface Carved {
  readonly inside: IndexedMesh;
  readonly outside: IndexedMesh;
}

/**
 * Parts a closed mesh by another with the kernel. Triangles keep their tags; those of the cutter get theirs plus `offset`.
 * Float32 in and out.
 *
 * Throws GephyraError `solid.refused` when the kernel takes one of the two for no solid.
 */
export function carve(kernel: Kernel, mesh: IndexedMesh, cutter: IndexedMesh, offset: number): Carved {
  const body = toTagged(kernel, mesh);
  const knife = toTagged(kernel, { ...cutter, tags: cutter.tags.map((t) => t + offset) });
  const tags = new Map([...body.tags, ...knife.tags]);
  try {
    for (const { solid } of [body, knife]) {
      const status = String(solid.status());
      if (status !== 'NoError') throw new GephyraError('solid.refused', `The solid kernel refuses it: ${status}.`);
    }
    const inside = body.solid.intersect(knife.solid);
    const outside = body.solid.subtract(knife.solid);
    const out = { inside: fromKernel(inside, tags), outside: fromKernel(outside, tags) };
    inside.delete();
    outside.delete();
    return out;
  } finally {
    body.solid.delete();
    knife.solid.delete();
  }
}

import { GephyraError } from '../errors.ts';
import { type IndexedMesh, topology, volume } from '../mesh/index.ts';
import type { Kernel } from './kernel.ts';
import { agrees, fromKernel, refusal, toTagged } from './tagged.ts';

/** What of a solid lies inside a cutter, and what outside, each closed; empty meshes where there is nothing. */
export interface Carved {
  readonly inside: IndexedMesh;
  readonly outside: IndexedMesh;
}

const closed = (mesh: IndexedMesh): boolean => mesh.tags.length === 0 || topology(mesh).watertight;

/**
 * Parts a closed mesh by another with the kernel. Triangles keep their tags; those of the cutter get theirs plus `offset`.
 * Float32 in and out.
 *
 * Throws GephyraError `solid.refused` when the kernel takes one of the two for no solid, or when what comes out is not as much
 * as what went in.
 */
export function carve(kernel: Kernel, mesh: IndexedMesh, cutter: IndexedMesh, offset: number): Carved {
  const body = toTagged(kernel, mesh);
  const knife = toTagged(kernel, { ...cutter, tags: cutter.tags.map((t) => t + offset) });
  const tags = new Map([...body.tags, ...knife.tags]);
  try {
    for (const { solid } of [body, knife]) {
      const status = String(solid.status());
      if (status !== 'NoError') throw refusal(status);
    }
    const [inside, outside] = body.solid.split(knife.solid);
    const out = { inside: fromKernel(inside, tags), outside: fromKernel(outside, tags) };
    inside.delete();
    outside.delete();
    const before = volume(mesh);
    const after = volume(out.inside) + volume(out.outside);
    if (!agrees(after, before, before) || !closed(out.inside) || !closed(out.outside)) {
      throw new GephyraError(
        'solid.refused',
        `The solid kernel cannot cut cleanly here: of ${(before / 1000).toPrecision(6)} cm³ it leaves ${(after / 1000).toPrecision(6)}. Move or turn the seam a little.`,
      );
    }
    return out;
  } finally {
    body.solid.delete();
    knife.solid.delete();
  }
}

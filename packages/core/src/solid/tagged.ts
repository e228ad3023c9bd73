import { GephyraError } from '../errors.ts';
import type { IndexedMesh } from '../mesh/index.ts';
import type { Kernel } from './kernel.ts';

export type Solid = InstanceType<Kernel['Manifold']>;

/** Share of a volume that rounding to float32 may take or add, and what may go of the smallest solids, mm³. */
const LOST = 1e-5;
const SPECK = 1e-3;

/** Whether a volume is what it should be, but for what the kernel's rounding takes or adds to one of `whole`, mm³. */
export const agrees = (found: number, wanted: number, whole: number): boolean =>
  Math.abs(found - wanted) <= LOST * whole + SPECK;

/** What is said of a mesh that the kernel takes for no solid. */
export const refusal = (status: string): GephyraError =>
  new GephyraError(
    'solid.refused',
    `Rounded as the solid kernel needs it, a body is no solid (${status}). Mend it, or move the seam a little.`,
  );

/** A solid of the kernel that remembers which tag each part of its surface had. */
export interface Tagged {
  readonly solid: Solid;
  /** the tag for each id that the kernel keeps for a run of triangles */
  readonly tags: ReadonlyMap<number, number>;
}

/** What the kernel says of a mesh as a solid: NoError, or why it does not take it. */
export function kernelStatus(kernel: Kernel, mesh: IndexedMesh): string {
  try {
    const { solid } = toTagged(kernel, mesh);
    const status = String(solid.status());
    solid.delete();
    return status;
  } catch {
    return 'NotManifold';
  }
}

/**
 * Gives a closed mesh to the kernel (float32), triangles sorted by tag into runs. The caller deletes the solid. What hangs
 * together is told by the vertices' numbers alone: places where a solid touches itself stay apart.
 * Throws GephyraError `solid.refused` when the kernel takes it for no solid.
 */
export function toTagged(kernel: Kernel, mesh: IndexedMesh): Tagged {
  const { positions: p, triangles: t, tags } = mesh;
  const present = [...new Set(tags)].sort((a, b) => a - b);
  const byTag = new Map(present.map((tag) => [tag, [] as number[]]));
  for (let i = 0; i < tags.length; i++) byTag.get(tags[i])!.push(t[i * 3], t[i * 3 + 1], t[i * 3 + 2]);
  const first = kernel.Manifold.reserveIDs(present.length);
  const runs = [0];
  const vertices: number[][] = [];
  for (const tag of present) {
    vertices.push(byTag.get(tag)!);
    runs.push(runs[runs.length - 1] + byTag.get(tag)!.length);
  }
  const triVerts = new Uint32Array(runs[runs.length - 1]);
  vertices.forEach((list, k) => {
    triVerts.set(list, runs[k]);
  });
  let solid: Solid;
  try {
    solid = new kernel.Manifold(
      new kernel.Mesh({
        numProp: 3,
        vertProperties: Float32Array.from(p),
        triVerts,
        runIndex: Uint32Array.from(runs),
        runOriginalID: Uint32Array.from(present, (_, k) => first + k),
      }),
    );
  } catch {
    throw refusal('NotManifold');
  }
  return { solid, tags: new Map(present.map((tag, k) => [first + k, tag])) };
}

/** A solid of the kernel as a mesh; runs that `tags` does not know get tag 0. */
export function fromKernel(solid: Solid, tags: ReadonlyMap<number, number>): IndexedMesh {
  const out = solid.getMesh();
  const outTags = new Uint32Array(out.triVerts.length / 3);
  for (let r = 0; r + 1 < out.runIndex.length; r++) {
    outTags.fill(tags.get(out.runOriginalID[r]) ?? 0, out.runIndex[r] / 3, out.runIndex[r + 1] / 3);
  }
  const stride = out.numProp;
  const positions = new Float64Array((out.vertProperties.length / stride) * 3);
  for (let v = 0; v * stride < out.vertProperties.length; v++) {
    for (let a = 0; a < 3; a++) positions[v * 3 + a] = out.vertProperties[v * stride + a];
  }
  return { positions, triangles: Uint32Array.from(out.triVerts), tags: outTags };
}

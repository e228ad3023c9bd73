import { type IndexedMesh, topology, volume } from '../src/mesh/index.ts';
import { type Kernel, kernelTriangulator, loadKernel, toKernel } from '../src/solid/index.ts';

export const kernel: Kernel = await loadKernel();
export const fallback = kernelTriangulator(kernel);

/** What an independent judge says of a solid: the CSG kernel's status, and its volume (float32, mm³). */
export function judge(mesh: IndexedMesh): { status: string; volume: number; closed: boolean } {
  const solid = toKernel(kernel, mesh);
  const out = {
    status: String(solid.status()),
    volume: solid.volume(),
    closed: topology(mesh).watertight,
  };
  solid.delete();
  return out;
}

/** Sum of the float64 volumes. */
export const total = (meshes: readonly IndexedMesh[]): number => meshes.reduce((sum, m) => sum + volume(m), 0);

/** Thickness of a mesh along a direction, mm. */
export function thickness(mesh: IndexedMesh, [x, y, z]: readonly number[]): number {
  let low = Infinity;
  let high = -Infinity;
  for (let k = 0; k < mesh.positions.length; k += 3) {
    const d = x * mesh.positions[k] + y * mesh.positions[k + 1] + z * mesh.positions[k + 2];
    low = Math.min(low, d);
    high = Math.max(high, d);
  }
  return high - low;
}

/** A solid of the kernel as a mesh without tags. */
export function meshOfSolid(solid: InstanceType<Kernel['Manifold']>): IndexedMesh {
  const { vertProperties, triVerts } = solid.getMesh();
  return {
    positions: Float64Array.from(vertProperties),
    triangles: Uint32Array.from(triVerts),
    tags: new Uint32Array(triVerts.length / 3),
  };
}

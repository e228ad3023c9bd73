import type { IndexedMesh } from './types.ts';

/** The mesh, every coordinate times `factor` (more than 0). Factor 1 gives the mesh itself. */
export function scaled(mesh: IndexedMesh, factor: number): IndexedMesh {
  if (factor === 1) return mesh;
  return { ...mesh, positions: mesh.positions.map((x) => x * factor) };
}

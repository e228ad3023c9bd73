import { bounds, type IndexedMesh, shells, sizeOf, splitBy, subset } from '../mesh/index.ts';

/** The mesh without shells smaller than `size` mm: crumbs that sampling leaves at creases. The largest always stays. */
export function withoutSpecks(mesh: IndexedMesh, size: number): IndexedMesh {
  const found = shells(mesh);
  if (found.count < 2) return mesh;
  const extents = splitBy(mesh, found.ofTriangle, found.count).map((m) => Math.hypot(...sizeOf(bounds(m.positions))));
  const most = Math.max(...extents);
  const kept: number[] = [];
  for (let i = 0; i < mesh.tags.length; i++) {
    const extent = extents[found.ofTriangle[i]];
    if (extent >= size || extent === most) kept.push(i);
  }
  return subset(mesh, kept);
}

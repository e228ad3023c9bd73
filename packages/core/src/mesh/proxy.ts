import { bounds } from './measure.ts';
import type { IndexedMesh } from './types.ts';
import { compact } from './weld.ts';

/**
 * A lighter stand-in of a mesh for drawing: vertices in the same cell of a grid fall together (Rossignac and Borrel,
 * "Multi-resolution 3D approximations", 1993). The grid is made coarser until at most `most` triangles are left. Only
 * for the eye: it need not be closed.
 */
export function proxy(mesh: IndexedMesh, most: number): IndexedMesh {
  let result = mesh;
  const box = bounds(mesh.positions);
  const span = Math.max(box.max[0] - box.min[0], box.max[1] - box.min[1], box.max[2] - box.min[2]) || 1;
  for (let cells = 220; result.tags.length > most && cells > 8; cells = Math.floor(cells * 0.8)) {
    result = clustered(mesh, box.min, span / cells);
  }
  return result;
}

function clustered(mesh: IndexedMesh, [x0, y0, z0]: readonly number[], cell: number): IndexedMesh {
  const p = mesh.positions;
  const n = p.length / 3;
  const home = new Map<number, number>();
  const target = new Uint32Array(n);
  for (let v = 0; v < n; v++) {
    const i = Math.floor((p[v * 3] - x0) / cell);
    const j = Math.floor((p[v * 3 + 1] - y0) / cell);
    const k = Math.floor((p[v * 3 + 2] - z0) / cell);
    const key = (i * 1024 + j) * 1024 + k;
    const known = home.get(key);
    if (known === undefined) home.set(key, v);
    target[v] = known ?? v;
  }
  return compact(mesh, target);
}

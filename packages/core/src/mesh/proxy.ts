import { bounds } from './measure.ts';
import type { IndexedMesh, Vec3 } from './types.ts';
import { compact } from './weld.ts';

/**
 * A lighter stand-in of a mesh for drawing, of at most about `most` triangles: vertices in the same cell of a grid fall
 * together (Rossignac and Borrel, "Multi-resolution 3D approximations", 1993). Only for the eye: it need not be closed.
 */
export const proxy = (mesh: IndexedMesh, most: number): IndexedMesh => lightened(mesh, most)?.light ?? mesh;

/** A grid of cubes: where it begins, and the length of their edges, mm. */
export interface Cells {
  readonly from: Vec3;
  readonly cell: number;
}

const TRIES = 6;

/** The finest cells in which a mesh is left with at most `most` triangles, about; null where it has no more as it is. */
export const cellsFor = (mesh: IndexedMesh, most: number): Cells | null => lightened(mesh, most)?.cells ?? null;

function lightened(mesh: IndexedMesh, most: number): { cells: Cells; light: IndexedMesh } | null {
  if (mesh.tags.length <= most) return null;
  const { min, max } = bounds(mesh.positions);
  const span = Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]) || 1;
  // a surface of a cube's kind leaves some twelve triangles a cell of one of its sides
  let cell = span / Math.sqrt(most / 12);
  let best: { cells: Cells; light: IndexedMesh } | null = null;
  for (let k = 0; k < TRIES || (best === null && cell < span); k++) {
    const cells = { from: min, cell };
    const light = clustered(mesh, cells);
    const left = light.tags.length;
    if (left <= most && (best === null || cell < best.cells.cell)) best = { cells, light };
    if (left <= most && left > 0.75 * most) break;
    // triangles go with the square of the cells, until the mesh itself is no finer
    cell *= Math.min(2, Math.max(0.5, Math.sqrt(left / (0.88 * most))));
  }
  return best;
}

/**
 * A mesh whose vertices in the same cell fall together, but for those that are `kept`: the rim that other surfaces lie on.
 * Only for the eye.
 */
export function clustered(mesh: IndexedMesh, { from: [x0, y0, z0], cell }: Cells, kept?: Uint8Array): IndexedMesh {
  const p = mesh.positions;
  const n = p.length / 3;
  // open addressing: cells by their hash, each with its first vertex
  const size = 2 ** Math.ceil(Math.log2(n * 2 + 16));
  const slots = new Int32Array(size).fill(-1);
  const cellOf = new Int32Array(n * 3);
  const target = new Uint32Array(n);
  for (let v = 0; v < n; v++) {
    target[v] = v;
    if (kept?.[v]) continue;
    const i = Math.floor((p[v * 3] - x0) / cell);
    const j = Math.floor((p[v * 3 + 1] - y0) / cell);
    const k = Math.floor((p[v * 3 + 2] - z0) / cell);
    cellOf[v * 3] = i;
    cellOf[v * 3 + 1] = j;
    cellOf[v * 3 + 2] = k;
    let at = (Math.imul(i, 73856093) ^ Math.imul(j, 19349663) ^ Math.imul(k, 83492791)) & (size - 1);
    for (;;) {
      const first = slots[at];
      if (first < 0) {
        slots[at] = v;
        break;
      }
      if (cellOf[first * 3] === i && cellOf[first * 3 + 1] === j && cellOf[first * 3 + 2] === k) {
        target[v] = first;
        break;
      }
      at = (at + 1) & (size - 1);
    }
  }
  return compact(mesh, target);
}

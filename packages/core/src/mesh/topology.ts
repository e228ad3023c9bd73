import { halfEdges, nextHalf, OPEN } from './halfedges.ts';
import type { IndexedMesh } from './types.ts';
import { find, unite } from './weld.ts';

/** How the triangles of a mesh meet along their edges. */
export interface Topology {
  /** Each directed edge occurs once and its opposite once. */
  readonly watertight: boolean;
  /** Undirected edges with one triangle. */
  readonly openEdges: number;
  /** Undirected edges with more than two triangles. */
  readonly nonManifoldEdges: number;
  /** Undirected edges whose two triangles run along it in the same direction. */
  readonly inconsistentEdges: number;
  /** Ends of the open edges, two vertex indices each, of at most 20 000 edges. */
  readonly openEdgeVertices: Uint32Array;
}

const OPEN_LIMIT = 20_000;

/** Counts the edges of a mesh by how their triangles meet. */
export function topology(mesh: Pick<IndexedMesh, 'triangles'>): Topology {
  const { triangles: t } = mesh;
  const { twin, openCount, crowded, sameWay } = halfEdges(mesh);
  const open = new Uint32Array(Math.min(openCount, OPEN_LIMIT) * 2);
  for (let h = 0, k = 0; h < twin.length && k < open.length; h++) {
    if (twin[h] !== OPEN) continue;
    open[k++] = t[h];
    open[k++] = t[nextHalf(h)];
  }
  return {
    watertight: t.length > 0 && openCount + crowded.length + sameWay === 0,
    openEdges: openCount,
    nonManifoldEdges: crowded.length,
    inconsistentEdges: sameWay,
    openEdgeVertices: open,
  };
}

/** The connected shells of a mesh: triangles that share vertices. */
export interface Shells {
  readonly count: number;
  /** the shell of each triangle, numbered by first appearance */
  readonly ofTriangle: Uint32Array;
}

/** Finds the connected shells by union-find over shared vertices. */
export function shells(mesh: IndexedMesh): Shells {
  const { triangles } = mesh;
  const n = mesh.positions.length / 3;
  const parent = new Uint32Array(n);
  for (let v = 0; v < n; v++) parent[v] = v;
  for (let i = 0; i < triangles.length; i += 3) {
    unite(parent, triangles[i], triangles[i + 1]);
    unite(parent, triangles[i], triangles[i + 2]);
  }
  const number = new Int32Array(n).fill(-1);
  const ofTriangle = new Uint32Array(triangles.length / 3);
  let count = 0;
  for (let t = 0; t < ofTriangle.length; t++) {
    const r = find(parent, triangles[t * 3]);
    if (number[r] < 0) number[r] = count++;
    ofTriangle[t] = number[r];
  }
  return { count, ofTriangle };
}

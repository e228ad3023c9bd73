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
  /** Ends of the open edges, two vertex indices each, at most `openLimit` of them. */
  readonly openEdgeVertices: Uint32Array;
}

const OPEN_LIMIT = 20_000;

/**
 * Counts edge uses with one open-addressing table over undirected edges.
 *
 * Layout of the table: key = (low vertex, high vertex); uses forward (low to high) and backward counted apart.
 */
export function topology(mesh: Pick<IndexedMesh, 'triangles'>): Topology {
  const { triangles } = mesh;
  const n = triangles.length;
  let capacity = 16;
  while (capacity < n) capacity *= 2;
  const mask = capacity - 1;
  const low = new Int32Array(capacity).fill(-1);
  const high = new Int32Array(capacity);
  const uses = new Uint16Array(capacity * 2);
  for (let i = 0; i < n; i += 3) {
    for (let e = 0; e < 3; e++) {
      const a = triangles[i + e];
      const b = triangles[e === 2 ? i : i + e + 1];
      const lo = a < b ? a : b;
      const hi = a < b ? b : a;
      let h = (Math.imul(lo, 0x9e3779b1) ^ Math.imul(hi, 0x85ebca77)) >>> 0;
      h = (h ^ (h >>> 15)) & mask;
      while (low[h] >= 0 && (low[h] !== lo || high[h] !== hi)) h = (h + 1) & mask;
      low[h] = lo;
      high[h] = hi;
      uses[h * 2 + (a < b ? 0 : 1)]++;
    }
  }
  let openEdges = 0;
  let nonManifoldEdges = 0;
  let inconsistentEdges = 0;
  const open: number[] = [];
  for (let h = 0; h < capacity; h++) {
    if (low[h] < 0) continue;
    const f = uses[h * 2];
    const b = uses[h * 2 + 1];
    if (f === 1 && b === 1) continue;
    if (f + b === 1) {
      openEdges++;
      if (open.length < OPEN_LIMIT * 2) open.push(low[h], high[h]);
    } else if (f + b === 2) inconsistentEdges++;
    else nonManifoldEdges++;
  }
  return {
    watertight: n > 0 && openEdges + nonManifoldEdges + inconsistentEdges === 0,
    openEdges,
    nonManifoldEdges,
    inconsistentEdges,
    openEdgeVertices: Uint32Array.from(open),
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

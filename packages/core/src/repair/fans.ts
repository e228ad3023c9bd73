import { find, type HalfEdges, type IndexedMesh, nextHalf, unite } from '../mesh/index.ts';

/**
 * Groups the corners of triangles that are joined round their vertex: the root of each corner's group. A vertex with more
 * than one group is one at which surfaces only touch.
 */
export function cornerFans({ triangles: t }: Pick<IndexedMesh, 'triangles'>, { twin }: HalfEdges): Uint32Array {
  const parent = new Uint32Array(t.length);
  for (let i = 0; i < parent.length; i++) parent[i] = i;
  for (let h = 0; h < t.length; h++) {
    const g = twin[h];
    if (g < h) continue;
    const sameWay = t[g] === t[h];
    unite(parent, h, sameWay ? g : nextHalf(g));
    unite(parent, nextHalf(h), sameWay ? nextHalf(g) : g);
  }
  for (let i = 0; i < parent.length; i++) parent[i] = find(parent, i);
  return parent;
}

/** Vertices at which more than one group of triangles meets. */
export function touchingVertices(mesh: IndexedMesh, fans: Uint32Array): number[] {
  const first = new Int32Array(mesh.positions.length / 3).fill(-1);
  const found = new Set<number>();
  for (let i = 0; i < fans.length; i++) {
    const v = mesh.triangles[i];
    if (first[v] < 0) first[v] = fans[i];
    else if (first[v] !== fans[i]) found.add(v);
  }
  return [...found];
}

/** Gives every group of corners a vertex of its own; returns the mesh itself when nothing touches. */
export function splitFans(mesh: IndexedMesh, fans: Uint32Array): { mesh: IndexedMesh; split: number } {
  const { positions: p, triangles: t } = mesh;
  const first = new Int32Array(p.length / 3).fill(-1);
  const copy = new Map<number, number>();
  const extra: number[] = [];
  const triangles = t.slice();
  for (let i = 0; i < t.length; i++) {
    const v = t[i];
    if (first[v] < 0) first[v] = fans[i];
    if (first[v] === fans[i]) continue;
    let w = copy.get(fans[i]);
    if (w === undefined) {
      w = p.length / 3 + extra.length / 3;
      extra.push(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
      copy.set(fans[i], w);
    }
    triangles[i] = w;
  }
  if (copy.size === 0) return { mesh, split: 0 };
  const positions = new Float64Array(p.length + extra.length);
  positions.set(p);
  positions.set(extra, p.length);
  return { mesh: { ...mesh, positions, triangles }, split: copy.size };
}

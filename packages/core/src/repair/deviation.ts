import { buildTree, type IndexedMesh, nearest, noPlace } from '../mesh/index.ts';

/**
 * The greatest distance between two surfaces, both ways, mm: from vertices and middles of triangles of each to the other
 * (at most about `samples` of each). An estimate from below, as every sampled one.
 */
export function twoSidedDistance(a: IndexedMesh, b: IndexedMesh, samples = 60_000): number {
  if (a.tags.length === 0 || b.tags.length === 0) return a.tags.length === b.tags.length ? 0 : Infinity;
  return Math.max(oneSidedDistance(a, b, samples), oneSidedDistance(b, a, samples));
}

/** The greatest distance from points of `from` to the surface `to`, mm. */
export function oneSidedDistance(from: IndexedMesh, to: IndexedMesh, samples = 60_000): number {
  const tree = buildTree(to);
  const { positions: p, triangles: t, tags } = from;
  const out = noPlace();
  let worst = 0;
  const probe = (x: number, y: number, z: number): void => {
    nearest(tree, x, y, z, Infinity, out);
    if (out.squared > worst) worst = out.squared;
  };
  const vertices = p.length / 3;
  const stepV = Math.max(1, Math.ceil((vertices * 2) / samples));
  for (let v = 0; v < vertices; v += stepV) probe(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]);
  const stepT = Math.max(1, Math.ceil((tags.length * 2) / samples));
  for (let i = 0; i < tags.length; i += stepT) {
    const a = t[i * 3] * 3;
    const b = t[i * 3 + 1] * 3;
    const c = t[i * 3 + 2] * 3;
    probe((p[a] + p[b] + p[c]) / 3, (p[a + 1] + p[b + 1] + p[c + 1]) / 3, (p[a + 2] + p[b + 2] + p[c + 2]) / 3);
  }
  return Math.sqrt(worst);
}

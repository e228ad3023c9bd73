import { halfEdges, type IndexedMesh, nextHalf, subset, three, vecOf } from '../mesh/index.ts';
import { flatTriangles } from './diagnose.ts';
import { duplicateTriangles } from './duplicates.ts';

/** Drops triangles that another one repeats, and both of two that lie back to back. */
export function dropDuplicates(mesh: IndexedMesh): { mesh: IndexedMesh; dropped: number } {
  const { drop, same, backToBack } = duplicateTriangles(mesh);
  const dropped = same + backToBack * 2;
  return dropped === 0 ? { mesh, dropped } : { mesh: without(mesh, drop), dropped };
}

/** The mesh without the marked triangles. */
export function without(mesh: IndexedMesh, drop: Uint8Array): IndexedMesh {
  const kept: number[] = [];
  for (let i = 0; i < drop.length; i++) if (!drop[i]) kept.push(i);
  return subset(mesh, kept);
}

/**
 * Takes away triangles lower than `height` mm without opening the surface:
 *
 *   a-----b-----c       a-----b-----c
 *    \  flat   /   ->    \   / \   /      the flat one and its neighbour below the long side swap their diagonal
 *     \       /           \ /   \ /
 *      ---d---              --d--
 *
 * Needles (with one short side) go by welding that side. What has no neighbour on its long side is dropped.
 */
export function dropFlat(mesh: IndexedMesh, height: number): { mesh: IndexedMesh; dropped: number } {
  let current = mesh;
  let dropped = 0;
  for (let round = 0; round < 6; round++) {
    const flat = flatTriangles(current, height);
    if (flat.length === 0) break;
    const next = removeFlat(current, flat, height);
    if (next === current) break;
    dropped += flat.length;
    current = next;
  }
  return { mesh: current, dropped };
}

function removeFlat(mesh: IndexedMesh, flat: readonly number[], height: number): IndexedMesh {
  const { twin } = halfEdges(mesh);
  const { positions: p } = mesh;
  const t = mesh.triangles.slice();
  const drop = new Uint8Array(mesh.tags.length);
  const touched = new Uint8Array(mesh.tags.length);
  const target = new Uint32Array(p.length / 3);
  for (let v = 0; v < target.length; v++) target[v] = v;
  const neighbours = neighboursOf(mesh, flat, twin);
  const length = (u: number, v: number): number =>
    Math.hypot(p[u * 3] - p[v * 3], p[u * 3 + 1] - p[v * 3 + 1], p[u * 3 + 2] - p[v * 3 + 2]);
  let changed = false;
  const moved = new Set<number>();
  for (const i of flat) {
    if (touched[i]) continue;
    const sides = vecOf((k) => length(t[i * 3 + k], t[i * 3 + ((k + 1) % 3)]));
    const short = sides.indexOf(Math.min(...sides));
    const long = sides.indexOf(Math.max(...sides));
    const u = t[i * 3 + short];
    const v = t[i * 3 + ((short + 1) % 3)];
    if (sides[short] <= height * 2 || sides[short] < sides[long] * 1e-3) {
      // a needle: its short side becomes a point, unless a neighbour has been moved already
      if (moved.has(u) || moved.has(v) || commonNeighbours(neighbours, u, v) > 2) continue;
      target[v] = u;
      moved.add(u).add(v);
      for (const w of [...(neighbours.get(u) ?? []), ...(neighbours.get(v) ?? [])]) moved.add(w);
      changed = true;
      continue;
    }
    const h = i * 3 + long;
    const g = twin[h];
    if (g === -1) {
      drop[i] = 1;
      touched[i] = 1;
      changed = true;
      continue;
    }
    if (g < 0 || t[g] === t[h]) continue;
    const j = Math.floor(g / 3);
    const [a, c] = [t[h], t[nextHalf(h)]];
    const b = t[nextHalf(nextHalf(h))];
    const d = t[nextHalf(nextHalf(g))];
    if (touched[j] || b === d || neighbours.get(b)?.has(d) || [a, b, c, d].some((x) => moved.has(x))) continue;
    t.set([a, d, b], i * 3);
    t.set([d, c, b], j * 3);
    for (const k of [i, j]) touched[k] = 1;
    for (const x of [a, b, c, d]) moved.add(x);
    changed = true;
  }
  if (!changed) return mesh;
  const kept: number[] = [];
  for (let i = 0; i < drop.length; i++) {
    if (drop[i]) continue;
    const [a, b, c] = three((k) => target[t[i * 3 + k]]);
    if (a === b || b === c || c === a) continue;
    t.set([a, b, c], i * 3);
    kept.push(i);
  }
  return subset({ ...mesh, triangles: t }, kept);
}

/** The vertices joined by an edge to those of the given triangles and their neighbours. */
function neighboursOf(
  { triangles: t }: IndexedMesh,
  near: readonly number[],
  twin: Int32Array,
): Map<number, Set<number>> {
  const out = new Map<number, Set<number>>();
  for (const i of near) {
    for (let h = i * 3; h < i * 3 + 3; h++) {
      out.set(t[h], new Set());
      if (twin[h] >= 0) out.set(t[nextHalf(nextHalf(twin[h]))], new Set());
    }
  }
  for (let h = 0; h < t.length; h++) {
    const a = t[h];
    const b = t[nextHalf(h)];
    out.get(a)?.add(b);
    out.get(b)?.add(a);
  }
  return out;
}

function commonNeighbours(neighbours: Map<number, Set<number>>, u: number, v: number): number {
  let n = 0;
  for (const w of neighbours.get(u) ?? []) if (neighbours.get(v)?.has(w)) n++;
  return n;
}

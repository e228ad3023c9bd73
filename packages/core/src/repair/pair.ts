import { cross, dot, find, type IndexedMesh, sub, topology, unite, type Vec3 } from '../mesh/index.ts';

/** What pairing changed. */
export interface Paired {
  readonly mesh: IndexedMesh;
  /** edges of four or more triangles that were taken apart */
  readonly edgesSplit: number;
}

/**
 * Takes solids apart that only touch along an edge (four or more triangles on it, as many each way).
 *
 *      \ A /            each triangle is paired with the neighbour that encloses solid with it: turning round the
 *       \ /             edge, the pair has the solid between them; then every corner keeps the vertex of those it is
 *   ---- o ----   ->    still joined to, and others get a copy of it
 *       / \
 *      / B \
 *
 * Meshes without such edges come back as they are; edges with unequal counts are left alone.
 */
export function pairEdges(mesh: IndexedMesh): Paired {
  const { positions: p, triangles: t } = mesh;
  if (topology(mesh).nonManifoldEdges === 0) return { mesh, edgesSplit: 0 };
  const edges = new Map<string, number[]>();
  for (let i = 0; i < t.length; i++) {
    const a = t[i];
    const b = t[i % 3 === 2 ? i - 2 : i + 1];
    const key = a < b ? `${a},${b}` : `${b},${a}`;
    const list = edges.get(key);
    if (list) list.push(i);
    else edges.set(key, [i]);
  }
  const at = (v: number): Vec3 => [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];
  const nextCorner = (i: number): number => (i % 3 === 2 ? i - 2 : i + 1);
  const corner = new Uint32Array(t.length);
  for (let i = 0; i < corner.length; i++) corner[i] = i;
  const join = (i: number, j: number): void => {
    // half-edge i runs the other way than half-edge j: start of one is end of the other
    unite(corner, i, nextCorner(j));
    unite(corner, nextCorner(i), j);
  };
  let edgesSplit = 0;
  for (const list of edges.values()) {
    if (list.length === 1) continue;
    const lo = Math.min(t[list[0]], t[nextCorner(list[0])]);
    const forward = list.filter((i) => t[i] === lo);
    const backward = list.filter((i) => t[i] !== lo);
    if (forward.length !== backward.length) {
      for (let k = 1; k < list.length; k++) {
        const same = t[list[k]] === t[list[0]];
        unite(corner, list[0], same ? list[k] : nextCorner(list[k]));
        unite(corner, nextCorner(list[0]), same ? nextCorner(list[k]) : list[k]);
      }
      continue;
    }
    if (list.length > 2) edgesSplit++;
    const hi = t[nextCorner(forward[0])];
    const axis = sub(at(hi), at(lo));
    const apex = (i: number): Vec3 => sub(at(t[nextCorner(nextCorner(i))]), at(lo));
    const e1 = cross(axis, apex(forward[0]));
    const e2 = cross(e1, axis);
    const scale = Math.sqrt(dot(e1, e1) / dot(e2, e2));
    const angle = (i: number): number => Math.atan2(dot(apex(i), e1), dot(apex(i), e2) * scale);
    // seen along the edge, a forward triangle has its solid on the side of smaller angles
    const byAngle = backward.map((i) => ({ i, angle: angle(i) }));
    for (const i of forward) {
      const own = angle(i);
      let best = byAngle[0];
      let least = Infinity;
      for (const b of byAngle) {
        let back = own - b.angle;
        while (back <= 1e-12) back += 2 * Math.PI;
        if (back < least) {
          least = back;
          best = b;
        }
      }
      byAngle.splice(byAngle.indexOf(best), 1);
      join(i, best.i);
    }
  }
  const number = new Int32Array(t.length).fill(-1);
  const positions: number[] = [];
  const triangles = new Uint32Array(t.length);
  for (let i = 0; i < t.length; i++) {
    const r = find(corner, i);
    if (number[r] < 0) {
      number[r] = positions.length / 3;
      positions.push(...at(t[i]));
    }
    triangles[i] = number[r];
  }
  return { mesh: { ...mesh, positions: Float64Array.from(positions), triangles }, edgesSplit };
}

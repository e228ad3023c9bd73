import { cross, dot, find, halfEdges, type IndexedMesh, nextHalf, sub, unite, type Vec3 } from '../mesh/index.ts';

/** What pairing changed. */
export interface Paired {
  readonly mesh: IndexedMesh;
  /** edges of four or more triangles that were taken apart */
  readonly edgesSplit: number;
}

/** Edges with more triangles than this are no solids that touch, but a scatter. */
const MOST_AT_EDGE = 64;

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
  const { twin, crowded } = halfEdges(mesh);
  if (crowded.length === 0) return { mesh, edgesSplit: 0 };
  const at = (v: number): Vec3 => [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];
  const corner = new Uint32Array(t.length);
  for (let i = 0; i < corner.length; i++) corner[i] = i;
  const join = (i: number, j: number): void => {
    const same = t[i] === t[j];
    unite(corner, i, same ? j : nextHalf(j));
    unite(corner, nextHalf(i), same ? nextHalf(j) : j);
  };
  for (let h = 0; h < t.length; h++) if (twin[h] > h) join(h, twin[h]);
  let edgesSplit = 0;
  for (const list of crowded) {
    const lo = Math.min(t[list[0]], t[nextHalf(list[0])]);
    const forward = list.filter((i) => t[i] === lo);
    const backward = list.filter((i) => t[i] !== lo);
    if (forward.length !== backward.length || list.length > MOST_AT_EDGE) {
      for (let k = 1; k < list.length; k++) join(list[0], list[k]);
      continue;
    }
    edgesSplit++;
    const hi = t[nextHalf(forward[0])];
    const axis = sub(at(hi), at(lo));
    const apex = (i: number): Vec3 => sub(at(t[nextHalf(nextHalf(i))]), at(lo));
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

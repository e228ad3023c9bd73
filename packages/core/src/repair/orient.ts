import { type HalfEdges, halfEdges, type IndexedMesh } from '../mesh/index.ts';

/**
 * Turns triangles so that neighbours agree about what is outside, spreading from triangle to triangle over edges of two.
 *
 *   a->-b        a->-b
 *   |  /| /->    |  /|      two neighbours agree when they run along their edge in opposite directions
 *   | / |        | / |
 *
 * In each connected surface the way that fewer triangles must be turned for wins. `oneSided` counts edges at which that is
 * impossible (a Möbius strip): they are left.
 */
export function orientConsistently(
  mesh: IndexedMesh,
  half: HalfEdges = halfEdges(mesh),
): { mesh: IndexedMesh; turned: number; oneSided: number } {
  if (half.sameWay === 0) return { mesh, turned: 0, oneSided: 0 };
  const { twin } = half;
  const { triangles: t } = mesh;
  const n = t.length / 3;
  // 0: not seen, 1: as it is, 2: to be turned
  const state = new Uint8Array(n);
  const queue = new Int32Array(n);
  let turned = 0;
  let oneSided = 0;
  for (let seed = 0; seed < n; seed++) {
    if (state[seed]) continue;
    let head = 0;
    let tail = 0;
    let over = 0;
    state[seed] = 1;
    queue[tail++] = seed;
    while (head < tail) {
      const i = queue[head++];
      for (let h = i * 3; h < i * 3 + 3; h++) {
        const g = twin[h];
        if (g < 0) continue;
        const j = Math.floor(g / 3);
        const agree = t[g] !== t[h];
        const wanted = agree === (state[i] === 1) ? 1 : 2;
        if (state[j] === 0) {
          state[j] = wanted;
          if (wanted === 2) over++;
          queue[tail++] = j;
        } else if (state[j] !== wanted) oneSided++;
      }
    }
    if (over * 2 > tail) {
      for (let k = 0; k < tail; k++) state[queue[k]] = 3 - state[queue[k]];
      over = tail - over;
    }
    turned += over;
  }
  const triangles = t.slice();
  for (let i = 0; i < n; i++) {
    if (state[i] !== 2) continue;
    triangles[i * 3 + 1] = t[i * 3 + 2];
    triangles[i * 3 + 2] = t[i * 3 + 1];
  }
  return { mesh: { ...mesh, triangles }, turned, oneSided: oneSided / 2 };
}

import type { IndexedMesh } from './types.ts';

/** Rings of corners in space, each counter-clockwise seen from where the next one lies, their first corners beside each other. */
export type Rings = readonly (readonly (readonly number[])[])[];

/** A closed solid of rings, which fans close at both ends. */
export function ringMesh(rings: Rings): IndexedMesh {
  const { first, triangles } = walls(rings, rings.length - 1);
  const [n, m, top] = [rings[0].length, rings[rings.length - 1].length, first[rings.length - 1]];
  for (let i = 1; i + 1 < n; i++) triangles.push(0, i + 1, i);
  for (let i = 1; i + 1 < m; i++) triangles.push(top, top + i, top + i + 1);
  return meshOf(rings, triangles);
}

/** A closed tube of rings, along its outside and back along its bore: the last goes on to the first. */
export const tubeMesh = (rings: Rings): IndexedMesh => meshOf(rings, walls(rings, rings.length).triangles);

/**
 * Triangles of the walls from each of the first rings to the next, and the number of each ring's first corner. Of two rings with
 * unlike many corners the one goes on that is less far round.
 */
function walls(rings: Rings, count: number): { first: readonly number[]; triangles: number[] } {
  const first = rings.map((_, r) => rings.slice(0, r).reduce((sum, ring) => sum + ring.length, 0));
  const triangles: number[] = [];
  for (let r = 0; r < count; r++) {
    const s = (r + 1) % rings.length;
    const [n, m] = [rings[r].length, rings[s].length];
    const [a, b] = [(i: number) => first[r] + (i % n), (j: number) => first[s] + (j % m)];
    for (let i = 0, j = 0; i < n || j < m; ) {
      if ((j + 1) * n <= (i + 1) * m) triangles.push(a(i), b(j + 1), b(j++));
      else triangles.push(a(i), a(++i), b(j));
    }
  }
  return { first, triangles };
}

const meshOf = (rings: Rings, triangles: readonly number[]): IndexedMesh => ({
  positions: Float64Array.from(rings.flat(2)),
  triangles: Uint32Array.from(triangles),
  tags: new Uint32Array(triangles.length / 3),
});

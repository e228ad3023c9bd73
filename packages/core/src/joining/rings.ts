import type { IndexedMesh } from '../mesh/index.ts';

/** Rings of equally many corners in space, each counter-clockwise seen from where the next one lies. */
export type Rings = readonly (readonly (readonly number[])[])[];

/** A closed solid of rings, which fans close at both ends. */
export function ringMesh(rings: Rings): IndexedMesh {
  const n = rings[0].length;
  const top = (rings.length - 1) * n;
  const triangles = walls(rings, rings.length - 1);
  for (let i = 1; i + 1 < n; i++) triangles.push(0, i + 1, i, top, top + i, top + i + 1);
  return meshOf(rings, triangles);
}

/** A closed tube of rings, along its outside and back along its bore: the last goes on to the first. */
export const tubeMesh = (rings: Rings): IndexedMesh => meshOf(rings, walls(rings, rings.length));

/** Triangles of the walls from each of the first rings to the next. */
function walls(rings: Rings, count: number): number[] {
  const n = rings[0].length;
  const out: number[] = [];
  for (let r = 0; r < count; r++) {
    const [a, b] = [r * n, ((r + 1) % rings.length) * n];
    for (let i = 0; i < n; i++) {
      const k = (i + 1) % n;
      out.push(a + i, a + k, b + k, a + i, b + k, b + i);
    }
  }
  return out;
}

const meshOf = (rings: Rings, triangles: readonly number[]): IndexedMesh => ({
  positions: Float64Array.from(rings.flat(2)),
  triangles: Uint32Array.from(triangles),
  tags: new Uint32Array(triangles.length / 3),
});

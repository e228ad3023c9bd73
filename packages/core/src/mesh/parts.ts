import type { IndexedMesh } from './types.ts';

/** Several meshes as one, nothing welded. */
export function concatenate(meshes: readonly IndexedMesh[]): IndexedMesh {
  if (meshes.length === 1) return meshes[0];
  const positions = new Float64Array(meshes.reduce((n, m) => n + m.positions.length, 0));
  const triangles = new Uint32Array(meshes.reduce((n, m) => n + m.triangles.length, 0));
  const tags = new Uint32Array(triangles.length / 3);
  let v = 0;
  let t = 0;
  for (const m of meshes) {
    positions.set(m.positions, v * 3);
    for (let i = 0; i < m.triangles.length; i++) triangles[t + i] = m.triangles[i] + v;
    tags.set(m.tags, t / 3);
    v += m.positions.length / 3;
    t += m.triangles.length;
  }
  return { positions, triangles, tags };
}

/** The chosen triangles as a mesh of their own, vertices numbered in order of first use. */
export function subset(mesh: IndexedMesh, chosen: ArrayLike<number>): IndexedMesh {
  const number = new Int32Array(mesh.positions.length / 3).fill(-1);
  return take(mesh, chosen, number);
}

/** Splits a mesh by a number for each triangle (0 … count − 1). */
export function splitBy(mesh: IndexedMesh, groupOf: Uint32Array, count: number): IndexedMesh[] {
  const sizes = new Uint32Array(count);
  for (const g of groupOf) sizes[g]++;
  const lists = Array.from(sizes, (n) => new Uint32Array(n));
  const fill = new Uint32Array(count);
  for (let i = 0; i < groupOf.length; i++) lists[groupOf[i]][fill[groupOf[i]]++] = i;
  const number = new Int32Array(mesh.positions.length / 3).fill(-1);
  return lists.map((list) => take(mesh, list, number));
}

/** `number` must hold −1 for every vertex, and does so again afterwards. */
function take(mesh: IndexedMesh, chosen: ArrayLike<number>, number: Int32Array): IndexedMesh {
  const { positions: p, triangles: t } = mesh;
  const triangles = new Uint32Array(chosen.length * 3);
  const tags = new Uint32Array(chosen.length);
  const order = new Uint32Array(Math.min(p.length / 3, chosen.length * 3));
  let n = 0;
  for (let i = 0; i < chosen.length; i++) {
    tags[i] = mesh.tags[chosen[i]];
    for (let c = 0; c < 3; c++) {
      const v = t[chosen[i] * 3 + c];
      if (number[v] < 0) {
        number[v] = n;
        order[n++] = v;
      }
      triangles[i * 3 + c] = number[v];
    }
  }
  const positions = new Float64Array(n * 3);
  for (let k = 0; k < n; k++) {
    const v = order[k];
    number[v] = -1;
    positions[k * 3] = p[v * 3];
    positions[k * 3 + 1] = p[v * 3 + 1];
    positions[k * 3 + 2] = p[v * 3 + 2];
  }
  return { positions, triangles, tags };
}

/** The mesh with every triangle turned over. */
export function turnedOver(mesh: IndexedMesh): IndexedMesh {
  const triangles = mesh.triangles.slice();
  for (let i = 0; i < triangles.length; i += 3) {
    const b = triangles[i + 1];
    triangles[i + 1] = triangles[i + 2];
    triangles[i + 2] = b;
  }
  return { ...mesh, triangles };
}

/** Vertices numbered anew in the order in which they are asked for. */
export interface Renumbering {
  /** the new number of an old vertex */
  of(vertex: number): number;
  /** old vertices by their new numbers */
  readonly order: readonly number[];
}

/** A numbering of up to `count` vertices that has none yet. */
export function renumbering(count: number): Renumbering {
  const number = new Int32Array(count).fill(-1);
  const order: number[] = [];
  return {
    order,
    of: (v) => {
      if (number[v] < 0) {
        number[v] = order.length;
        order.push(v);
      }
      return number[v];
    },
  };
}

import { GephyraError } from '../errors.ts';
import type { IndexedMesh } from './types.ts';

/** Vertices welded from a triangle soup, and which corner became which vertex. */
export interface Weld {
  /** xyz of each distinct vertex, in order of first appearance. */
  readonly positions: Float64Array;
  /** one vertex index a corner of the soup */
  readonly corners: Uint32Array;
}

/**
 * Welds the corners of a soup that share the same three float32 coordinates, bit for bit (−0 counts as 0).
 *
 * soup: nine float32 numbers a triangle. Open addressing over the coordinate bits, one pass, linear time.
 */
export function weldExact(soup: Float32Array): Weld {
  const count = Math.floor(soup.length / 3);
  const bits = new Int32Array(soup.buffer, soup.byteOffset, count * 3);
  let capacity = 1024;
  while (capacity < count) capacity *= 2;
  let mask = capacity - 1;
  let table = new Int32Array(capacity).fill(-1);
  const corners = new Uint32Array(count);
  let kept = new Int32Array(Math.max(3, Math.ceil(count / 5) * 3));
  let vertices = 0;
  for (let i = 0, k = 0; i < count; i++, k += 3) {
    let x = bits[k];
    let y = bits[k + 1];
    let z = bits[k + 2];
    if (x === -2147483648) x = 0;
    if (y === -2147483648) y = 0;
    if (z === -2147483648) z = 0;
    let h = hash3(x, y, z) & mask;
    let found = -1;
    for (;;) {
      const v = table[h];
      if (v < 0) break;
      const q = v * 3;
      if (kept[q] === x && kept[q + 1] === y && kept[q + 2] === z) {
        found = v;
        break;
      }
      h = (h + 1) & mask;
    }
    if (found < 0) {
      found = vertices++;
      if (found * 3 + 3 > kept.length) {
        const grown = new Int32Array(kept.length * 2);
        grown.set(kept);
        kept = grown;
      }
      kept[found * 3] = x;
      kept[found * 3 + 1] = y;
      kept[found * 3 + 2] = z;
      table[h] = found;
      if (vertices * 2 > capacity) {
        capacity *= 2;
        mask = capacity - 1;
        table = new Int32Array(capacity).fill(-1);
        for (let v = 0; v < vertices; v++) {
          let g = hash3(kept[v * 3], kept[v * 3 + 1], kept[v * 3 + 2]) & mask;
          while (table[g] >= 0) g = (g + 1) & mask;
          table[g] = v;
        }
      }
    }
    corners[i] = found;
  }
  return { positions: Float64Array.from(new Float32Array(kept.buffer, 0, vertices * 3)), corners };
}

function hash3(x: number, y: number, z: number): number {
  let h = Math.imul(x, 0x9e3779b1) ^ Math.imul((y << 15) | (y >>> 17), 0x85ebca77) ^ Math.imul(z, 0xc2b2ae3d);
  h = Math.imul(h ^ (h >>> 15), 0x27d4eb2f);
  return h ^ (h >>> 13);
}

/**
 * Welds the vertices of a mesh that lie within `tolerance` mm of one another (chains of near vertices weld together),
 * and drops triangles that lose a corner by it. Uses a grid of cells of the tolerance's size.
 *
 * Throws GephyraError `weld.tolerance` when the tolerance is not a positive number.
 */
export function weldWithin(mesh: IndexedMesh, tolerance: number): IndexedMesh {
  if (!(tolerance > 0)) throw new GephyraError('weld.tolerance', 'The weld tolerance must be more than 0 mm.');
  const { positions } = mesh;
  const n = positions.length / 3;
  const parent = new Uint32Array(n).map((_, i) => i);
  const grid = new Map<string, number[]>();
  const limit = tolerance * tolerance;
  for (let v = 0; v < n; v++) {
    const cell = [0, 1, 2].map((a) => Math.floor(positions[v * 3 + a] / tolerance));
    for (let dx = -1; dx <= 1; dx++)
      for (let dy = -1; dy <= 1; dy++)
        for (let dz = -1; dz <= 1; dz++) {
          for (const w of grid.get(`${cell[0] + dx},${cell[1] + dy},${cell[2] + dz}`) ?? []) {
            let d = 0;
            for (let a = 0; a < 3; a++) d += (positions[v * 3 + a] - positions[w * 3 + a]) ** 2;
            if (d <= limit) unite(parent, v, w);
          }
        }
    const key = cell.join(',');
    const list = grid.get(key);
    if (list) list.push(v);
    else grid.set(key, [v]);
  }
  const target = new Uint32Array(n);
  for (let v = 0; v < n; v++) target[v] = find(parent, v);
  return compact(mesh, target);
}

/** Root of v's set, halving the path on the way. */
export function find(parent: Uint32Array, v: number): number {
  let r = v;
  while (parent[r] !== r) {
    parent[r] = parent[parent[r]];
    r = parent[r];
  }
  return r;
}

/** Joins two sets; the smaller index becomes the root, so that results do not depend on the order of calls. */
export function unite(parent: Uint32Array, a: number, b: number): void {
  const x = find(parent, a);
  const y = find(parent, b);
  if (x < y) parent[y] = x;
  else if (y < x) parent[x] = y;
}

/**
 * Moves every vertex v onto vertex target[v], drops triangles with two equal corners and vertices nobody uses.
 */
export function compact(mesh: IndexedMesh, target: Uint32Array): IndexedMesh {
  const { positions, triangles, tags } = mesh;
  const number = new Int32Array(positions.length / 3).fill(-1);
  const outT = new Uint32Array(triangles.length);
  const outTags = new Uint32Array(tags.length);
  const order: number[] = [];
  let t = 0;
  for (let i = 0; i < triangles.length; i += 3) {
    const a = target[triangles[i]];
    const b = target[triangles[i + 1]];
    const c = target[triangles[i + 2]];
    if (a === b || b === c || c === a) continue;
    outTags[t / 3] = tags[i / 3];
    for (const v of [a, b, c]) {
      if (number[v] < 0) {
        number[v] = order.length;
        order.push(v);
      }
      outT[t++] = number[v];
    }
  }
  const outP = new Float64Array(order.length * 3);
  for (let i = 0; i < order.length; i++) {
    const v = order[i] * 3;
    outP[i * 3] = positions[v];
    outP[i * 3 + 1] = positions[v + 1];
    outP[i * 3 + 2] = positions[v + 2];
  }
  return { positions: outP, triangles: outT.slice(0, t), tags: outTags.slice(0, t / 3) };
}

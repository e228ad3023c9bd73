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
 * Welds points that share the same three coordinates, bit for bit (−0 counts as 0).
 *
 * soup: xyz a point. Open addressing over the coordinate bits, one pass, linear time.
 */
export function weldExact(soup: Float32Array | Float64Array): Weld {
  if (soup instanceof Float64Array) {
    const narrow = new Float32Array(soup.length);
    return fitsFloat32(soup, narrow) ? weldFloat32(narrow) : weldFloat64(soup);
  }
  return weldFloat32(soup);
}

function fitsFloat32(soup: Float64Array, narrow: Float32Array): boolean {
  for (let i = 0; i < soup.length; i++) {
    narrow[i] = soup[i];
    if (narrow[i] !== soup[i]) return false;
  }
  return true;
}

function weldFloat64(soup: Float64Array): Weld {
  const count = Math.floor(soup.length / 3);
  const bits = new Int32Array(soup.buffer, soup.byteOffset, count * 6);
  let capacity = 1024;
  while (capacity < count * 2) capacity *= 2;
  const mask = capacity - 1;
  const table = new Int32Array(capacity).fill(-1);
  const corners = new Uint32Array(count);
  const first = new Uint32Array(count);
  let vertices = 0;
  for (let i = 0; i < count; i++) {
    const q = i * 6;
    // the lower and upper halves of each coordinate; −0 and 0 differ in the sign bit only
    const upper = (k: number): number => (soup[i * 3 + k] === 0 ? 0 : bits[q + k * 2 + 1]);
    let h = hash3(bits[q] ^ upper(0), bits[q + 2] ^ upper(1), bits[q + 4] ^ upper(2)) & mask;
    for (;;) {
      const v = table[h];
      if (v < 0) {
        table[h] = vertices;
        first[vertices] = i;
        corners[i] = vertices++;
        break;
      }
      const w = first[v] * 3;
      if (soup[w] === soup[i * 3] && soup[w + 1] === soup[i * 3 + 1] && soup[w + 2] === soup[i * 3 + 2]) {
        corners[i] = v;
        break;
      }
      h = (h + 1) & mask;
    }
  }
  const positions = new Float64Array(vertices * 3);
  for (let v = 0; v < vertices; v++) {
    for (let a = 0; a < 3; a++) positions[v * 3 + a] = soup[first[v] * 3 + a] + 0;
  }
  return { positions, corners };
}

function weldFloat32(soup: Float32Array): Weld {
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
 * and drops triangles that lose a corner by it. Uses a grid of cells of the tolerance's size, in linear time. With
 * `only` given, just the vertices it marks take part.
 *
 * Throws GephyraError `weld.tolerance` when the tolerance is not a positive number.
 */
export function weldWithin(mesh: IndexedMesh, tolerance: number, only?: Uint8Array): IndexedMesh {
  if (!(tolerance > 0)) throw new GephyraError('weld.tolerance', 'The weld tolerance must be more than 0 mm.');
  const { positions: p } = mesh;
  const n = p.length / 3;
  const parent = new Uint32Array(n);
  for (let v = 0; v < n; v++) parent[v] = v;
  let capacity = 1024;
  while (capacity < n * 2) capacity *= 2;
  const mask = capacity - 1;
  // table: the last vertex put into a cell (by the hash of the cell); chain: the one before it
  const table = new Int32Array(capacity).fill(-1);
  const chain = new Int32Array(n);
  const limit = tolerance * tolerance;
  for (let v = 0; v < n; v++) {
    if (only && !only[v]) continue;
    const x = Math.floor(p[v * 3] / tolerance);
    const y = Math.floor(p[v * 3 + 1] / tolerance);
    const z = Math.floor(p[v * 3 + 2] / tolerance);
    for (let dx = -1; dx <= 1; dx++)
      for (let dy = -1; dy <= 1; dy++)
        for (let dz = -1; dz <= 1; dz++) {
          const h = hash3(x + dx, y + dy, z + dz) & mask;
          for (let w = table[h]; w >= 0; w = chain[w]) {
            const ex = p[v * 3] - p[w * 3];
            const ey = p[v * 3 + 1] - p[w * 3 + 1];
            const ez = p[v * 3 + 2] - p[w * 3 + 2];
            if (ex * ex + ey * ey + ez * ez <= limit) unite(parent, v, w);
          }
        }
    const h = hash3(x, y, z) & mask;
    chain[v] = table[h];
    table[h] = v;
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
  const order = new Uint32Array(positions.length / 3);
  let vertices = 0;
  let t = 0;
  for (let i = 0; i < triangles.length; i += 3) {
    const a = target[triangles[i]];
    const b = target[triangles[i + 1]];
    const c = target[triangles[i + 2]];
    if (a === b || b === c || c === a) continue;
    outTags[t / 3] = tags[i / 3];
    for (let k = 0; k < 3; k++) {
      const v = k === 0 ? a : k === 1 ? b : c;
      if (number[v] < 0) {
        number[v] = vertices;
        order[vertices++] = v;
      }
      outT[t++] = number[v];
    }
  }
  const outP = new Float64Array(vertices * 3);
  for (let i = 0; i < vertices; i++) {
    const v = order[i] * 3;
    outP[i * 3] = positions[v];
    outP[i * 3 + 1] = positions[v + 1];
    outP[i * 3 + 2] = positions[v + 2];
  }
  return { positions: outP, triangles: outT.slice(0, t), tags: outTags.slice(0, t / 3) };
}

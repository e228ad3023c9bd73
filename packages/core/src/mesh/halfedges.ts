import type { IndexedMesh } from './types.ts';

/** Half-edge h of a mesh runs from corner h of the triangle list to the next corner of its triangle. */
export const nextHalf = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1);

/** No triangle on the other side. */
export const OPEN = -1;
/** More than two triangles meet at the edge. */
const CROWDED = -2;

/** What lies across each half-edge. */
export interface HalfEdges {
  /**
   * one number a half-edge: the half-edge of the neighbour along the same edge (also when it runs the same way, which
   * means that the two disagree about what is outside), OPEN, or CROWDED
   */
  readonly twin: Int32Array;
  readonly openCount: number;
  /** edges (not half-edges) of more than two triangles */
  readonly crowded: readonly (readonly number[])[];
  /** edges whose two triangles run along them the same way */
  readonly sameWay: number;
}

const known = new WeakMap<Uint32Array, HalfEdges>();

/**
 * Pairs the half-edges of a mesh with one open-addressing table over undirected edges, in linear time. Kept for as long as
 * the mesh's list of triangles is.
 */
export function halfEdges({ triangles }: Pick<IndexedMesh, 'triangles'>): HalfEdges {
  let half = known.get(triangles);
  if (!half) {
    half = paired(triangles);
    known.set(triangles, half);
  }
  return half;
}

function paired(t: Uint32Array): HalfEdges {
  const n = t.length;
  let capacity = 16;
  while (capacity < n) capacity *= 2;
  // table: the first half-edge of each edge; chain: the next one of the same edge
  const table = new Int32Array(capacity).fill(-1);
  const chain = new Int32Array(n).fill(-1);
  const count = new Uint32Array(n);
  link(t, table, chain, count, capacity - 1);
  const twin = new Int32Array(n).fill(OPEN);
  const crowded: number[][] = [];
  let openCount = 0;
  let sameWay = 0;
  for (let s = 0; s < capacity; s++) {
    const h = table[s];
    if (h < 0) continue;
    if (count[h] === 1) openCount++;
    else if (count[h] === 2) {
      const g = chain[h];
      twin[h] = g;
      twin[g] = h;
      if (t[h] === t[g]) sameWay++;
    } else {
      const list: number[] = [];
      for (let g = h; g >= 0; g = chain[g]) {
        twin[g] = CROWDED;
        list.push(g);
      }
      crowded.push(list);
    }
  }
  return { twin, openCount, crowded, sameWay };
}

function link(t: Uint32Array, table: Int32Array, chain: Int32Array, count: Uint32Array, mask: number): void {
  for (let h = 0; h < t.length; h++) {
    const a = t[h];
    const b = t[h % 3 === 2 ? h - 2 : h + 1];
    const lo = a < b ? a : b;
    const hi = a < b ? b : a;
    let s = (Math.imul(lo, 0x9e3779b1) ^ Math.imul(hi, 0x85ebca77)) >>> 0;
    s = (s ^ (s >>> 15)) & mask;
    for (;;) {
      const g = table[s];
      if (g < 0) {
        table[s] = h;
        count[h] = 1;
        break;
      }
      const c = t[g];
      const d = t[g % 3 === 2 ? g - 2 : g + 1];
      if ((c === lo && d === hi) || (c === hi && d === lo)) {
        chain[h] = chain[g];
        chain[g] = h;
        count[g]++;
        break;
      }
      s = (s + 1) & mask;
    }
  }
}

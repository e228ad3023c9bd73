import type { IndexedMesh } from '../mesh/index.ts';

/** Triangles on corners that another triangle has too. */
export interface Duplicates {
  /** triangles that can go: the second of two that face the same way, and both of two that lie back to back */
  readonly drop: Uint8Array;
  readonly same: number;
  /** pairs that lie back to back */
  readonly backToBack: number;
  /** the triangles that were found, for showing */
  readonly list: readonly number[];
}

/** Finds triangles with the same three corners with one open-addressing table, in linear time. */
export function duplicateTriangles({ triangles: t, tags }: IndexedMesh): Duplicates {
  const n = tags.length;
  const drop = new Uint8Array(n);
  const list: number[] = [];
  let capacity = 16;
  while (capacity < n * 2) capacity *= 2;
  const mask = capacity - 1;
  const table = new Int32Array(capacity).fill(-1);
  // by the first triangle on some corners: the one on them that still stands, of which there is one at the most
  const standing = new Int32Array(n).fill(-1);
  let same = 0;
  let backToBack = 0;
  for (let i = 0; i < n; i++) {
    const a = t[i * 3];
    const b = t[i * 3 + 1];
    const c = t[i * 3 + 2];
    let s = hash(a, b, c) & mask;
    for (;;) {
      const j = table[s];
      if (j < 0) {
        table[s] = i;
        standing[i] = i;
        break;
      }
      if (wayOf(t, j, a, b, c) === 0) {
        s = (s + 1) & mask;
        continue;
      }
      // one that faces the same way goes, one that faces the other way takes both away
      const other = standing[j];
      if (other < 0) standing[j] = i;
      else if (wayOf(t, other, a, b, c) > 0) {
        drop[i] = 1;
        same++;
        list.push(i);
      } else {
        drop[i] = 1;
        drop[other] = 1;
        standing[j] = -1;
        backToBack++;
        list.push(other, i);
      }
      break;
    }
  }
  return { drop, same, backToBack, list };
}

/** 1: the same corners in the same turn, −1: turned over, 0: other corners. */
function wayOf(t: Uint32Array, j: number, a: number, b: number, c: number): number {
  const d = t[j * 3];
  const e = t[j * 3 + 1];
  const f = t[j * 3 + 2];
  if ((d === a && e === b && f === c) || (d === b && e === c && f === a) || (d === c && e === a && f === b)) return 1;
  if ((d === a && e === c && f === b) || (d === c && e === b && f === a) || (d === b && e === a && f === c)) return -1;
  return 0;
}

/** The same for the same three numbers in any order. */
function hash(a: number, b: number, c: number): number {
  const lo = Math.min(a, b, c);
  const hi = Math.max(a, b, c);
  let h = Math.imul(lo, 0x9e3779b1) ^ Math.imul(hi, 0x85ebca77) ^ Math.imul(a + b + c, 0xc2b2ae3d);
  h ^= h >>> 15;
  return h >>> 0;
}

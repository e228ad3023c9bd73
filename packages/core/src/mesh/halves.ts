import type { IndexedMesh } from './types.ts';

/**
 * Triangle numbers in an order in which each half, quarter … lies together: they are parted across the longest side of the box
 * of their middles, so that the part before holds a power of two of leaves of `leaf` triangles. Hoare, "Algorithm 65: find" (1961).
 */
export function halvedOrder(
  { positions: p, triangles: t }: Pick<IndexedMesh, 'positions' | 'triangles'>,
  leaf: number,
): Uint32Array {
  const n = t.length / 3;
  const middles = new Float64Array(n * 3);
  for (let i = 0; i < n; i++) {
    for (let a = 0; a < 3; a++) {
      middles[i * 3 + a] = (p[t[i * 3] * 3 + a] + p[t[i * 3 + 1] * 3 + a] + p[t[i * 3 + 2] * 3 + a]) / 3;
    }
  }
  const order = Uint32Array.from({ length: n }, (_, i) => i);
  let room = leaf;
  while (room < n) room *= 2;
  halve(order, middles, 0, n, room, leaf);
  return order;
}

/** Orders a stretch that has a place for `room` triangles. */
function halve(order: Uint32Array, middles: Float64Array, from: number, to: number, room: number, leaf: number): void {
  if (room <= leaf || to - from <= leaf) return;
  const middle = from + room / 2;
  if (middle < to) part(order, middles, from, to, middle, longest(order, middles, from, to));
  halve(order, middles, from, Math.min(to, middle), room / 2, leaf);
  if (middle < to) halve(order, middles, middle, to, room / 2, leaf);
}

/** The axis along which middles lie farthest apart. */
function longest(order: Uint32Array, middles: Float64Array, from: number, to: number): number {
  let best = 0;
  let most = -1;
  for (let a = 0; a < 3; a++) {
    let low = Infinity;
    let high = -Infinity;
    for (let i = from; i < to; i++) {
      const x = middles[order[i] * 3 + a];
      if (x < low) low = x;
      if (x > high) high = x;
    }
    if (high - low > most) {
      most = high - low;
      best = a;
    }
  }
  return best;
}

/** Puts the least before `middle` and the rest behind it, by their middles along an axis. */
function part(order: Uint32Array, middles: Float64Array, from: number, to: number, middle: number, axis: number): void {
  let low = from;
  let high = to - 1;
  while (low < high) {
    const pivot = middles[order[(low + high) >> 1] * 3 + axis];
    let i = low;
    let j = high;
    while (i <= j) {
      while (middles[order[i] * 3 + axis] < pivot) i++;
      while (middles[order[j] * 3 + axis] > pivot) j--;
      if (i > j) break;
      const held = order[i];
      order[i++] = order[j];
      order[j--] = held;
    }
    if (middle <= j) high = j;
    else if (middle >= i) low = i;
    else return;
  }
}

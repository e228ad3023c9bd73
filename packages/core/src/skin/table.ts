/** Corner c of a cell lies at (c & 1, c >> 1 & 1, c >> 2 & 1). */
const FACES: readonly (readonly [number, number, number, number])[] = [
  // corners counter-clockwise seen from outside the cell
  [0, 2, 3, 1],
  [4, 5, 7, 6],
  [0, 1, 5, 4],
  [2, 6, 7, 3],
  [0, 4, 6, 2],
  [1, 3, 7, 5],
];

/** Edge e of a cell runs from corner EDGES[e][0] along axis EDGES[e][1]. */
export const EDGES: readonly (readonly [number, number])[] = [
  [0, 0],
  [2, 0],
  [4, 0],
  [6, 0],
  [0, 1],
  [1, 1],
  [4, 1],
  [5, 1],
  [0, 2],
  [1, 2],
  [2, 2],
  [3, 2],
];

const edgeBetween = (a: number, b: number): number => {
  const axis = [1, 2, 4].indexOf(a ^ b);
  return EDGES.findIndex(([c, x]) => c === Math.min(a, b) && x === axis);
};

/**
 * For each of the 256 ways in which a cell's corners can lie inside (bit set) or outside: closed loops over its edges,
 * counter-clockwise seen from outside. Made, not typed in: on every face each run of inside corners is cut off by one
 * segment, which neighbours across the face do alike, so the surface closes. After Lorensen and Cline, "Marching cubes" (1987).
 */
export const LOOPS: readonly (readonly Uint8Array[])[] = Array.from({ length: 256 }, (_, inside) => loopsOf(inside));

function loopsOf(inside: number): Uint8Array[] {
  const isIn = (c: number): boolean => ((inside >> c) & 1) === 1;
  const next = new Map<number, number>();
  for (const face of FACES) {
    for (let k = 0; k < 4; k++) {
      // a run of inside corners begins behind corner k
      if (isIn(face[k]) || !isIn(face[(k + 1) % 4])) continue;
      let end = k + 1;
      while (isIn(face[(end + 1) % 4])) end++;
      next.set(edgeBetween(face[k], face[(k + 1) % 4]), edgeBetween(face[end % 4], face[(end + 1) % 4]));
    }
  }
  const out: Uint8Array[] = [];
  const done = new Set<number>();
  for (const start of next.keys()) {
    if (done.has(start)) continue;
    const loop: number[] = [];
    for (let e = start; !done.has(e); e = next.get(e)!) {
      done.add(e);
      loop.push(e);
    }
    out.push(Uint8Array.from(loop));
  }
  return out;
}

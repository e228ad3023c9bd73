import { renumbering } from '../mesh/index.ts';
import type { CapLoops, Cell } from './cell.ts';

/**
 * Cells that were parted by planes put together again as one: the caps of these `seams` go, and corners of theirs at the same place
 * become one. Other caps of a seam that met there become one again.
 *
 *    ______ ______         ____________
 *   |      |      |       |            |
 *   |      |      |  ->   |            |
 *   |______|______|       |____________|
 *
 * Null where the caps of `seams` do not cover each other with all their corners: what was done to a cell in between went beyond its planes.
 */
export function rejoined(cells: readonly Cell[], seams: ReadonlySet<string>): Cell | null {
  const first = cells.map((_, i) => cells.slice(0, i).reduce((n, c) => n + c.positions.length / 3, 0));
  const total = cells.reduce((n, c) => n + c.positions.length / 3, 0);
  const same = new Uint32Array(total);
  for (let v = 0; v < total; v++) same[v] = v;
  for (const seam of seams) {
    // which vertex of each cell a place is
    const places = new Map<string, { cell: number; vertex: number }[]>();
    for (const [i, cell] of cells.entries()) {
      for (const v of cornersOf(cell, seam)) {
        const key = placeOf(cell, v);
        const here = places.get(key) ?? [];
        places.set(key, here);
        if (here.some((other) => other.cell === i)) return null;
        here.push({ cell: i, vertex: first[i] + v });
      }
    }
    for (const here of places.values()) for (const { vertex } of here) same[vertex] = same[here[0].vertex];
  }
  const loopsOf = (i: number, cap: CapLoops): number[][] =>
    cap.loops.map((l) => Array.from(l, (v) => same[first[i] + v]));
  for (const seam of seams) {
    const loops = cells.flatMap((c, i) => c.caps.filter((cap) => cap.seam === seam).flatMap((cap) => loopsOf(i, cap)));
    if (spliced(loops, total).length > 0) return null;
  }

  const faces = new Map<string, { cap: CapLoops; loops: number[][]; parts: number }>();
  for (const [i, cell] of cells.entries()) {
    for (const cap of cell.caps) {
      if (seams.has(cap.seam)) continue;
      const key = `${cap.seam} ${cap.side}`;
      const face = faces.get(key) ?? { cap, loops: [], parts: 0 };
      faces.set(key, { cap, loops: [...face.loops, ...loopsOf(i, cap)], parts: face.parts + 1 });
    }
  }
  const { of: renumber, order } = renumbering(total);
  const triangles = new Uint32Array(cells.reduce((n, c) => n + c.triangles.length, 0));
  const tags = new Uint32Array(triangles.length / 3);
  let at = 0;
  for (const [i, cell] of cells.entries()) {
    tags.set(cell.tags, at / 3);
    const { triangles: t } = cell;
    const start = first[i];
    for (let k = 0; k < t.length; k++) triangles[at++] = renumber(same[start + t[k]]);
  }
  const caps = [...faces.values()].map(({ cap: { seam, side }, loops, parts }) => ({
    seam,
    side,
    loops: (parts > 1 ? spliced(loops, total) : loops).map((l) => Uint32Array.from(l, renumber)),
  }));
  const all = new Float64Array(total * 3);
  cells.forEach((c, i) => {
    all.set(c.positions, first[i] * 3);
  });
  const positions = new Float64Array(order.length * 3);
  for (let i = 0; i < order.length; i++) {
    const from = order[i] * 3;
    for (let k = 0; k < 3; k++) positions[i * 3 + k] = all[from + k];
  }
  return { positions, triangles, tags, caps };
}

const cornersOf = ({ caps }: Cell, seam: string): Set<number> =>
  new Set(caps.filter((c) => c.seam === seam).flatMap((c) => c.loops.flatMap((l) => [...l])));

const placeOf = ({ positions: p }: Cell, v: number): string => `${p[v * 3]} ${p[v * 3 + 1]} ${p[v * 3 + 2]}`;

/** Closed loops without those edges that they run along both ways: loops that lie side by side become one there. */
function spliced(loops: readonly (readonly number[])[], vertices: number): number[][] {
  const corner = loops.flat();
  const next = new Int32Array(corner.length);
  const before = new Int32Array(corner.length);
  const link = (a: number, b: number): void => {
    next[a] = b;
    before[b] = a;
  };
  let at = 0;
  for (const l of loops) {
    for (let i = 0; i < l.length; i++) link(at + i, at + ((i + 1) % l.length));
    at += l.length;
  }
  const gone = new Uint8Array(corner.length);
  const open = new Map<number, number[]>();
  const key = (a: number, b: number): number => a * vertices + b;
  const ends = Int32Array.from(corner, (_, e) => corner[next[e]]);
  for (let e = 0; e < corner.length; e++) {
    const back = open.get(key(ends[e], corner[e]))?.pop();
    if (back === undefined) {
      const k = key(corner[e], ends[e]);
      open.set(k, [...(open.get(k) ?? []), e]);
      continue;
    }
    gone[e] = gone[back] = 1;
    if (before[e] !== back) link(before[e], next[back]);
    if (before[back] !== e) link(before[back], next[e]);
  }
  const out: number[][] = [];
  for (let start = 0; start < corner.length; start++) {
    if (gone[start]) continue;
    const loop: number[] = [];
    for (let e = start; !gone[e]; e = next[e]) {
      gone[e] = 1;
      loop.push(corner[e]);
    }
    out.push(loop);
  }
  return out;
}

import { atOffset, type Cell, cutCells, extent, type Frame, makeFrame, rejoined, windowOf } from '../cut/index.ts';
import { GephyraError } from '../errors.ts';
import { distance, lerp, type Vec3, vecOf } from '../mesh/index.ts';

// The kernel's time goes by the triangles that it is given. Where it works between two planes, what lies beyond them is parted from a cell first,
// and joined again to what came of the rest.

/** Seams of the planes, while they stand. */
const SLAB = ['\0slab from', '\0slab to'] as const;
/** So far beside what is done in it a slab ends, where most room is between corners, mm. */
const BESIDE = [0.5, 1.5] as const;

/** A cell parted by two planes. */
export interface Slab {
  readonly within: Cell;
  readonly beyond: readonly Cell[];
}

/**
 * What of a cell lies between two planes square to a direction, a little beside `from` and `to`, and what beyond; `frames` has those of its caps, and
 * gets those of the planes. Null where nothing lies between, or faces are flush with a plane.
 */
export function slabOf(cell: Cell, across: Vec3, from: number, to: number, frames: Map<string, Frame>): Slab | null {
  const beyond: Cell[] = [];
  let within: Cell = cell;
  const plane = makeFrame([0, 0, 0], across);
  const ends = [
    clearOf(cell.positions, across, from - BESIDE[1], from - BESIDE[0]),
    clearOf(cell.positions, across, to + BESIDE[0], to + BESIDE[1]),
  ];
  for (const [i, offset] of ends.entries()) {
    const parts = cutBy(within, SLAB[i], atOffset(plane, offset), frames);
    const [inside, outside] = i === 0 ? [parts?.above, parts?.below] : [parts?.below, parts?.above];
    if (!inside) return null;
    if (outside) beyond.push(outside);
    within = inside;
  }
  return { within, beyond };
}

/** Parts of a slab and what lay beyond it as one cell; null where they do not meet corner by corner. */
export const slabJoined = (parts: readonly Cell[]): Cell | null => rejoined(parts, new Set(SLAB));

/** What comes of work on a slab; null where the kernel refuses that: perhaps it takes the whole. */
export function unlessRefused<T>(work: () => T): T | null {
  try {
    return work();
  } catch (error) {
    if (error instanceof GephyraError) return null;
    throw error;
  }
}

/** A cell cut by one more plane, which `frames` knows then. */
export function cutBy(cell: Cell, seam: string, plane: Frame, frames: Map<string, Frame>) {
  const { size, reach } = extent(cell.positions);
  const normals = new Map([...frames].map(([id, f]) => [id, f.normal]));
  const cut = cutCells([cell], seam, plane, windowOf(size, reach), normals);
  frames.set(seam, cut.plane);
  return cut.film ? null : cut.parts[0];
}

/**
 * What the kernel made of a slab, at `positions`: corners of the slab's own caps just where they were, and without those that it has not itself.
 * `places` are corners that the kernel was given, as it was given them: the slab's first. Null where a cap has a new one.
 */
export function placedAgain(made: Cell, positions: Float64Array, slab: Cell, places: Float64Array): Cell | null {
  const own = slab.positions.length / 3;
  const vertices = new Map<string, number>();
  for (const { seam, loops } of slab.caps)
    if (isOfSlab(seam)) for (const l of loops) for (const v of l) vertices.set(keyOf(places, v), v);
  for (let v = own; v < places.length / 3; v++) vertices.set(keyOf(places, v), v);
  const was = (v: number): number | undefined => vertices.get(keyOf(made.positions, v));
  for (const { seam, loops } of made.caps) {
    if (!isOfSlab(seam)) continue;
    for (const v of loops.flatMap((l) => [...l])) {
      const before = was(v);
      if (before === undefined) return null;
      if (before < own) positions.set(slab.positions.subarray(before * 3, before * 3 + 3), v * 3);
    }
  }
  const caps = made.caps.map((c) => ({ ...c, loops: c.loops.map((l) => l.filter((v) => (was(v) ?? 0) < own)) }));
  return { ...made, positions, caps };
}

const isOfSlab = (seam: string): boolean => SLAB.some((s) => s === seam);

const keyOf = (p: Float64Array, v: number): string =>
  `${Math.fround(p[v * 3])} ${Math.fround(p[v * 3 + 1])} ${Math.fround(p[v * 3 + 2])}`;

/**
 * A cell with more corners, no farther apart than `step` mm, along the edges in which other caps meet those of the slab: so that triangles there are not
 * as long as the slab. They follow the cell's own.
 */
export function dotted(cell: Cell, step: number): Cell {
  const p = cell.positions;
  const more: number[] = [];
  const edgesOf = (loop: Uint32Array): [number, number][] =>
    Array.from(loop, (a, i) => [a, loop[(i + 1) % loop.length]]);
  const name = (a: number, b: number): string => `${a} ${b}`;
  const slab = cell.caps.filter((c) => isOfSlab(c.seam)).flatMap((c) => c.loops);
  const met = new Set(slab.flatMap(edgesOf).map(([a, b]) => name(b, a)));
  const dots = new Map<string, number[]>();
  for (const [a, b] of cell.caps.filter((c) => !isOfSlab(c.seam)).flatMap((c) => c.loops.flatMap(edgesOf))) {
    if (!met.has(name(a, b))) continue;
    const [from, to] = [a, b].map((v) => vecOf((k) => p[v * 3 + k]));
    const n = Math.ceil(distance(from, to) / step);
    const between = Array.from({ length: n - 1 }, (_, i) => {
      more.push(...lerp(from, to, (i + 1) / n));
      return (p.length + more.length) / 3 - 1;
    });
    dots.set(name(a, b), between);
    dots.set(name(b, a), between.toReversed());
  }
  const withDots = (loop: Uint32Array): Uint32Array =>
    Uint32Array.from(edgesOf(loop).flatMap(([a, b]) => [a, ...(dots.get(name(a, b)) ?? [])]));
  const positions = new Float64Array(p.length + more.length);
  positions.set(p);
  positions.set(more, p.length);
  return { ...cell, positions, caps: cell.caps.map((c) => ({ ...c, loops: c.loops.map(withDots) })) };
}

/** Where along a direction, from a place to another, most room is between some places. */
function clearOf(p: Float64Array, [x, y, z]: Vec3, from: number, to: number): number {
  const met = [from, to];
  for (let i = 0; i < p.length; i += 3) {
    const d = x * p[i] + y * p[i + 1] + z * p[i + 2];
    if (d > from && d < to) met.push(d);
  }
  met.sort((a, b) => a - b);
  let best = 0;
  for (let i = 1; i + 1 < met.length; i++) if (met[i + 1] - met[i] > met[best + 1] - met[best]) best = i;
  return (met[best] + met[best + 1]) / 2;
}

/** From where to where some places lie along a direction. */
export function reachAlong(places: readonly Float64Array[], [x, y, z]: Vec3): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const p of places) {
    for (let i = 0; i < p.length; i += 3) {
      const d = x * p[i] + y * p[i + 1] + z * p[i + 2];
      if (d < low) low = d;
      if (d > high) high = d;
    }
  }
  return [low, high];
}

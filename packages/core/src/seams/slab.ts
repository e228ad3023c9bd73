import {
  atOffset,
  type Cell,
  closeCell,
  cutCells,
  extent,
  type Frame,
  gradedMesh,
  makeFrame,
  rejoined,
  type Triangulator,
  windowOf,
} from '../cut/index.ts';
import { GephyraError } from '../errors.ts';
import { cross, distance, type Vec3, vecOf } from '../mesh/index.ts';
import { type Kernel, type Reshaping, reshape, toTagged } from '../solid/index.ts';
import { capOfTag, cellOfTags, LAP_TAG, taggedCaps } from './carve-cell.ts';

/** What is taken off and added at one place, one after the other. */
export interface SlabSteps {
  readonly steps: readonly Reshaping[];
  /** unit, square to each other: the steps lie along the one, and reach little across it along the other */
  readonly along: Vec3;
  readonly across: Vec3;
}

/** Seams of the planes, while they stand. */
const SLAB = ['\0slab from', '\0slab to'] as const;
/** So far beside the steps a slab ends, where most room is between corners, mm. */
const BESIDE = [0.5, 1.5] as const;
/** No more than this share of the cell's width is a slab. */
const SHARE = 1 / 3;

/** A cell cut by one more plane, which `frames` knows then. */
export function cutBy(cell: Cell, seam: string, plane: Frame, frames: Map<string, Frame>) {
  const { size, reach } = extent(cell.positions);
  const normals = new Map([...frames].map(([id, f]) => [id, f.normal]));
  const cut = cutCells([cell], seam, plane, windowOf(size, reach), normals);
  frames.set(seam, cut.plane);
  return cut.film ? null : cut.parts[0];
}

/**
 * A cell with steps done to it between two planes, and joined again to what lies beyond them; `frames` has those of its caps. Null where the
 * steps reach too far across, or beyond the planes after all. `size` is the longest side of the whole, mm.
 */
export function inSlab(
  cell: Cell,
  frames: Map<string, Frame>,
  { steps, along, across }: SlabSteps,
  size: number,
  kernel: Kernel,
  fallback: Triangulator,
): Cell | null {
  const [from, to] = reachOf(
    steps.flatMap((s) => s.meshes.map((m) => m.positions)),
    across,
  );
  const [low, high] = reachOf([cell.positions], across);
  if (to - from + 2 * BESIDE[1] > SHARE * (high - low)) return null;
  const rest: Cell[] = [];
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
    if (outside) rest.push(outside);
    within = inside;
  }
  const given = dotted(within, to - from);
  const { mesh, known } = taggedCaps(closeCell(given, frames, fallback), (s, capTag) => gradedMesh(s, frames, capTag));
  const here = axesAt(
    vecOf((k) => within.positions[k]),
    along,
    across,
  );
  try {
    const body = toTagged(kernel, { ...mesh, positions: here.to(mesh.positions) });
    try {
      const moved = steps.map(({ does, meshes }) => ({
        does,
        meshes: meshes.map((m) => ({ ...m, positions: here.to(m.positions) })),
      }));
      const made = reshape(kernel, body, moved, LAP_TAG, size);
      const placed = placedAgain(cellOfTags(made, capOfTag(known)), within, given, here);
      return placed && rejoined([...rest, placed], new Set(SLAB));
    } finally {
      body.solid.delete();
    }
  } catch (error) {
    // perhaps it takes the whole
    if (error instanceof GephyraError) return null;
    throw error;
  }
}

/** Axes of the kernel's own: long facets that lie along one have small boxes, and few facets beside them are compared with them. */
function axesAt([ox, oy, oz]: Vec3, a: Vec3, b: Vec3) {
  const c = cross(a, b);
  return {
    to: (p: Float64Array): Float64Array => {
      const out = new Float64Array(p.length);
      for (let i = 0; i < p.length; i += 3) {
        const [x, y, z] = [p[i] - ox, p[i + 1] - oy, p[i + 2] - oz];
        out[i] = a[0] * x + a[1] * y + a[2] * z;
        out[i + 1] = b[0] * x + b[1] * y + b[2] * z;
        out[i + 2] = c[0] * x + c[1] * y + c[2] * z;
      }
      return out;
    },
    from: (p: Float64Array): Float64Array => {
      const out = new Float64Array(p.length);
      for (let i = 0; i < p.length; i += 3) {
        const [x, y, z] = [p[i], p[i + 1], p[i + 2]];
        out[i] = ox + a[0] * x + b[0] * y + c[0] * z;
        out[i + 1] = oy + a[1] * x + b[1] * y + c[1] * z;
        out[i + 2] = oz + a[2] * x + b[2] * y + c[2] * z;
      }
      return out;
    },
  };
}

/** What the kernel made of a slab at its place; corners of the slab's own caps just where they were, without the dots. Null where one is new. */
function placedAgain(made: Cell, slab: Cell, given: Cell, here: ReturnType<typeof axesAt>): Cell | null {
  const vertices = new Map<string, number>();
  const places = here.to(given.positions);
  for (let v = 0; v < places.length / 3; v++) vertices.set(keyOf(places, v), v);
  const positions = here.from(made.positions);
  const own = slab.positions.length / 3;
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
function dotted(cell: Cell, step: number): Cell {
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
      more.push(...vecOf((k) => from[k] + ((to[k] - from[k]) * (i + 1)) / n));
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
function reachOf(places: readonly Float64Array[], [x, y, z]: Vec3): [number, number] {
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

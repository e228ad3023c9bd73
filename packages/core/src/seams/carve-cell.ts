import {
  type CapLoops,
  type Cell,
  closeCell,
  closedMesh,
  type Frame,
  type Solid,
  type Triangulator,
} from '../cut/index.ts';
import {
  AXES,
  add,
  axisVector,
  type Box,
  boxOf,
  buildBlocks,
  clipped,
  cross,
  type IndexedMesh,
  insideSolid,
  length,
  normalize,
  renumbering,
  sub,
  type Vec3,
} from '../mesh/index.ts';
import { carve, type Kernel } from '../solid/index.ts';
import type { Cutter } from './cutter.ts';
import { placedAgain, reachAlong, slabJoined, slabOf, unlessRefused } from './slab.ts';

// Tags of a cell's surface: entries of the model's palette below WALL; from there on bent walls that a seam left, and the walls of laps. While the
// kernel works, caps and the facets of the cutter have tags too.
const WALL = 1 << 20;
const LAPS = 1 << 25;
const CAPS = 1 << 26;
const FACETS = 1 << 27;

/** The tag of a bent wall, by the seam's place among those that cut and its side. */
export const wallTag = (depth: number, side: 1 | -1): number => WALL + depth * 2 + (side > 0 ? 1 : 0);

/** The tag of a lap's walls. */
export const LAP_TAG = LAPS;

/** Whether a tag is that of a wall, which no palette colours. */
export const isWall = (tag: number): boolean => tag >= WALL;

/** Which seam left a wall, and on which side; null for the model's own skin and for laps. */
export function wallOfTag(tag: number): { readonly depth: number; readonly side: 1 | -1 } | null {
  if (tag < WALL || tag >= LAPS) return null;
  return { depth: (tag - WALL) >> 1, side: (tag & 1) === 1 ? 1 : -1 };
}

type Knife = Pick<Cutter, 'mesh' | 'facets'>;

/** What of a cell is inside a cutter and what outside; null where there is nothing. */
interface Parts {
  readonly inside: Cell | null;
  readonly outside: Cell | null;
}

/** Cells of fewer triangles are given to the kernel whole, and so are those of which more than a share would lie in the slab. */
const LEAST_PARTED = 5000;
const SHARE = 0.7;

/**
 * Parts a cell by a cutter: what is inside it (the seam's + side) and what is outside. Flat facets come out as caps, bent
 * ones as skin with the tag that `wall` gives for the side. Of large cells the kernel gets only the slab that the cutter's surface
 * crosses, square to one of `ways`, to the cutter's own mean normal, or to an axis. Throws GephyraError `solid.refused` when the kernel
 * does not take the cell.
 */
export function carveCell(
  cell: Cell,
  frames: ReadonlyMap<string, Frame>,
  cutter: Knife,
  wall: (side: 1 | -1) => number,
  kernel: Kernel,
  fallback: Triangulator,
  ways: readonly Vec3[] = [],
): Parts {
  const carved = (whole: Cell, known: ReadonlyMap<string, Frame>): Parts =>
    carvedWhole(whole, known, cutter, wall, kernel, fallback);
  return (cell.tags.length >= LEAST_PARTED && carvedInSlab(cell, frames, cutter, ways, carved)) || carved(cell, frames);
}

function carvedWhole(
  cell: Cell,
  frames: ReadonlyMap<string, Frame>,
  cutter: Knife,
  wall: (side: 1 | -1) => number,
  kernel: Kernel,
  fallback: Triangulator,
): Parts {
  const { mesh, known } = taggedCaps(closeCell(cell, frames, fallback), closedMesh);
  const parts = carve(kernel, mesh, cutter.mesh, FACETS);
  const read = (part: IndexedMesh, side: 1 | -1): Cell | null =>
    part.tags.length === 0
      ? null
      : cellOfTags(part, (tag) => {
          if (tag >= FACETS) {
            const facet = cutter.facets[tag - FACETS];
            return facet ? { seam: facet.plane, side } : wall(side);
          }
          return capOfTag(known)(tag);
        });
  return { inside: read(parts.inside, 1), outside: read(parts.outside, -1) };
}

/** Null where that cannot be done between planes, or would save little. */
function carvedInSlab(
  cell: Cell,
  frames: ReadonlyMap<string, Frame>,
  { mesh }: Knife,
  ways: readonly Vec3[],
  carved: (slab: Cell, frames: ReadonlyMap<string, Frame>) => Parts,
): Parts | null {
  const surface = surfaceIn(mesh, boxOf(cell.positions));
  if (surface.corners.length === 0) return null;
  const all = [...ways, ...(surface.normal ? [surface.normal] : []), ...AXES.map(axisVector)];
  const narrow = all
    .map((across) => {
      const [[from, to], [low, high]] = [surface.corners, cell.positions].map((p) => reachAlong([p], across));
      return { across, from, to, share: (to - from) / (high - low) };
    })
    .reduce((a, b) => (b.share < a.share ? b : a));
  if (narrow.share > SHARE) return null;
  const known = new Map(frames);
  const slab = slabOf(cell, narrow.across, narrow.from, narrow.to, known);
  if (!slab || slab.within.tags.length > SHARE * cell.tags.length) return null;
  const { within, beyond } = slab;
  const blocks = buildBlocks(mesh);
  const isInside = ({ positions: p }: Cell): boolean => insideSolid(blocks, [p[0], p[1], p[2]]);
  const [inner, outer] = [true, false].map((side) => beyond.filter((c) => isInside(c) === side));
  return unlessRefused(() => {
    const parts = carved(within, known);
    const inside = joinedTo(inner, parts.inside, within);
    const outside = joinedTo(outer, parts.outside, within);
    return inside === 'apart' || outside === 'apart' ? null : { inside, outside };
  });
}

/** What the kernel made of a slab, joined to what lies beyond it on the same side of the cutter. */
function joinedTo(beyond: readonly Cell[], part: Cell | null, slab: Cell): Cell | null | 'apart' {
  if (!part) return beyond.length > 0 ? 'apart' : null;
  const placed = placedAgain(part, part.positions.slice(), slab, slab.positions);
  return (placed && slabJoined([...beyond, placed])) ?? 'apart';
}

/** A closed surface has no mean normal but for rounding. */
const LEAST_NORMAL = 1e-3;

/** A mesh's surface within a box: the corners of its facets clipped to it, and their mean normal where they have one. */
function surfaceIn({ positions: p, triangles: t }: IndexedMesh, { min, max }: Box) {
  const corners: number[] = [];
  let sum: Vec3 = [0, 0, 0];
  let area = 0;
  for (let i = 0; i < t.length; i += 3) {
    let ring: readonly number[] = [0, 1, 2].flatMap((k) => [...p.subarray(t[i + k] * 3, t[i + k] * 3 + 3)]);
    for (const a of AXES) ring = clipped(clipped(ring, a, min[a], 1), a, max[a], -1);
    for (const x of ring) corners.push(x);
    const at = (k: number): Vec3 => [ring[k], ring[k + 1], ring[k + 2]];
    for (let k = 6; k < ring.length; k += 3) {
      const n = cross(sub(at(k - 3), at(0)), sub(at(k), at(0)));
      sum = add(sum, n);
      area += length(n);
    }
  }
  return { corners: Float64Array.from(corners), normal: length(sum) > LEAST_NORMAL * area ? normalize(sum) : null };
}

/** A solid's mesh with tags that tell its caps, and the cap that each of these stands for. */
export function taggedCaps(
  solid: Solid,
  meshOf: (solid: Solid, capTag: (seam: string, side: 1 | -1) => number) => IndexedMesh,
): { mesh: IndexedMesh; known: readonly Pick<CapLoops, 'seam' | 'side'>[] } {
  const known: Pick<CapLoops, 'seam' | 'side'>[] = [];
  const capTag = (seam: string, side: 1 | -1): number => {
    let at = known.findIndex((c) => c.seam === seam && c.side === side);
    if (at < 0) at = known.push({ seam, side }) - 1;
    return CAPS + at;
  };
  return { mesh: meshOf(solid, capTag), known };
}

/** What a tag stands for that `taggedCaps` or the solid itself gave: a cap, or the skin's own tag. */
export const capOfTag =
  (known: readonly Pick<CapLoops, 'seam' | 'side'>[]) =>
  (tag: number): number | Pick<CapLoops, 'seam' | 'side'> =>
    tag >= CAPS ? known[tag - CAPS] : tag;

/** A closed mesh as a cell: triangles whose tag stands for a cap become its loops, the rest is skin. */
export function cellOfTags(
  mesh: IndexedMesh,
  meaning: (tag: number) => number | Pick<CapLoops, 'seam' | 'side'>,
): Cell {
  const { positions: p, triangles: t, tags } = mesh;
  const { of: renumber, order } = renumbering(p.length / 3);
  const corners: number[] = [];
  const skinTags: number[] = [];
  const faces = new Map<string, { cap: Pick<CapLoops, 'seam' | 'side'>; triangles: number[] }>();
  for (let i = 0; i < tags.length; i++) {
    const means = meaning(tags[i]);
    if (typeof means === 'number') {
      corners.push(renumber(t[i * 3]), renumber(t[i * 3 + 1]), renumber(t[i * 3 + 2]));
      skinTags.push(means);
      continue;
    }
    const key = `${means.seam} ${means.side}`;
    const face = faces.get(key) ?? { cap: means, triangles: [] };
    face.triangles.push(i);
    faces.set(key, face);
  }
  const caps = [...faces.values()].map(({ cap, triangles }) => ({
    ...cap,
    loops: rims(t, triangles).map((l) => Uint32Array.from(l, renumber)),
  }));
  const positions = new Float64Array(order.length * 3);
  order.forEach((v, i) => {
    positions.set(p.subarray(v * 3, v * 3 + 3), i * 3);
  });
  return { positions, triangles: Uint32Array.from(corners), tags: Uint32Array.from(skinTags), caps };
}

/**
 * The closed outlines of some triangles, by their indices, the triangles on their left. Where outlines touch in a vertex, each
 * goes on along the triangles that it came by: parts that only touch get outlines of their own, and a hole that touches its
 * rim belongs to the rim's.
 */
export function rims(t: Uint32Array, list: readonly number[]): number[][] {
  // the half-edge (a corner of the triangle list) of each directed edge
  const half = new Map<string, number>();
  const next = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1);
  for (const i of list) for (let h = i * 3; h < i * 3 + 3; h++) half.set(`${t[h]} ${t[next(h)]}`, h);
  const across = (h: number): number | undefined => half.get(`${t[next(h)]} ${t[h]}`);
  const open = new Set([...half.values()].filter((h) => across(h) === undefined));
  const loops: number[][] = [];
  for (const start of open) {
    const loop: number[] = [];
    let h = start;
    do {
      loop.push(t[h]);
      open.delete(h);
      h = next(h);
      for (let turned = across(h); turned !== undefined; turned = across(h)) h = next(turned);
    } while (h !== start && open.has(h));
    if (loop.length > 2) loops.push(loop);
  }
  return loops;
}

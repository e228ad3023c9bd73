import {
  type CapLoops,
  type Cell,
  closeCell,
  closedMesh,
  type Frame,
  type Solid,
  type Triangulator,
} from '../cut/index.ts';
import { type IndexedMesh, renumbering } from '../mesh/index.ts';
import { carve, type Kernel } from '../solid/index.ts';
import type { Cutter } from './cutter.ts';

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

/**
 * Parts a cell by a cutter: what is inside it (the seam's + side) and what is outside. Flat facets come out as caps, bent
 * ones as skin with the tag that `wall` gives for the side. Throws GephyraError `solid.refused` when the kernel does not take the cell.
 */
export function carveCell(
  cell: Cell,
  frames: ReadonlyMap<string, Frame>,
  cutter: Pick<Cutter, 'mesh' | 'facets'>,
  wall: (side: 1 | -1) => number,
  kernel: Kernel,
  fallback: Triangulator,
): { inside: Cell | null; outside: Cell | null } {
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
          return tag >= CAPS ? known[tag - CAPS] : tag;
        });
  return { inside: read(parts.inside, 1), outside: read(parts.outside, -1) };
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

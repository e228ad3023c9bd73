import {
  type Cell,
  cellOfSolid,
  closeCell,
  closeRegion,
  extent,
  type Frame,
  gradedMesh,
  regionsOf,
  type Solid,
  solidsOf,
  type Triangulator,
} from '../cut/index.ts';
import type { Carving, Sweep } from '../joints/index.ts';
import { cross, type Vec3, vecOf } from '../mesh/index.ts';
import { type Kernel, kept, type Reshaping, reshape, toTagged } from '../solid/index.ts';
import { capOfTag, cellOfTags, LAP_TAG, taggedCaps } from './carve-cell.ts';
import { cutBy, dotted, placedAgain, reachAlong, slabJoined, slabOf, unlessRefused } from './slab.ts';

/** The seam of a sweep's plane, while it stands. */
const SWEPT = '\0swept';
/** No more than this share of a solid's width is given to the kernel as a slab. */
const SHARE = 1 / 3;
/** More carvings than these are done in the whole solid at once. */
const MOST_APART = 2;

type Frames = ReadonlyMap<string, Frame>;

/**
 * A solid with others taken off and added by the kernel, as the solids that it comes to. What these leave is skin with the tag of laps.
 * The kernel's time goes by the triangles that it is given: where the steps reach little of the solid's width, these are what lies between two planes.
 *
 *    ______________        __|__   _______
 *   |     _        |      |  |  |_|  |    |
 *   |    |_|       |  ->  |  |  | |  |    |   parted, worked on, and joined again
 *   |______________|      |__|_______|____|
 *                            |       |
 * Throws GephyraError `solid.refused` when the kernel does not take it.
 */
export function reshapedSolid(
  solid: Solid,
  frames: Frames,
  carvings: readonly Carving[],
  kernel: Kernel,
  fallback: Triangulator,
): Solid[] {
  const cell =
    (carvings.length <= MOST_APART && inSlabs(solid, frames, carvings, kernel, fallback)) ||
    inWhole(solid, frames, carvings, kernel);
  return cell ? solidsOf(cell, frames, fallback) : [];
}

function inWhole(solid: Solid, frames: Frames, carvings: readonly Carving[], kernel: Kernel): Cell | null {
  const steps = inOneGo(
    carvings.flatMap(({ sweep, steps }) => [
      ...(sweep ? [{ does: 'take' as const, meshes: sweep.meshes }] : []),
      ...steps,
    ]),
  );
  const { body, more: known } = kept(kernel, solid, () => {
    const { mesh, known } = taggedCaps(solid, (s, capTag) => gradedMesh(s, frames, capTag));
    return { body: toTagged(kernel, mesh), more: known };
  });
  const made = reshape(kernel, body, steps, LAP_TAG);
  return made.tags.length === 0 ? null : cellOfTags(made, capOfTag(known));
}

/** Steps that do the same one after the other as one. */
function inOneGo(steps: readonly Reshaping[]): Reshaping[] {
  const out: { does: Reshaping['does']; meshes: Reshaping['meshes'][number][] }[] = [];
  for (const { does, meshes } of steps) {
    const last = out.at(-1);
    if (last?.does === does) last.meshes.push(...meshes);
    else out.push({ does, meshes: [...meshes] });
  }
  return out;
}

/** Null where that cannot be done between planes. */
function inSlabs(
  solid: Solid,
  frames: Frames,
  carvings: readonly Carving[],
  kernel: Kernel,
  fallback: Triangulator,
): Cell | null {
  const { size } = extent(solid.positions);
  let cell = cellOfSolid(solid);
  for (const carving of carvings) {
    const { sweep } = carving;
    const all = new Map(frames);
    const left = sweep ? swept(cell, all, sweep) : cell;
    const made = left && inSlab(left, all, carving, size, kernel, fallback);
    if (!made) return null;
    cell = sweep ? skinned(made, all, fallback) : made;
  }
  return cell;
}

/** What a sweep leaves of a cell, its plane as a cap; null where it takes off more than lies above its plane, or less. */
function swept(cell: Cell, frames: Map<string, Frame>, { plane, holds }: Sweep): Cell | null {
  const parts = cutBy(cell, SWEPT, plane, frames);
  if (!parts?.below) return null;
  const p = parts.above?.positions ?? [];
  for (let i = 0; i < p.length; i += 3) if (!holds([p[i], p[i + 1], p[i + 2]])) return null;
  return parts.below;
}

/** What a sweep left, as skin. */
function skinned(cell: Cell, frames: Frames, fallback: Triangulator): Cell {
  const own = cell.caps.filter((c) => c.seam === SWEPT);
  const facets = own
    .flatMap((cap) => regionsOf(cell, cap, frames.get(SWEPT)!))
    .map((region) => closeRegion(region, fallback).triangles);
  const count = facets.reduce((n, t) => n + t.length, cell.triangles.length);
  const triangles = new Uint32Array(count);
  const tags = new Uint32Array(count / 3).fill(LAP_TAG);
  triangles.set(cell.triangles);
  tags.set(cell.tags);
  let at = cell.triangles.length;
  for (const t of facets) {
    triangles.set(t, at);
    at += t.length;
  }
  return { ...cell, triangles, tags, caps: cell.caps.filter((c) => c.seam !== SWEPT) };
}

/**
 * A cell with steps done to it between two planes, and joined again to what lies beyond them; `frames` has those of its caps. Null where the
 * steps reach too far across, or beyond the planes after all. `size` is the longest side of the whole, mm.
 */
function inSlab(
  cell: Cell,
  frames: Map<string, Frame>,
  { steps, along, across }: Carving,
  size: number,
  kernel: Kernel,
  fallback: Triangulator,
): Cell | null {
  const [from, to] = reachAlong(
    steps.flatMap((s) => s.meshes.map((m) => m.positions)),
    across,
  );
  const [low, high] = reachAlong([cell.positions], across);
  if (to - from > SHARE * (high - low)) return null;
  const slab = slabOf(cell, across, from, to, frames);
  if (!slab) return null;
  const { within, beyond } = slab;
  const given = dotted(within, to - from);
  const { mesh, known } = taggedCaps(closeCell(given, frames, fallback), (s, capTag) => gradedMesh(s, frames, capTag));
  const here = axesAt(
    vecOf((k) => within.positions[k]),
    along,
    across,
  );
  return unlessRefused(() => {
    const places = here.to(mesh.positions);
    const body = toTagged(kernel, { ...mesh, positions: places });
    try {
      const moved = steps.map(({ does, meshes }) => ({
        does,
        meshes: meshes.map((m) => ({ ...m, positions: here.to(m.positions) })),
      }));
      const made = cellOfTags(reshape(kernel, body, moved, LAP_TAG, size), capOfTag(known));
      const own = places.subarray(0, given.positions.length);
      const placed = placedAgain(made, here.from(made.positions), within, own);
      return placed && slabJoined([...beyond, placed]);
    } finally {
      body.solid.delete();
    }
  });
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

import {
  type Cell,
  cellOfSolid,
  closeRegion,
  extent,
  type Frame,
  gradedMesh,
  regionsOf,
  type Solid,
  solidsOf,
  type Triangulator,
} from '../cut/index.ts';
import type { Vec3 } from '../mesh/index.ts';
import { type Kernel, kept, type Reshaping, reshape, toTagged } from '../solid/index.ts';
import { capOfTag, cellOfTags, LAP_TAG, taggedCaps } from './carve-cell.ts';
import { cutBy, inSlab, type SlabSteps } from './slab.ts';

/** What a plane parts from a solid, if all of that lies in the convex room of the `meshes`, which are taken off otherwise. */
export interface Sweep {
  /** what lies above it goes */
  readonly plane: Frame;
  readonly holds: (at: Vec3) => boolean;
  readonly meshes: Reshaping['meshes'];
}

/** What is done to a solid at one place: first what sweeps, then the steps. */
export interface Drilling extends SlabSteps {
  readonly sweep?: Sweep;
}

/** The seam of a sweep's plane, while it stands. */
const SWEPT = '\0swept';
/** More drillings than these are done in the whole solid at once. */
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
  drillings: readonly Drilling[],
  kernel: Kernel,
  fallback: Triangulator,
): Solid[] {
  const cell =
    (drillings.length <= MOST_APART && inSlabs(solid, frames, drillings, kernel, fallback)) ||
    inWhole(solid, frames, drillings, kernel);
  return cell ? solidsOf(cell, frames, fallback) : [];
}

function inWhole(solid: Solid, frames: Frames, drillings: readonly Drilling[], kernel: Kernel): Cell | null {
  const steps = inOneGo(
    drillings.flatMap(({ sweep, steps }) => [
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
  drillings: readonly Drilling[],
  kernel: Kernel,
  fallback: Triangulator,
): Cell | null {
  const { size } = extent(solid.positions);
  let cell = cellOfSolid(solid);
  for (const drilling of drillings) {
    const { sweep } = drilling;
    const all = new Map(frames);
    const left = sweep ? swept(cell, all, sweep) : cell;
    const made = left && inSlab(left, all, drilling, size, kernel, fallback);
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

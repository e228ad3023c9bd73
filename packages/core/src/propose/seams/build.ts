import {
  atOffset,
  cellOfSolid,
  effectivePlane,
  extent,
  type Frame,
  fromFrame,
  inRegion,
  insidePoint,
  limitedCut,
  solidsOf,
  type Triangulator,
  windowOf,
} from '../../cut/index.ts';
import { dot, type Mirror, sub, type Vec3 } from '../../mesh/index.ts';
import { type Chunk, chunkOf } from './chunk.ts';
import type { Move } from './cuts.ts';
import { mirroredCut } from './twins.ts';

/**
 * The pieces of a chunk that a move leaves, cut as the model itself will be. `plane` is what their new faces are known by.
 * A move that is made twice is made on the other side of the mirror plane as well.
 * Null when the stand-in does not come apart as it was told without cutting.
 */
export function parted(
  chunk: Chunk,
  move: Move,
  plane: string,
  jointRoom: number,
  fallback: Triangulator,
  mirror?: Mirror,
): Chunk[] | null {
  let cell = cellOfSolid(chunk.solid);
  const { size, reach } = extent(cell.positions);
  const window = windowOf(size, reach);
  const frames = new Map(chunk.frames);
  const cuts: [string, Frame, readonly Vec3[]][] = [
    [plane, move.frame, move.cut.map((r) => fromFrame(move.frame, ...insidePoint(r)))],
  ];
  if (move.standing === 'twice' && mirror) {
    const { frame, seeds } = mirroredCut(move, mirror);
    cuts.push([`${plane}'`, frame, seeds]);
  }
  for (const [seam, wanted, seeds] of cuts) {
    const { offset } = effectivePlane(wanted, [cell], window);
    const frame = atOffset(wanted, offset);
    const normals = new Map([...frames].map(([id, f]) => [id, f.normal]));
    const inPlane = seeds.map((p) => {
      const d = sub(p, frame.origin);
      return [dot(d, frame.u), dot(d, frame.v)] as const;
    });
    cell = limitedCut(cell, frame, { seam, normal: frame.normal, offset, window }, normals, (r) =>
      inPlane.some(([u, v]) => inRegion(r, u, v)),
    ).cell;
    frames.set(seam, frame);
  }
  const solids = solidsOf(cell, frames, fallback);
  if (solids.length < 2) return null;
  return solids.map((solid) => chunkOf(solid, frames, jointRoom)).filter((c) => c.volume > 0);
}

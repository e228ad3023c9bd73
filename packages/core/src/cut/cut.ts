import type { Vec3 } from '../mesh/index.ts';
import type { Cell } from './cell.ts';
import { effectivePlane } from './effective.ts';
import { atOffset, type Frame } from './frame.ts';
import { type Parted, partCell } from './part.ts';

/** Cells cut by one seam. */
export interface Cut {
  /** one a cell, in the same order */
  readonly parts: readonly Parted[];
  /** the effective plane: no vertex lies on it */
  readonly plane: Frame;
  /** faces flush with the plane want opposite sides, so that a film of some stays */
  readonly film: boolean;
}

/**
 * Cuts cells by a seam with one effective plane for all of them. Mostly no vertex is near the plane as it was asked for,
 * and the first pass is the last; else the plane is moved (see effectivePlane) and the cells are cut again.
 *
 * Throws GephyraError `cut.open` when a cell's surface is not closed.
 */
export function cutCells(
  cells: readonly Cell[],
  seam: string,
  frame: Frame,
  window: number,
  capNormals: ReadonlyMap<string, Vec3>,
): Cut {
  const at = (offset: number): Parted[] =>
    cells.map((cell) => partCell(cell, { seam, normal: frame.normal, offset, window }, capNormals));
  const parts = at(frame.offset);
  if (parts.every((p) => p.nearest > window)) return { parts, plane: frame, film: false };
  const { offset, film } = effectivePlane(frame, cells, window);
  return { parts: at(offset), plane: atOffset(frame, offset), film };
}

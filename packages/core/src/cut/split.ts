import { boxOf, type IndexedMesh, sizeOf } from '../mesh/index.ts';
import { type Cell, cellOf } from './cell.ts';
import { cutCells } from './cut.ts';
import { windowOf } from './effective.ts';
import type { Frame } from './frame.ts';
import { closeCell, closedMesh, type Solid, solidsOf } from './solids.ts';
import type { Triangulator } from './triangulate.ts';

/** Both sides of a body cut by one plane. */
export interface Split {
  readonly above: readonly IndexedMesh[];
  readonly below: readonly IndexedMesh[];
  /** the plane that was really used: no vertex lies on it */
  readonly plane: Frame;
  /** faces flush with the plane want opposite sides, so that a film of some stays */
  readonly film: boolean;
}

/** Largest side and largest coordinate of a mesh: what the window of `effectivePlane` is measured by. */
export function extent(positions: Float64Array): { size: number; reach: number } {
  const box = boxOf(positions);
  const size = Math.max(...sizeOf(box));
  return { size, reach: Math.max(...box.min.map(Math.abs), ...box.max.map(Math.abs)) };
}

/** Both sides of a mesh cut by one plane, each closed by caps, whether it is connected or not. */
export interface Halves {
  readonly above: Solid | null;
  readonly below: Solid | null;
  readonly plane: Frame;
  readonly film: boolean;
}

/**
 * Cuts a closed mesh by a plane into what lies above and below, closed by caps.
 *
 * Throws GephyraError `cut.open` when the mesh is not closed where the plane meets it.
 */
export function halve(mesh: IndexedMesh, frame: Frame, fallback: Triangulator): Halves {
  const { above, below, plane, film } = part(mesh, frame);
  const frames = new Map([['s', plane]]);
  const close = (cell: Cell | null) => cell && closeCell(cell, frames, fallback);
  return { above: close(above), below: close(below), plane, film };
}

/**
 * Cuts a closed mesh by a plane into closed, connected solids on either side; cap triangles carry `capTag`.
 *
 * Throws GephyraError `cut.open` when the mesh is not closed where the plane meets it.
 */
export function splitByPlane(mesh: IndexedMesh, frame: Frame, capTag: number, fallback: Triangulator): Split {
  const { above, below, plane, film } = part(mesh, frame);
  const frames = new Map([['s', plane]]);
  const close = (s: Solid): IndexedMesh => closedMesh(s, () => capTag);
  return {
    above: above ? solidsOf(above, frames, fallback).map(close) : [],
    below: below ? solidsOf(below, frames, fallback).map(close) : [],
    plane,
    film,
  };
}

function part(mesh: IndexedMesh, frame: Frame) {
  const { size, reach } = extent(mesh.positions);
  const { parts, plane, film } = cutCells([cellOf(mesh)], 's', frame, windowOf(size, reach), new Map());
  return { ...parts[0], plane, film };
}

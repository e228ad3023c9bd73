import type { IndexedMesh } from '../mesh/index.ts';

/**
 * What is left of one cap of a cell: closed loops of vertex numbers in one seam's plane, seen from outside the cell
 * outer loops counter-clockwise, holes clockwise.
 */
export interface CapLoops {
  /** id of the seam whose plane this is */
  readonly seam: string;
  /** +1: the cell lies on the side the seam's normal points to; its cap faces against the normal. −1: the other. */
  readonly side: 1 | -1;
  readonly loops: readonly Uint32Array[];
}

/**
 * A part of a body between seams. Its boundary is the surface triangles (the body's skin) plus the caps, which stay
 * polygons until all seams are cut: every directed edge of triangles and loops occurs once, and its opposite once.
 */
export interface Cell extends IndexedMesh {
  readonly caps: readonly CapLoops[];
}

/** A whole closed body as the first cell. */
export function cellOf(mesh: IndexedMesh): Cell {
  return { ...mesh, caps: [] };
}

import Constrainautor from '@kninnug/constrainautor';
import Delaunator from 'delaunator';

/** Triangles of points, clockwise, three point numbers each; of each of their edges the one beyond it, or −1. */
export interface Triangulation {
  readonly triangles: Uint32Array;
  readonly halfedges: Int32Array;
}

/**
 * Constrained Delaunay triangles of points in the plane (x, y, x, y …), with all given edges among theirs. Null where edges cross or
 * meet points between their ends, or where constraining comes to no end.
 */
export function constrainedTriangles(points: Float64Array, edges: readonly [number, number][]): Triangulation | null {
  try {
    const found = new Delaunator(points);
    new Bounded(found, points.length / 2).constrainAll(edges);
    return found;
  } catch {
    return null;
  }
}

/** How often edges are compared for each point, at most. */
const MOST_COMPARED = 20;

/** Throws where constraining comes to no end: points that lie in one line all but for rounding can send it in a circle. */
class Bounded extends Constrainautor {
  private left: number;

  constructor(found: Delaunator<ArrayLike<number>>, points: number) {
    super(found);
    this.left = MOST_COMPARED * points;
  }

  override intersectSegments(...corners: Parameters<Constrainautor['intersectSegments']>): boolean {
    if (this.left-- < 0) throw new Error('Constraining comes to no end');
    return super.intersectSegments(...corners);
  }
}

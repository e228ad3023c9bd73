import { type Body, isClosed } from '../body/index.ts';

/** How a model stands, in numbers that a mend should bring down. */
export interface Counts {
  readonly bodies: number;
  readonly closed: number;
  readonly triangles: number;
  readonly openEdges: number;
  readonly nonManifoldEdges: number;
  readonly inconsistentEdges: number;
  /** mm³ */
  readonly volume: number;
}

export function countsOf(bodies: readonly Body[]): Counts {
  const sum = (f: (b: Body) => number): number => bodies.reduce((n, b) => n + f(b), 0);
  return {
    bodies: bodies.length,
    closed: bodies.filter(isClosed).length,
    triangles: sum((b) => b.mesh.tags.length),
    openEdges: sum((b) => b.topology.openEdges),
    nonManifoldEdges: sum((b) => b.topology.nonManifoldEdges),
    inconsistentEdges: sum((b) => b.topology.inconsistentEdges),
    volume: sum((b) => b.volume),
  };
}

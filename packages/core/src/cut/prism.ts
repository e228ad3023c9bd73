import type { IndexedMesh } from '../mesh/index.ts';
import { type Frame, fromFrame } from './frame.ts';
import type { FlatRegion } from './regions.ts';
import { type Triangulator, triangulate } from './triangulate.ts';

/**
 * A region of a plane as a closed solid between two heights above it, mm.
 *
 *    ______   high
 *   |      |
 *   |______|  low
 */
export function prismOf(
  { outer2, holes2 }: FlatRegion,
  frame: Frame,
  low: number,
  high: number,
  fallback: Triangulator,
): IndexedMesh {
  const loops = [outer2, ...holes2];
  const n = loops.reduce((sum, l) => sum + l.length / 2, 0);
  const positions = new Float64Array(6 * n);
  const triangles: number[] = [];
  let at = 0;
  for (const l of loops) {
    const start = at;
    const m = l.length / 2;
    for (let i = 0; i < m; i++, at++) {
      positions.set(fromFrame(frame, l[2 * i], l[2 * i + 1], low), 3 * at);
      positions.set(fromFrame(frame, l[2 * i], l[2 * i + 1], high), 3 * (n + at));
      const [a, b] = [at, start + ((i + 1) % m)];
      triangles.push(a, b, n + b, a, n + b, n + a);
    }
  }
  const flat = triangulate(outer2, holes2, fallback);
  for (let i = 0; i < flat.length; i += 3) {
    const [a, b, c] = [flat[i], flat[i + 1], flat[i + 2]];
    triangles.push(n + a, n + b, n + c, a, c, b);
  }
  return { positions, triangles: Uint32Array.from(triangles), tags: new Uint32Array(triangles.length / 3) };
}

import type { IndexedMesh, Vec3 } from '../mesh/index.ts';
import type { Kernel } from './kernel.ts';

/** The convex hull of points xyz xyz …, as vertices and triangles looking outward; empty when they lie in a plane. */
export function hullOf(kernel: Kernel, positions: Float64Array): { positions: Float64Array; triangles: Uint32Array } {
  const points: [number, number, number][] = [];
  for (let i = 0; i < positions.length; i += 3) points.push([positions[i], positions[i + 1], positions[i + 2]]);
  const solid = kernel.Manifold.hull(points);
  try {
    const { vertProperties, triVerts, numProp } = solid.getMesh();
    const out = new Float64Array((vertProperties.length / numProp) * 3);
    for (let v = 0; v < out.length / 3; v++) {
      for (let k = 0; k < 3; k++) out[3 * v + k] = vertProperties[v * numProp + k];
    }
    return { positions: out, triangles: Uint32Array.from(triVerts) };
  } finally {
    solid.delete();
  }
}

/** The convex hull of some points as a solid without tags; without triangles when they lie in a plane. */
export function hullMesh(kernel: Kernel, points: readonly Vec3[]): IndexedMesh {
  const hull = hullOf(kernel, Float64Array.from(points.flat()));
  return { ...hull, tags: new Uint32Array(hull.triangles.length / 3) };
}

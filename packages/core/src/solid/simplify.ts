import { MeshoptSimplifier } from 'meshoptimizer';
import { type IndexedMesh, subset, three, topology, unfolded } from '../mesh/index.ts';

/** Makes the simplifier ready; before that `simplified` throws. */
export const loadSimplifier = (): Promise<void> => MeshoptSimplifier.ready;

/**
 * Takes triangles out of a mesh by collapsing edges with the least quadric error (Garland and Heckbert, "Surface
 * simplification using quadric error metrics", 1997), until `triangles` are left or the next collapse would move the
 * surface by more than about `error` mm. Open rims stay where they are. Vertices are kept or dropped, never moved. A mesh with
 * no more triangles than asked for comes back as it is.
 */
export function simplified(mesh: IndexedMesh, triangles: number, error: number): IndexedMesh {
  const { positions: p, triangles: t } = mesh;
  const wanted = Math.max(4, Math.floor(triangles)) * 3;
  if (t.length <= wanted) return mesh;
  // around the middle, so that float32 holds the digits
  const n = p.length / 3;
  const middle = [0, 0, 0];
  for (let k = 0; k < p.length; k++) middle[k % 3] += p[k] / n;
  const near = new Float32Array(p.length);
  for (let k = 0; k < p.length; k++) near[k] = p[k] - middle[k % 3];
  const [kept] = MeshoptSimplifier.simplify(t, near, 3, wanted, Math.max(error, 1e-9), ['LockBorder', 'ErrorAbsolute']);
  const tags = new Uint32Array(kept.length / 3);
  if (mesh.tags.some((x) => x !== mesh.tags[0])) nearTags(mesh, kept, tags);
  else tags.fill(mesh.tags[0] ?? 0);
  const light = { positions: p, triangles: kept, tags };
  return subset(light, unfolded(light));
}

/**
 * A closed mesh with fewer triangles and its surface within about `error` mm. Collapses that would tear it are avoided by
 * asking for less; a mesh that cannot be made lighter comes back as it is.
 */
export function lightened(mesh: IndexedMesh, error: number): IndexedMesh {
  for (let e = error; e > error / 10; e /= 2) {
    const light = simplified(mesh, 4, e);
    if (topology(light).watertight) return light;
  }
  return mesh;
}

/** The tag of a new triangle: that of a triangle at most of its corners. */
function nearTags(mesh: IndexedMesh, kept: Uint32Array, tags: Uint32Array): void {
  const atVertex = new Uint32Array(mesh.positions.length / 3);
  for (let i = 0; i < mesh.triangles.length; i++) atVertex[mesh.triangles[i]] = mesh.tags[Math.floor(i / 3)];
  for (let i = 0; i < tags.length; i++) {
    const [a, b, c] = three((k) => atVertex[kept[i * 3 + k]]);
    tags[i] = b === c ? b : a;
  }
}

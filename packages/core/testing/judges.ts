import { type IndexedMesh, topology, volume } from '../src/mesh/index.ts';
import { type Kernel, kernelTriangulator, loadKernel, toKernel } from '../src/solid/index.ts';

export const kernel: Kernel = await loadKernel();
export const fallback = kernelTriangulator(kernel);

/** What an independent judge says of a solid: the CSG kernel's status, and its volume (float32, mm³). */
export function judge(mesh: IndexedMesh): { status: string; volume: number; closed: boolean } {
  const solid = toKernel(kernel, mesh);
  const out = {
    status: String(solid.status()),
    volume: solid.volume(),
    closed: topology(mesh).watertight,
  };
  solid.delete();
  return out;
}

/**
 * How often a closed surface winds round a point: its solid angle over 4π (Van Oosterom and Strackee, "The solid angle of a plane
 * triangle", 1983), in float64.
 */
export function windingAt({ positions: p, triangles: t }: IndexedMesh, [x, y, z]: readonly number[]): number {
  let sum = 0;
  const at = (v: number): [number, number, number, number] => {
    const [a, b, c] = [p[3 * v] - x, p[3 * v + 1] - y, p[3 * v + 2] - z];
    return [a, b, c, Math.hypot(a, b, c)];
  };
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c, A] = at(t[i]);
    const [d, e, f, D] = at(t[i + 1]);
    const [g, h, k, G] = at(t[i + 2]);
    const det = a * (e * k - f * h) - b * (d * k - f * g) + c * (d * h - e * g);
    const rest = A * D * G + (a * d + b * e + c * f) * G + (d * g + e * h + f * k) * A + (g * a + h * b + k * c) * D;
    sum += 2 * Math.atan2(det, rest);
  }
  return sum / (4 * Math.PI);
}

/**
 * Whether a closed surface winds otherwise than once or not at all round any of some places: beside the middles of its triangles, by
 * `off` mm on both sides. Triangles smaller than that say nothing and are left out.
 */
export function windsOddly(mesh: IndexedMesh, off = 0.01, most = 300): boolean {
  const { positions: p, triangles: t } = mesh;
  const step = Math.max(1, Math.floor(t.length / 3 / most));
  for (let i = 0; i < t.length / 3; i += step) {
    const [a, b, c] = [0, 1, 2].map((k) => [...p.subarray(3 * t[3 * i + k], 3 * t[3 * i + k] + 3)]);
    const [u, v] = [b, c].map((q) => q.map((x, k) => x - a[k]));
    const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    const long = Math.hypot(...n);
    if (long < 50 * off * off) continue;
    const windings = [1, -1].map((side) =>
      windingAt(
        mesh,
        a.map((x, k) => x + (u[k] + v[k]) / 3 + (side * off * n[k]) / long),
      ),
    );
    if (windings.some((w) => Math.abs(w) > 1e-3 && Math.abs(w - 1) > 1e-3)) return true;
  }
  return false;
}

/** Sum of the float64 volumes. */
export const total = (meshes: readonly IndexedMesh[]): number => meshes.reduce((sum, m) => sum + volume(m), 0);

/** Thickness of a mesh along a direction, mm. */
export function thickness(mesh: IndexedMesh, [x, y, z]: readonly number[]): number {
  let low = Infinity;
  let high = -Infinity;
  for (let k = 0; k < mesh.positions.length; k += 3) {
    const d = x * mesh.positions[k] + y * mesh.positions[k + 1] + z * mesh.positions[k + 2];
    low = Math.min(low, d);
    high = Math.max(high, d);
  }
  return high - low;
}

/** A solid of the kernel as a mesh without tags. */
export function meshOfSolid(solid: InstanceType<Kernel['Manifold']>): IndexedMesh {
  const { vertProperties, triVerts } = solid.getMesh();
  return {
    positions: Float64Array.from(vertProperties),
    triangles: Uint32Array.from(triVerts),
    tags: new Uint32Array(triVerts.length / 3),
  };
}

/** A closed mesh in fewer triangles, its surface within `off` mm of what it was: what is proven on it holds for the other. */
export function lighter(
  { positions, triangles }: Pick<IndexedMesh, 'positions' | 'triangles'>,
  off = 0.2,
): IndexedMesh {
  const solid = toKernel(kernel, { positions, triangles: Uint32Array.from(triangles) });
  const light = solid.simplify(off);
  const mesh = meshOfSolid(light);
  solid.delete();
  light.delete();
  return mesh;
}

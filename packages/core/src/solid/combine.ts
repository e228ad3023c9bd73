import {
  area,
  boxOf,
  concatenate,
  cross,
  type IndexedMesh,
  normalize,
  shells,
  sizeOf,
  splitBy,
  squareTo,
  sub,
  type Vec3,
  vecOf,
  volume,
} from '../mesh/index.ts';
import type { Kernel } from './kernel.ts';
import { fromKernel, refusal, type Tagged, toTagged } from './tagged.ts';

/** Everything that lies in any of the solids. Throws GephyraError `solid.refused` when the kernel does not take one. */
export function unionOf(kernel: Kernel, meshes: readonly IndexedMesh[]): IndexedMesh {
  return combined(kernel, meshes, (solids) => kernel.Manifold.union(solids));
}

/** The first solid without all the others. Throws GephyraError `solid.refused`. */
export function differenceOf(kernel: Kernel, from: IndexedMesh, taken: readonly IndexedMesh[]): IndexedMesh {
  return combined(kernel, [from, ...taken], ([first, ...rest]) => first.subtract(kernel.Manifold.union(rest)));
}

/** How much of two solids is in both, mm³; 0 where the kernel does not take one of them. */
export function overlapOf(kernel: Kernel, a: IndexedMesh, b: IndexedMesh): number {
  const tagged = [toTagged(kernel, a), toTagged(kernel, b)];
  try {
    if (tagged.some((t) => String(t.solid.status()) !== 'NoError')) return 0;
    const both = tagged[0].solid.intersect(tagged[1].solid);
    const volume = both.volume();
    both.delete();
    return volume;
  } finally {
    for (const t of tagged) t.solid.delete();
  }
}

function combined(
  kernel: Kernel,
  meshes: readonly IndexedMesh[],
  combine: (solids: Tagged['solid'][]) => Tagged['solid'],
): IndexedMesh {
  const tagged: Tagged[] = [];
  try {
    for (const m of meshes) {
      const t = toTagged(kernel, m);
      tagged.push(t);
      const status = String(t.solid.status());
      if (status !== 'NoError') throw refusal(status);
    }
    const out = combine(tagged.map((t) => t.solid));
    const mesh = withoutFilms(fromKernel(out, new Map(tagged.flatMap((t) => [...t.tags]))));
    out.delete();
    return mesh;
  } finally {
    for (const t of tagged) t.solid.delete();
  }
}

/** Share of a shell's size that float32 keeps apart, with some to spare. */
const FILM = 1e-6;

/**
 * Without shells that are on average thinner than float32 can tell: the kernel leaves such films where faces of two solids lie
 * on one another within its tolerance. They hold nothing, and no file keeps them.
 */
export function withoutFilms(mesh: IndexedMesh): IndexedMesh {
  const found = shells(mesh);
  const parts = found.count === 1 ? [mesh] : splitBy(mesh, found.ofTriangle, found.count);
  const solid = parts.filter(
    (p) => Math.abs(volume(p)) > (area(p) / 2) * Math.hypot(...sizeOf(boxOf(p.positions))) * FILM,
  );
  return solid.length === parts.length ? mesh : concatenate(solid);
}

/** A closed round rod from one point to another. */
export function rod(from: Vec3, to: Vec3, diameter: number): IndexedMesh {
  const sides = Math.max(16, Math.ceil(Math.PI / Math.acos(Math.max(0.5, 1 - 0.01 / diameter))));
  const n = normalize(sub(to, from));
  const u = squareTo(n);
  const v = cross(n, u);
  const positions: number[] = [...from, ...to];
  for (let i = 0; i < sides; i++) {
    const a = (i / sides) * 2 * Math.PI;
    const ring = vecOf((k) => (u[k] * Math.cos(a) + v[k] * Math.sin(a)) * (diameter / 2));
    for (const end of [from, to]) positions.push(...ring.map((x, k) => end[k] + x));
  }
  const triangles: number[] = [];
  for (let i = 0; i < sides; i++) {
    const j = (i + 1) % sides;
    const [a, b, c, e] = [2 + i * 2, 3 + i * 2, 2 + j * 2, 3 + j * 2];
    triangles.push(0, c, a, 1, b, e, a, c, e, a, e, b);
  }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(triangles.length / 3),
  };
}

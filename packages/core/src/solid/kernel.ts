import Module, { type ManifoldToplevel } from 'manifold-3d';
import { GephyraError } from '../errors.ts';
import { type IndexedMesh, weldExact } from '../mesh/index.ts';

/** The CSG kernel, a WebAssembly module. Its meshes are float32. */
export type Kernel = ManifoldToplevel;

let loading: Promise<Kernel> | undefined;
let loaded: Kernel | undefined;

/** Loads the kernel once. `wasmUrl` says where the browser finds the WebAssembly file; Node finds it by itself. */
export function loadKernel(wasmUrl?: string): Promise<Kernel> {
  loading ??= Module(wasmUrl ? { locateFile: () => wasmUrl } : undefined).then((kernel) => {
    kernel.setup();
    loaded = kernel;
    return kernel;
  });
  return loading;
}

/** The kernel, for work in the plane that is asked for where no promise can be awaited. Throws until `loadKernel` is done. */
export function kernelNow(): Kernel {
  if (!loaded)
    throw new GephyraError('kernel.missing', 'The geometry kernel is not loaded yet. Try again in a moment.');
  return loaded;
}

/** Triangulates crossing or touching loops with the kernel; nothing when it refuses them. */
export function kernelTriangulator(kernel: Kernel) {
  return (loops: readonly Float64Array[]): Uint32Array => {
    const polygons = loops.map((l) => {
      const points: [number, number][] = [];
      for (let i = 0; i < l.length; i += 2) points.push([l[i], l[i + 1]]);
      return points;
    });
    try {
      return Uint32Array.from(kernel.triangulate(polygons, -1).flat());
    } catch {
      return new Uint32Array(0);
    }
  };
}

/** A mesh as a solid of the kernel, after an exact weld of its float32 coordinates. The caller deletes it. */
export function toKernel(kernel: Kernel, mesh: Pick<IndexedMesh, 'positions' | 'triangles'>) {
  const { positions: p, triangles: t } = mesh;
  const soup = new Float32Array(t.length * 3);
  for (let i = 0; i < t.length; i++) {
    soup[i * 3] = p[t[i] * 3];
    soup[i * 3 + 1] = p[t[i] * 3 + 1];
    soup[i * 3 + 2] = p[t[i] * 3 + 2];
  }
  const weld = weldExact(soup);
  const kept: number[] = [];
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = weld.corners.subarray(i, i + 3);
    if (a !== b && b !== c && c !== a) kept.push(a, b, c);
  }
  return new kernel.Manifold(
    new kernel.Mesh({
      numProp: 3,
      vertProperties: Float32Array.from(weld.positions),
      triVerts: Uint32Array.from(kept),
    }),
  );
}

import type { Body } from '../body/index.ts';
import { GephyraError } from '../errors.ts';
import type { StepReport } from './run.ts';
import type { Model } from './state.ts';

/**
 * A model as one run of bytes, for passing it from the server to the browser and for keeping it; not a format for people.
 *
 *   0   "GEPM"
 *   4   length of the header, uint32 (all numbers little-endian)
 *   8   the header, JSON: everything but the arrays, each array as { at, length }
 *   …   the arrays, each at a multiple of 8 bytes from the start
 */
export function packModel(model: Model & { readonly reports: readonly StepReport[] }): Uint8Array {
  const arrays: { bytes: Uint8Array; at: number }[] = [];
  let size = 0;
  const put = (a: Float64Array | Uint32Array): { at: number; length: number } => {
    const at = size;
    arrays.push({ bytes: new Uint8Array(a.buffer, a.byteOffset, a.byteLength), at });
    size += Math.ceil(a.byteLength / 8) * 8;
    return { at, length: a.length };
  };
  const bodies = model.bodies.map(({ mesh, topology, ...rest }) => ({
    ...rest,
    topology: { ...topology, openEdgeVertices: put(topology.openEdgeVertices) },
    mesh: { positions: put(mesh.positions), triangles: put(mesh.triangles), tags: put(mesh.tags) },
  }));
  const header = new TextEncoder().encode(JSON.stringify({ ...model, bodies }));
  const start = Math.ceil((8 + header.length) / 8) * 8;
  const out = new Uint8Array(start + size);
  const view = new DataView(out.buffer);
  out.set([0x47, 0x45, 0x50, 0x4d]);
  view.setUint32(4, header.length, true);
  out.set(header, 8);
  for (const { bytes, at } of arrays) out.set(bytes, start + at);
  return out;
}

interface Ref {
  readonly at: number;
  readonly length: number;
}

type PackedBody = Omit<Body, 'mesh' | 'topology'> & {
  readonly mesh: { readonly positions: Ref; readonly triangles: Ref; readonly tags: Ref };
  readonly topology: Omit<Body['topology'], 'openEdgeVertices'> & { readonly openEdgeVertices: Ref };
};

/** The model of `packModel`. Throws GephyraError `model.packed` when the bytes are something else. */
export function unpackModel(bytes: Uint8Array): Model & { readonly reports: readonly StepReport[] } {
  const aligned = bytes.byteOffset % 8 === 0 ? bytes : bytes.slice();
  if (String.fromCharCode(...aligned.subarray(0, 4)) !== 'GEPM') {
    throw new GephyraError('model.packed', 'The model that was sent cannot be read. Load the page again.');
  }
  const length = new DataView(aligned.buffer, aligned.byteOffset).getUint32(4, true);
  const header = JSON.parse(new TextDecoder().decode(aligned.subarray(8, 8 + length)));
  const start = aligned.byteOffset + Math.ceil((8 + length) / 8) * 8;
  const floats = (r: Ref): Float64Array => new Float64Array(aligned.buffer, start + r.at, r.length);
  const ints = (r: Ref): Uint32Array => new Uint32Array(aligned.buffer, start + r.at, r.length);
  const bodies = (header.bodies as PackedBody[]).map(
    ({ mesh, topology, ...rest }): Body => ({
      ...rest,
      topology: { ...topology, openEdgeVertices: ints(topology.openEdgeVertices) },
      mesh: { positions: floats(mesh.positions), triangles: ints(mesh.triangles), tags: ints(mesh.tags) },
    }),
  );
  return { ...header, bodies };
}

import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { RawModel, RawPart } from '../src/formats/index.ts';
import type { IndexedMesh } from '../src/mesh/index.ts';

const FOLDER = fileURLToPath(new URL('../../../.cache/models', import.meta.url));

/** Sample models of other people's programs, fetched by the test setup; an empty list where that was not possible. */
export function sampleModels(ending: string): { name: string; bytes: Uint8Array }[] {
  if (!existsSync(FOLDER)) return [];
  return readdirSync(FOLDER, { recursive: true, encoding: 'utf8' })
    .filter((n) => n.toLowerCase().endsWith(ending))
    .sort()
    .map((n) => ({ name: n.split(/[\\/]/).at(-1) ?? n, bytes: new Uint8Array(readFileSync(join(FOLDER, n))) }));
}

/** Meshes as the parts of a model. */
export function modelOfMeshes(
  meshes: readonly (IndexedMesh & { name?: string })[],
  palette: RawModel['palette'] = [{ name: '', colour: '' }],
): RawModel {
  return {
    format: 'obj',
    notes: [],
    palette,
    parts: meshes.map(
      (m): RawPart => ({
        name: m.name ?? '',
        positions: m.positions,
        triangles: m.triangles,
        ...(m.tags.some((t) => t > 0) && { paint: m.tags }),
      }),
    ),
  };
}

/** Bytes with one bit turned over. */
export function flippedBit(bytes: Uint8Array, at: number): Uint8Array {
  const out = bytes.slice();
  out[at] ^= 4;
  return out;
}

/** Bytes with some of them changed, cut off, doubled or moved, the same for the same numbers. */
export function mutated(bytes: Uint8Array, next: () => number): Uint8Array {
  let out = bytes.slice();
  const changes = 1 + Math.floor(next() * 6);
  for (let k = 0; k < changes && out.length > 0; k++) {
    const at = Math.floor(next() * out.length);
    const kind = Math.floor(next() * 7);
    if (kind === 0) out[at] = Math.floor(next() * 256);
    else if (kind === 1) out[at] ^= 1 << Math.floor(next() * 8);
    else if (kind === 2) out = out.slice(0, at);
    else if (kind === 3) {
      const end = Math.min(out.length, at + Math.floor(next() * 64));
      out = Uint8Array.from([...out.subarray(0, at), ...out.subarray(end)]);
    } else if (kind === 4) {
      const piece = out.slice(at, at + Math.floor(next() * 64));
      out = Uint8Array.from([...out.subarray(0, at), ...piece, ...out.subarray(at)]);
    } else if (kind === 5) out.set(NASTY[Math.floor(next() * NASTY.length)].subarray(0, out.length - at), at);
    else out.copyWithin(at, Math.floor(next() * out.length), Math.floor(next() * out.length));
  }
  return out;
}

const NASTY = [
  '-1',
  '999999999999',
  'nan',
  '1e999',
  '\n',
  '..',
  '<!DOCTYPE x>',
  '\u0000\u0000\u0000\u0000',
  '\\\n',
  '//',
].map((t) => new TextEncoder().encode(t));

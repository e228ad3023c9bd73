import { rename, writeFile } from 'node:fs/promises';
import { dirname, extname, join } from 'node:path';
import { type Body, formatOfName, type Paint, type RawModel, toPrintable, writeModel } from '@gephyra/core';

/** Writes a model under the name given; what belongs beside it goes beside it. Nothing is left half-written. */
export async function writeModelFile(model: RawModel, path: string): Promise<string[]> {
  const stem = path.slice(0, path.length - extname(path).length);
  const files = writeModel(model, formatOfName(path), stem.split(/[\\/]/).at(-1) || 'model');
  const written: string[] = [];
  for (const file of files) {
    const target = file === files[0] ? path : join(dirname(path), file.name);
    await writeBytes(target, file.bytes);
    written.push(target);
  }
  return written;
}

/** Bodies as a file can hold them: rounded to float32, in millimetres. */
export const modelOfBodies = (bodies: readonly Body[], palette: readonly Paint[]): RawModel => ({
  format: '3mf',
  palette,
  notes: [],
  parts: bodies.map((b) => {
    const { mesh } = toPrintable(b.mesh);
    const painted = mesh.tags.some((t) => t > 0);
    return {
      name: b.name,
      positions: mesh.positions,
      triangles: mesh.triangles,
      unit: 'mm' as const,
      ...(painted && { paint: mesh.tags }),
    };
  }),
});

/** Writes a file whole or not at all. */
export async function writeBytes(path: string, bytes: Uint8Array): Promise<void> {
  await writeFile(`${path}.part`, bytes);
  await rename(`${path}.part`, path);
}

export const writeText = (path: string, text: string): Promise<void> =>
  writeBytes(path, new TextEncoder().encode(text));

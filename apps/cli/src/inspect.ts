import { basename } from 'node:path';
import {
  area,
  bounds,
  compact,
  GephyraError,
  readStl,
  shells,
  sizeOf,
  topology,
  volume,
  weldExact,
} from '@gephyra/core';
import { type Arguments, readInput } from './arguments.ts';

/** What a model file holds, after an exact weld and nothing else. */
export async function inspect({ words, flags }: Arguments): Promise<number> {
  if (words.length !== 1) throw new GephyraError('usage', 'inspect takes one file.');
  const raw = readStl(await readInput(words[0]), { name: basename(words[0]) });
  const soup = new Float32Array(raw.parts.reduce((n, p) => n + p.soup.length, 0));
  let at = 0;
  for (const part of raw.parts) {
    soup.set(part.soup, at);
    at += part.soup.length;
  }
  const weld = weldExact(soup);
  const mesh = { positions: weld.positions, triangles: weld.corners, tags: new Uint32Array(soup.length / 9) };
  const identity = Uint32Array.from({ length: weld.positions.length / 3 }, (_, i) => i);
  const clean = compact(mesh, identity);
  const t = topology(clean);
  const result = {
    format: raw.format,
    triangles: mesh.tags.length,
    vertices: weld.positions.length / 3,
    size: sizeOf(bounds(mesh.positions)),
    volume: volume(clean),
    area: area(clean),
    shells: shells(clean).count,
    watertight: t.watertight,
    openEdges: t.openEdges,
    nonManifoldEdges: t.nonManifoldEdges,
    inconsistentEdges: t.inconsistentEdges,
    notes: raw.notes,
  };
  if (flags.has('json')) console.log(JSON.stringify(result));
  else for (const [key, value] of Object.entries(result)) console.log(`${key.padEnd(18)} ${String(value)}`);
  return 0;
}

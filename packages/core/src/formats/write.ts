import { GephyraError } from '../errors.ts';
import { writeObj } from './obj.ts';
import { writePly } from './ply.ts';
import { type RawModel, type RawPart, triangleCount, UNITS } from './raw.ts';
import { writeStlAscii, writeStlBinary } from './stl.ts';
import { writeThreeMf } from './threemf.ts';

export const WRITE_FORMATS = ['stl', 'stl-ascii', 'obj', 'ply', 'ply-ascii', '3mf'] as const;
export type WriteFormat = (typeof WRITE_FORMATS)[number];

/** The format that a file name asks for by its ending. Throws GephyraError `format.unknown`. */
export function formatOfName(name: string): WriteFormat {
  const ending = /\.([a-z0-9]+)$/i.exec(name)?.[1].toLowerCase();
  if (ending === 'stl' || ending === 'obj' || ending === 'ply' || ending === '3mf') return ending;
  throw new GephyraError('format.unknown', `${name} ends in none of .stl, .obj, .ply, .3mf.`);
}

/** The model with every part in millimetres; parts whose unit is not known are taken as they are. */
export function inMillimetres(model: RawModel): RawModel {
  return {
    ...model,
    parts: model.parts.map((part): RawPart => {
      const factor = UNITS[part.unit ?? 'mm'];
      if (factor === 1) return part;
      return { ...part, unit: 'mm', positions: Float64Array.from(part.positions, (x) => x * factor) };
    }),
  };
}

/**
 * Writes a model in millimetres. STL and PLY know one surface: all parts go into it (ASCII STL keeps them by name). An OBJ
 * with colours comes with a second file, its material library.
 */
export function writeModel(source: RawModel, format: WriteFormat, stem: string): { name: string; bytes: Uint8Array }[] {
  const model = inMillimetres(source);
  switch (format) {
    case 'stl':
      return [{ name: `${stem}.stl`, bytes: writeStlBinary(merged(model), stem) }];
    case 'stl-ascii': {
      const solids = model.parts.map((p) => writeStlAscii(indexed(p), p.name || stem));
      return [{ name: `${stem}.stl`, bytes: new TextEncoder().encode(solids.join('')) }];
    }
    case 'obj': {
      const { obj, mtl } = writeObj(model, stem);
      const files = [{ name: `${stem}.obj`, bytes: obj }];
      if (mtl) files.push({ name: `${stem}.mtl`, bytes: new TextEncoder().encode(mtl) });
      return files;
    }
    case 'ply':
    case 'ply-ascii':
      return [{ name: `${stem}.ply`, bytes: writePly(model, format === 'ply' ? 'binary' : 'ascii') }];
    case '3mf':
      return [{ name: `${stem}.3mf`, bytes: writeThreeMf(model, stem) }];
  }
}

interface Plain {
  readonly positions: Float64Array;
  readonly triangles: Uint32Array;
}

/** A part with indices of its own. */
function indexed(part: RawPart): Plain {
  const positions = part.positions instanceof Float64Array ? part.positions : Float64Array.from(part.positions);
  return { positions, triangles: part.triangles ?? new Uint32Array(triangleCount(part) * 3).map((_, i) => i) };
}

function merged(model: RawModel): Plain {
  const parts = model.parts.map(indexed);
  if (parts.length === 1) return parts[0];
  const positions = new Float64Array(parts.reduce((n, p) => n + p.positions.length, 0));
  const triangles = new Uint32Array(parts.reduce((n, p) => n + p.triangles.length, 0));
  let v = 0;
  let t = 0;
  for (const p of parts) {
    positions.set(p.positions, v * 3);
    for (let i = 0; i < p.triangles.length; i++) triangles[t + i] = p.triangles[i] + v;
    v += p.positions.length / 3;
    t += p.triangles.length;
  }
  return { positions, triangles };
}

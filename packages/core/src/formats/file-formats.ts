import { GephyraError } from '../errors.ts';
import { concatenate } from '../mesh/index.ts';
import { readObj, writeObj } from './obj.ts';
import { readPly, writePly } from './ply.ts';
import { type RawModel, type RawPart, type ReadOptions, triangleCount } from './raw.ts';
import { readStl, writeStlAscii, writeStlBinary } from './stl.ts';
import { writeThreeMf } from './threemf.ts';
import type { Deflate } from './zip-write.ts';

/** A file by its name. */
export interface NamedFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** The endings of model files, in the order in which people are told them. */
export const MODEL_ENDINGS = ['stl', 'obj', 'ply', '3mf'] as const;
type Ending = (typeof MODEL_ENDINGS)[number];

/** A file format that is read. Files that are archives are told apart before. */
interface Reader {
  readonly name: string;
  /** begins as no other file does */
  marked?(head: string): boolean;
  /** whether a file may be one whose name says nothing that is known */
  looksLike?(bytes: Uint8Array, head: string): boolean;
  /** `beside` gives files that lie with it, by name */
  read(bytes: Uint8Array, options: ReadOptions, beside: (name: string) => Uint8Array | undefined): RawModel;
}

/** Formats that are read, by the endings of their files. What is written is listed below. */
export const READERS: Readonly<Record<Ending, Reader>> = {
  ply: { name: 'PLY', marked: (head) => /^ply[\r\n]/.test(head), read: readPly },
  obj: {
    name: 'OBJ',
    looksLike: (bytes) => /^\s*v\s+[-+.\d]/m.test(new TextDecoder('latin1').decode(bytes.subarray(0, 1 << 16))),
    read: readObj,
  },
  '3mf': {
    name: '3MF',
    // packages are archives: what comes here is none
    read: (_, { name = 'The file' }) => {
      throw new GephyraError('threemf.package', `${name} is no 3MF package: it is no archive. Export the model again.`);
    },
  },
  stl: {
    name: 'STL',
    looksLike: (bytes, head) => {
      if (/^\s*solid\b/i.test(head)) return true;
      if (bytes.length < 84) return false;
      const count = new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true);
      return count > 0 && Math.abs(84 + count * 50 - bytes.length) < 200;
    },
    read: readStl,
  },
};

/** A way to write a model in millimetres. */
interface Writer {
  /** how it is offered where pieces are exported; null: it is not */
  readonly offered: string | null;
  readonly ending: Ending;
  /** keeps many parts with their names apart, so all go into one file */
  readonly together: boolean;
  /** `deflate` packs what is an archive */
  write(model: RawModel, stem: string, deflate?: Deflate): NamedFile[];
}

/** Formats that are written. STL and PLY know one surface: all parts go into it (ASCII STL keeps them by name). */
const WRITERS = {
  stl: {
    offered: 'STL, one a piece',
    ending: 'stl',
    together: false,
    write: (model, stem) => [{ name: `${stem}.stl`, bytes: writeStlBinary(merged(model), stem) }],
  },
  'stl-ascii': {
    offered: 'text STL',
    ending: 'stl',
    together: false,
    write: (model, stem) => {
      const solids = model.parts.map((p) => writeStlAscii(indexed(p), p.name || stem));
      return [{ name: `${stem}.stl`, bytes: new TextEncoder().encode(solids.join('')) }];
    },
  },
  ply: {
    offered: 'PLY',
    ending: 'ply',
    together: false,
    write: (model, stem) => [{ name: `${stem}.ply`, bytes: writePly(model, 'binary') }],
  },
  'ply-ascii': {
    offered: null,
    ending: 'ply',
    together: false,
    write: (model, stem) => [{ name: `${stem}.ply`, bytes: writePly(model, 'ascii') }],
  },
  obj: {
    offered: 'one OBJ',
    ending: 'obj',
    together: true,
    // with colours it comes with a second file, its material library
    write: (model, stem) => {
      const { obj, mtl } = writeObj(model, stem);
      const files = [{ name: `${stem}.obj`, bytes: obj }];
      if (mtl) files.push({ name: `${stem}.mtl`, bytes: new TextEncoder().encode(mtl) });
      return files;
    },
  },
  '3mf': {
    offered: 'one 3MF',
    ending: '3mf',
    together: true,
    write: (model, stem, deflate) => [{ name: `${stem}.3mf`, bytes: writeThreeMf(model, stem, deflate) }],
  },
} satisfies Record<string, Writer>;

export type WriteFormat = keyof typeof WRITERS;
export const WRITE_FORMATS = Object.keys(WRITERS) as readonly WriteFormat[];

export const writerOf = (format: WriteFormat): Writer => WRITERS[format];

/** Formats that pieces are exported in, in the order in which they are offered. */
export const EXPORT_FORMATS = WRITE_FORMATS.filter((f) => writerOf(f).offered !== null);
export type ExportFormat = WriteFormat;

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
  return concatenate(parts.map((p) => ({ ...p, tags: new Uint32Array(p.triangles.length / 3) })));
}

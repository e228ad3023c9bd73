import { GephyraError } from '../errors.ts';
import { plainText } from '../plain-text.ts';
import { MODEL_ENDINGS, READERS } from './file-formats.ts';
import { Palette } from './palette.ts';
import type { RawModel, RawPart, ReadOptions } from './raw.ts';
import { readThreeMf } from './threemf-read.ts';
import { isZip, unzipFiles, zipNames } from './zip.ts';

const MODEL_FILE = new RegExp(`\\.(${MODEL_ENDINGS.join('|')})$`, 'i');
const MOST_KIT_FILES = 500;

/**
 * Reads a model file of any known format; which one is told from its content, the name only settles doubts. Names in it are
 * made fit to be kept and shown. An archive of
 * several model files is a kit: each file's parts keep its name. Material libraries in the archive are found.
 *
 * Throws what the readers throw; `model.unknown` when it is none of the formats, `kit.empty`, `kit.tooMany`, `model.empty`
 * for no bytes at all.
 */
export function readModel(bytes: Uint8Array, options: ReadOptions = {}): RawModel {
  const model = readAny(bytes, options);
  return {
    ...model,
    parts: model.parts.map((part) => ({ ...part, name: plainText(part.name) })),
    palette: model.palette.map((paint) => ({ ...paint, name: plainText(paint.name) })),
  };
}

function readAny(bytes: Uint8Array, options: ReadOptions): RawModel {
  const name = options.name ?? 'The file';
  if (bytes.length === 0) throw new GephyraError('model.empty', `${name} is empty. Export the model again.`);
  if (!isZip(bytes)) return readSingle(bytes, options, () => undefined);
  const names = zipNames(bytes, name);
  const lower = names.map((n) => n.toLowerCase());
  if (lower.includes('[content_types].xml') || lower.some((n) => /^3d\/.*\.model$/.test(n))) {
    return readThreeMf(bytes, options);
  }
  return readKit(bytes, names, name, options);
}

function readSingle(
  original: Uint8Array,
  options: ReadOptions,
  sideFile: (name: string) => Uint8Array | undefined,
): RawModel {
  const name = options.name ?? 'The file';
  const bytes = asUtf8(original);
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 400));
  const claimed = /\.([a-z0-9]+)$/i.exec(name)?.[1].toLowerCase();
  const known = MODEL_ENDINGS.find((e) => e === claimed);
  const readers = Object.values(READERS);
  const reader =
    readers.find((r) => r.marked?.(head)) ??
    (known && READERS[known]) ??
    readers.find((r) => r.looksLike?.(bytes, head)) ??
    (claimed === undefined ? READERS.stl : undefined);
  if (!reader) throw new GephyraError('model.unknown', `${name} is none of STL, OBJ, PLY, 3MF, or a zip of these.`);
  return reader.read(bytes, options, sideFile);
}

/** Text in UTF-16 as UTF-8, and a byte order mark taken off; anything else as it is. */
function asUtf8(bytes: Uint8Array): Uint8Array {
  const coding =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : '';
  if (coding) return new TextEncoder().encode(new TextDecoder(coding).decode(bytes));
  return bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? bytes.subarray(3) : bytes;
}

/** Parts of several files keep the name of their file, and their own behind it where the file has several. */
const nameInKit = (stem: string, part: RawPart, model: RawModel): string =>
  part.name && model.parts.length > 1 ? `${stem} ${part.name}` : stem;

function readKit(bytes: Uint8Array, names: readonly string[], name: string, options: ReadOptions): RawModel {
  // what some systems put beside files when they pack them is not part of the kit
  const own = names.filter((n) => !/(^|\/)(__macosx\/|\.)/i.test(n));
  const models = own.filter((n) => MODEL_FILE.test(n)).sort();
  if (models.length === 0) {
    throw new GephyraError('kit.empty', `${name} holds no STL, OBJ, PLY or 3MF file.`);
  }
  if (models.length > MOST_KIT_FILES) {
    throw new GephyraError(
      'kit.tooMany',
      `${name} holds ${models.length} models; at most ${MOST_KIT_FILES} are taken.`,
    );
  }
  const files = unzipFiles(bytes, name, (n) => models.includes(n) || /\.mtl$/i.test(n));
  const base = (path: string): string => path.split(/[/\\]/).at(-1) ?? path;
  const palette = new Palette();
  const parts: RawPart[] = [];
  const notes: string[] = [];
  const read = models.map((path) => {
    const file = files.get(path);
    if (!file) throw new GephyraError('zip.damaged', `${name} is damaged: “${base(path)}” cannot be unpacked.`);
    const inner = { ...options, name: base(path) };
    const beside = (wanted: string): Uint8Array | undefined =>
      [...files].find(([n]) => base(n).toLowerCase() === base(wanted).toLowerCase())?.[1];
    return { path, model: isZip(file) ? readThreeMf(file, inner) : readSingle(file, inner, beside) };
  });
  for (const { path, model } of read) {
    const stem = base(path).replace(MODEL_FILE, '');
    const numbers = model.palette.map((p) => palette.add(p.name, p.colour));
    for (const part of model.parts) {
      const title = read.length === 1 ? part.name || stem : nameInKit(stem, part, model);
      parts.push({ ...part, name: title, ...(part.paint && { paint: part.paint.map((x) => numbers[x]) }) });
    }
    notes.push(...model.notes.map((n) => `${base(path)}: ${n}`));
  }
  return { format: read.length === 1 ? read[0].model.format : 'kit', parts, palette: palette.list(), notes };
}

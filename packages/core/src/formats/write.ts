import { GephyraError } from '../errors.ts';
import { MODEL_ENDINGS, type NamedFile, type WriteFormat, writerOf } from './file-formats.ts';
import { type RawModel, type RawPart, UNITS } from './raw.ts';
import type { Deflate } from './zip-write.ts';

/** The format that a file name asks for by its ending. Throws GephyraError `format.unknown`. */
export function formatOfName(name: string): WriteFormat {
  const ending = /\.([a-z0-9]+)$/i.exec(name)?.[1].toLowerCase();
  const known = MODEL_ENDINGS.find((e) => e === ending);
  if (known) return known;
  throw new GephyraError('format.unknown', `${name} ends in none of ${MODEL_ENDINGS.map((e) => `.${e}`).join(', ')}.`);
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

/** Writes a model in millimetres: one file, or with what belongs to it. */
export const writeModel = (model: RawModel, format: WriteFormat, stem: string, deflate?: Deflate): NamedFile[] =>
  writerOf(format).write(inMillimetres(model), stem, deflate);

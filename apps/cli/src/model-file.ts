import { basename } from 'node:path';
import { bodiesOf, type Import, type RawModel, readModel } from '@gephyra/core';
import { readInput } from './arguments.ts';

/** A model file as it was read, and its bodies. */
export interface ModelFile {
  readonly raw: RawModel;
  readonly found: Import;
  /** the file's name without its ending */
  readonly stem: string;
}

/** Reads a model file of any known format. Throws what reading it throws. */
export async function readModelFile(path: string): Promise<ModelFile> {
  const name = basename(path);
  const raw = readModel(await readInput(path), { name });
  const stem = name.replace(/\.[^.]*$/, '');
  return { raw, found: bodiesOf(raw, stem), stem };
}

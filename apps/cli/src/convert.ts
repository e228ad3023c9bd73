import { basename } from 'node:path';
import { formatOfName, GephyraError, readModel } from '@gephyra/core';
import { type Arguments, readInput } from './arguments.ts';
import { writeModelFile } from './files.ts';

/** Reads a model and writes it in another format, in millimetres, surfaces and colours as they are. */
export async function convert({ words, flags }: Arguments): Promise<number> {
  const out = flags.get('out');
  if (words.length !== 1 || !out) throw new GephyraError('usage', 'Say convert FILE --out FILE.');
  formatOfName(out);
  const model = readModel(await readInput(words[0]), { name: basename(words[0]) });
  const files = await writeModelFile(model, out);
  if (flags.has('json')) console.log(JSON.stringify({ files, parts: model.parts.length, notes: model.notes }));
  else console.log(`${files.join(', ')} written.`);
  return 0;
}

import { GephyraError, triangleCount } from '@gephyra/core';
import type { Arguments } from './arguments.ts';
import { readModelFile } from './model-file.ts';
import { reportOf } from './report.ts';

/** What a model file holds, after an exact weld, and everything that is wrong with it. */
export async function inspect({ words, flags }: Arguments): Promise<number> {
  if (words.length !== 1) throw new GephyraError('usage', 'inspect takes one file.');
  const { raw, found } = await readModelFile(words[0]);
  const report = reportOf(found.bodies, found);
  const result = {
    format: raw.format,
    unit: found.unit,
    ...report,
    triangles: raw.parts.reduce((n, p) => n + triangleCount(p), 0),
    notes: found.notes,
  };
  if (flags.has('json')) console.log(JSON.stringify(result));
  else {
    for (const [key, value] of Object.entries(result)) {
      const plain = Array.isArray(value) && typeof value[0] === 'object' ? String(value.length) : String(value);
      console.log(`${key.padEnd(20)} ${plain}`);
    }
    for (const b of report.bodies) {
      console.log(`  ${b.id} ${b.name}: ${b.triangles} triangles, ${b.closed ? 'closed' : 'open'}`);
    }
  }
  return 0;
}

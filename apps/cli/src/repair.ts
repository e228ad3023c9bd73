import {
  applyRecipe,
  formatOfName,
  GephyraError,
  isClosed,
  loadKernel,
  loadSimplifier,
  modelOf,
  stepSchema,
} from '@gephyra/core';
import type { Arguments } from './arguments.ts';
import { modelOfBodies, writeModelFile } from './files.ts';
import { readModelFile } from './model-file.ts';
import { reportOf } from './report.ts';

/**
 * Mends everything that can be mended and writes the result. What stays open is said and written all the same, as it is;
 * the exit code is then 2.
 */
export async function repair({ words, flags }: Arguments): Promise<number> {
  const out = flags.get('out');
  if (words.length !== 1 || !out) throw new GephyraError('usage', 'Say repair FILE --out FILE.');
  formatOfName(out);
  const { found } = await readModelFile(words[0]);
  const before = reportOf(found.bodies, found);
  await loadSimplifier();
  const tolerance = flags.get('tolerance');
  const step = stepSchema.parse({
    kind: 'mend',
    openings: flags.has('close-openings'),
    ...(tolerance !== undefined && { tolerance: Number(tolerance) }),
  });
  const mended = applyRecipe([step], modelOf(found), { tools: { kernel: await loadKernel() } });
  const after = reportOf(mended.bodies, { degenerate: 0, flipped: 0 });
  const files = await writeModelFile(modelOfBodies(mended.bodies, found.palette), out);
  const [{ notes, deviation }] = mended.reports;
  const closed = mended.bodies.every(isClosed);
  if (flags.has('json')) console.log(JSON.stringify({ before, after, closed, deviation, notes, files }));
  else {
    for (const key of ['openEdges', 'nonManifoldEdges', 'inconsistentEdges', 'duplicateTriangles'] as const) {
      console.log(`${key.padEnd(20)} ${before[key]} -> ${after[key]}`);
    }
    console.log(`${'bodies'.padEnd(20)} ${before.bodies.length} -> ${after.bodies.length}`);
    console.log(`${'moved by, mm'.padEnd(20)} ${deviation?.old.toFixed(4)}`);
    for (const n of notes) console.log(n);
    console.log(`${files.join(', ')} written.`);
  }
  return closed ? 0 : 2;
}

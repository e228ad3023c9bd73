// npm run fuzz [cases]: damages valid model files in many ways and reads them. Every one must be read, or refused in words
// with a reason; nothing may crash, hang for more than two seconds, or be refused by an unforeseen error.
import process from 'node:process';
import { bodiesOf, GephyraError, readModel, WRITE_FORMATS, writeModel } from '@gephyra/core';
import { zipSync } from 'fflate';
import { random } from '../packages/core/testing/defects.ts';
import { modelOfMeshes, mutated, sampleModels } from '../packages/core/testing/models.ts';
import { box, torus } from '../packages/core/testing/shapes.ts';

const cases = Number(process.argv[2] ?? 20_000);
const ring = torus(10, 10, 8, () => 3);
const model = modelOfMeshes(
  [
    { ...ring, tags: ring.tags.map((_, i) => i % 2), name: 'Ring' },
    { ...box([0, 0, 0], [1, 2, 3]), name: 'Box' },
  ],
  [
    { name: '', colour: '' },
    { name: 'Brass', colour: '#b08d3e' },
  ],
);
const seeds = WRITE_FORMATS.map((format) => {
  const files = writeModel(model, format, 'reeve');
  const kit = files.length > 1;
  return {
    name: kit ? 'reeve.zip' : files[0].name,
    bytes: kit ? zipSync(Object.fromEntries(files.map((f) => [f.name, f.bytes]))) : files[0].bytes,
  };
});
for (const ending of ['.obj', '.ply', '.stl', '.3mf']) {
  for (const { name, bytes } of sampleModels(ending)) if (bytes.length < 30_000) seeds.push({ name, bytes });
}

const next = random(20261123);
const codes = new Map<string, number>();
let slowest = 0;
let failures = 0;
const start = performance.now();
for (let i = 0; i < cases; i++) {
  const seed = seeds[i % seeds.length];
  const bytes = mutated(seed.bytes, next);
  const begun = performance.now();
  let outcome = 'read';
  try {
    bodiesOf(readModel(bytes, { name: seed.name }), seed.name);
  } catch (error) {
    outcome = error instanceof GephyraError ? error.code : `UNFORESEEN ${String(error)}`;
    if (!(error instanceof GephyraError) || error.message.length < 15) {
      failures++;
      console.log(`case ${i}, ${seed.name}: ${outcome}`);
    }
  }
  const took = performance.now() - begun;
  slowest = Math.max(slowest, took);
  if (took > 2000) {
    failures++;
    console.log(`case ${i}, ${seed.name}: ${took.toFixed(0)} ms`);
  }
  codes.set(outcome, (codes.get(outcome) ?? 0) + 1);
}
for (const [code, n] of [...codes].sort((a, b) => b[1] - a[1])) console.log(`${String(n).padStart(7)}  ${code}`);
console.log(
  `${cases} cases of ${seeds.length} files in ${((performance.now() - start) / 1000).toFixed(0)} s, slowest ${slowest.toFixed(0)} ms, ${failures} failures`,
);
process.exitCode = failures > 0 ? 1 : 0;

import { bodiesOf, readModel, WRITE_FORMATS, writeModel } from '@gephyra/core';
import { zipSync } from 'fflate';
import { modelOfMeshes, mutated, sampleModels } from '../../packages/core/testing/models.ts';
import { box, torus } from '../../packages/core/testing/shapes.ts';
import { type Fuzz, refusal } from './fuzz.ts';

interface Seed {
  readonly name: string;
  readonly bytes: Uint8Array;
}

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

const fuzzOf = (seeds: readonly Seed[], usual: number): Fuzz => ({
  usual,
  longest: 2000,
  async run(next) {
    const seed = seeds[Math.floor(next() * seeds.length)];
    try {
      bodiesOf(readModel(mutated(seed.bytes, next), { name: seed.name }), seed.name);
      return { outcome: 'read', fault: null };
    } catch (error) {
      return refusal(error);
    }
  },
});

/** Damaged model files of every format, our own and those of other programs. */
export function readers(): Fuzz {
  const seeds = WRITE_FORMATS.flatMap((format): Seed[] => writeModel(model, format, 'reeve'));
  for (const ending of ['.obj', '.ply', '.stl', '.3mf']) {
    for (const { name, bytes } of sampleModels(ending)) if (bytes.length < 30_000) seeds.push({ name, bytes });
  }
  return fuzzOf(seeds, 20_000);
}

/** Damaged archives: kits of several models, packed and stored, and packages. */
export function zips(): Fuzz {
  const files = WRITE_FORMATS.flatMap((format) => writeModel(model, format, `reeve-${format}`));
  const kit = Object.fromEntries(files.filter((f) => !f.name.endsWith('.3mf')).map((f) => [`kit/${f.name}`, f.bytes]));
  const seeds = [0, 1, 6, 9].map((level) => ({ name: 'kit.zip', bytes: zipSync(kit, { level: level as 0 }) }));
  const packages = files.filter((f) => f.name.endsWith('.3mf'));
  return fuzzOf([...seeds, ...packages], 20_000);
}

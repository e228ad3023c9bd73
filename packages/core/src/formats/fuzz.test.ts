import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { random } from '../../testing/defects.ts';
import { modelOfMeshes, mutated } from '../../testing/models.ts';
import { box, torus } from '../../testing/shapes.ts';
import { GephyraError } from '../errors.ts';
import { readModel, WRITE_FORMATS, writeModel } from './index.ts';

const painted = { ...torus(10, 8, 6, () => 3), name: 'Ring' };
const model = modelOfMeshes(
  [
    { ...painted, tags: painted.tags.map((_, i) => i % 2) },
    { ...box([0, 0, 0], [1, 2, 3]), name: 'Box' },
  ],
  [
    { name: '', colour: '' },
    { name: 'Brass', colour: '#b08d3e' },
  ],
);

describe.each(WRITE_FORMATS)('damaged %s files', (format) => {
  it('are read, or refused with a place or a reason, and never anything else', () => {
    const files = writeModel(model, format, 'reeve');
    const valid =
      files.length === 1 ? files[0].bytes : zipSync(Object.fromEntries(files.map((f) => [f.name, f.bytes])));
    const next = random(20261123 + format.length);
    for (let i = 0; i < 120; i++) {
      const bytes = mutated(valid, next);
      try {
        const read = readModel(bytes, { name: files[0].name });
        expect(read.parts.length).toBeGreaterThan(0);
      } catch (error) {
        if (!(error instanceof GephyraError)) throw error;
        expect(error.message.length).toBeGreaterThan(20);
      }
    }
  });
});

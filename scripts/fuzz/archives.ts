import { parsePlan, writeStlBinary } from '@gephyra/core';
import { readArchive, writeArchive } from '../../apps/server/src/jobs/archive.ts';
import { mutated } from '../../packages/core/testing/models.ts';
import { box } from '../../packages/core/testing/shapes.ts';
import { type Fuzz, refusal } from './fuzz.ts';

/** Damaged archives of whole projects; also with the damage inside, so that what unpacks is no project. */
export function archives(): Fuzz {
  const plan = parsePlan({
    version: 5,
    printer: { size: [220, 220, 250] },
    seams: [{ id: 's1', kind: 'flat', origin: [0, 0, 5], normal: [0, 0, 1] }],
    joints: [{ id: 'j1', kind: 'pin', seam: 's1', at: [0, 0], diameter: 5, depth: 5 }],
  });
  const source = writeStlBinary(box([0, 0, 0], [20, 20, 20]), 'bell');
  const project = { projectName: 'Ebb bell', plan, fileName: 'bell.stl', allowTruncated: false };
  const { bytes } = writeArchive(project, source, []);
  return {
    usual: 10_000,
    longest: 2000,
    async run(next) {
      let archive = mutated(bytes, next);
      if (next() < 0.4) {
        const text = mutated(new TextEncoder().encode(JSON.stringify(plan)), next);
        let broken: unknown;
        try {
          broken = JSON.parse(new TextDecoder().decode(text));
        } catch {
          broken = new TextDecoder().decode(text);
        }
        archive = writeArchive({ ...project, plan: broken }, source, []).bytes;
      }
      try {
        readArchive(archive, 'bell.gephyra.zip');
        return { outcome: 'read', fault: null };
      } catch (error) {
        return refusal(error);
      }
    },
  };
}

import {
  applyRecipe,
  bodiesOf,
  diagnose,
  evenWall,
  hollowSpace,
  type Kernel,
  modelOf,
  readModel,
  stepSchema,
  toKernel,
  writeStlBinary,
} from '@gephyra/core';
import { blob } from '../packages/core/testing/shapes.ts';
import { median, type Row } from './measure.ts';

/** Milliseconds of one call. */
function time(work: () => unknown): number {
  const start = performance.now();
  work();
  return performance.now() - start;
}

/** Reading, health, mending and hollowing, against the kernel's own construction of the same mesh. */
export function benchModel(kernel: Kernel): Row[] {
  const million = blob(707, 707, 600, (a, z) => 150 + 14 * Math.sin(6 * a) + 15 * Math.cos(5 * z));
  const bytes = writeStlBinary(million, 'bench');
  const imported = () => bodiesOf(readModel(bytes), 'bench');
  const rounds = [1, 2, 3].map(() => {
    const kernelTime = time(() => toKernel(kernel, million).delete());
    let found = imported();
    const read = time(() => {
      found = imported();
    });
    const [body] = found.bodies;
    const quick = time(() => diagnose(body, { crossing: false, modelSize: 700 }));
    const again = imported();
    const full = time(() => diagnose(again.bodies[0], { crossing: true, modelSize: 700 }));
    const mend = time(() =>
      applyRecipe([stepSchema.parse({ kind: 'mend' })], modelOf(imported()), { tools: { kernel } }),
    );
    return { kernelTime, read, quick, full, mend };
  });
  const of = (f: (r: (typeof rounds)[number]) => number): number => median(rounds.map(f));
  const kernelTime = of((r) => r.kernelTime);
  const row = (what: string, milliseconds: number, limit: number): Row => ({
    what,
    measured: `${(milliseconds / 1000).toFixed(2)} s, ${(milliseconds / kernelTime).toFixed(2)} × the kernel’s construction (${(kernelTime / 1000).toFixed(2)} s)`,
    wanted: `at most ${limit} s`,
    ok: milliseconds <= limit * 1000,
  });
  const part = blob(387, 387, 400, (a, z) => 100 + 9 * Math.sin(6 * a) + 10 * Math.cos(5 * z));
  const hollow = time(() => hollowSpace(part, evenWall(3), []));
  return [
    row(
      '1 M STL read, and health but for crossings',
      of((r) => r.read + r.quick),
      2,
    ),
    row(
      '1 M STL read, and complete health',
      of((r) => r.read + r.full),
      6,
    ),
    row(
      'mend all on 1 M, reading included',
      of((r) => r.mend),
      15,
    ),
    row(`hollow ${(part.tags.length / 1000).toFixed(0)} k, 3 mm wall, 400 mm`, hollow, 20),
  ];
}

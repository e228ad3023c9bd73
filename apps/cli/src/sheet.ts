import { GephyraError } from '@gephyra/core';
import { PAPERS, type Paper, sheetPdf } from '@gephyra/sheet';
import type { Arguments } from './arguments.ts';
import { writeBytes } from './files.ts';
import { ordered } from './order.ts';
import { allPrints, planProject, printContext } from './plan-project.ts';

/** Writes the assembly sheet as a PDF: pieces, hardware, a panel a step. An order is found where the plan has none. */
export async function sheet({ words, flags }: Arguments): Promise<number> {
  const model = flags.get('model');
  const out = flags.get('out');
  const paper = (flags.get('paper') ?? 'a4').toUpperCase() as Paper;
  if (words.length !== 1 || !model || !out || !PAPERS.includes(paper)) {
    throw new GephyraError('usage', 'Say sheet PLAN.json --model FILE [--paper a4|letter] --out FILE.pdf.');
  }
  const began = performance.now();
  const { plan, stem, project, kernel, assembly } = ordered(await planProject(words[0], model));
  const context = printContext({ project, kernel }, plan);
  const bytes = await sheetPdf({
    context,
    prints: allPrints(context),
    assembly,
    name: stem,
    date: new Date(),
    paper,
  });
  await writeBytes(out, bytes);
  const result = {
    file: out,
    bytes: bytes.length,
    steps: assembly.steps.length,
    seconds: (performance.now() - began) / 1000,
  };
  console.log(
    flags.has('json')
      ? JSON.stringify(result)
      : `${result.steps} steps in ${out}, ${(bytes.length / 1e6).toFixed(2)} MB.`,
  );
  return 0;
}

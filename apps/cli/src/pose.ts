import { applyChange, GephyraError, planSchema, poseAll, posesTaken, sumOf, WISHES, type Wish } from '@gephyra/core';
import type { Arguments } from './arguments.ts';
import { writeText } from './files.ts';
import { limitOf } from './limit.ts';
import { allPrints, planProject, printContext, printJson } from './plan-project.ts';

/**
 * Looks for the best pose of every piece and writes the plan with them. Poses set by hand stay. Exit code 2 when a piece
 * does not fit its printer in any.
 */
export async function pose({ words, flags }: Arguments): Promise<number> {
  const model = flags.get('model');
  const out = flags.get('out');
  if (words.length !== 1 || !model || !out) {
    throw new GephyraError(
      'usage',
      'Say pose PLAN.json --model FILE [--wish support|fast|strong|show] --out PLAN2.json.',
    );
  }
  const given = flags.get('wish');
  if (given !== undefined && !WISHES.includes(given as Wish)) {
    throw new GephyraError('usage', `--wish is one of ${WISHES.join(', ')}.`);
  }
  const limit = limitOf(flags);
  const read = await planProject(words[0], model);
  const { plan, project } = read;
  const { evaluation } = project;
  const codeOf = (key: string): string => {
    const piece = evaluation.pieces.find((p) => p.key === key)!;
    return `${piece.code} ${piece.name}`;
  };
  const start = performance.now();
  const context = printContext(read, plan);
  const before = sumOf(allPrints(context));
  const search = poseAll(context, (given as Wish | undefined) ?? plan.wish, limit.enough);
  let step = search.next();
  while (!step.done) step = search.next();
  const next = applyChange(
    { ...plan, anchors: [...evaluation.anchors], codes: [...evaluation.codes], contacts: [...evaluation.contacts] },
    posesTaken(step.value, context),
  );
  const prints = allPrints({ ...context, plan: next });
  const after = sumOf(prints);
  const seconds = (performance.now() - start) / 1000;
  await writeText(out, `${JSON.stringify(planSchema.parse(next), null, 2)}\n`);
  const result = { plan: out, pieces: prints.map((p) => printJson(p, codeOf(p.key))), before, after, seconds };
  if (flags.has('json')) console.log(JSON.stringify(result));
  else {
    for (const p of prints) {
      const { figures: f, estimate: e } = p;
      console.log(
        `${codeOf(p.key)}: ${p.why}; ${f.fits ? '' : 'does not fit; '}support ${(f.supportVolume / 1000).toFixed(1)} cm³, ${e.hours.toFixed(1)} h, ${e.grams.toFixed(0)} g`,
      );
    }
    console.log(
      `${before.hours.toFixed(1)} h and ${(before.support / 1000).toFixed(1)} cm³ of support before, ` +
        `${after.hours.toFixed(1)} h and ${(after.support / 1000).toFixed(1)} cm³ now. The plan is in ${out}.`,
    );
  }
  return prints.every((p) => p.figures.fits) ? 0 : 2;
}

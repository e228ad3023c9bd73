import {
  EVEN_WISHES,
  finishedUnless,
  frozenPieces,
  GephyraError,
  kernelTriangulator,
  loadKernel,
  loadSimplifier,
  mirrorOf,
  mirrorSearch,
  parsePlan,
  proposeSeams,
  reasonWords,
  shapeProject,
  type Wishes,
} from '@gephyra/core';
import { type Arguments, numberOf } from './arguments.ts';
import { writeText } from './files.ts';
import { limitOf } from './limit.ts';
import { readModelFile } from './model-file.ts';
import { readJson } from './plan-check.ts';
import { withPrinters } from './printers.ts';

/** What is asked for by --wish: it weighs three times as much as the rest. */
const WISH = 3;

/**
 * Proposes seams for a model, or for the pieces of a plan that are too large, and writes the plan. It is computed on the
 * model before it is written; one that leaves something too large or open is written too, and the exit code is 2.
 */
export async function propose({ words, flags }: Arguments): Promise<number> {
  const out = flags.get('out');
  if (words.length !== 1 || !out) {
    throw new GephyraError('usage', 'Say propose FILE|PLAN.json [--model FILE] --printer 220x220x250 --out PLAN.json.');
  }
  const limit = limitOf(flags);
  const given = words[0].toLowerCase().endsWith('.json');
  const file = given ? flags.get('model') : words[0];
  if (!file) throw new GephyraError('usage', 'A plan needs its model: --model FILE.');
  const plan = withPrinters(given ? parsePlan(await readJson(words[0])) : null, flags.get('printer'));
  const { found } = await readModelFile(file);
  const kernel = await loadKernel();
  await loadSimplifier();
  const shaped = shapeProject(plan, found, kernel);
  const began = performance.now();
  const mirror = flags.has('symmetric')
    ? mirrorOf(finishedUnless(mirrorSearch(shaped.bodies.map((b) => b.mesh)), limit.enough))
    : null;
  if (flags.has('symmetric') && !mirror)
    console.error('There is no mirror plane, so the sides are parted each by itself.');
  const {
    plan: proposed,
    seams,
    figures,
    unlike,
  } = proposeSeams(
    plan,
    shaped,
    {
      printers: [plan.printer, ...plan.printers],
      wishes: wishesOf(flags.get('wish')),
      jointRoom: numberOf(flags, 'joint-room', 8),
      keep: 'all',
      turned: flags.has('turned'),
      ...(flags.has('longest') && { longest: numberOf(flags, 'longest', 0) }),
      whole: bodiesNamed(shaped.bodies, flags.get('whole')),
      still: [...frozenPieces(plan.log ?? []).keys()],
      mirror,
      effort: numberOf(flags, 'effort', 6000),
      seed: numberOf(flags, 'seed', 0),
    },
    { fallback: kernelTriangulator(kernel), kernel },
    () => !limit.enough(),
  );
  const seconds = (performance.now() - began) / 1000;
  await writeText(out, `${JSON.stringify(proposed, null, 2)}\n`);
  const bad = figures.fits < figures.pieces || figures.closed < figures.pieces;
  if (flags.has('json')) {
    const reasons = seams.map((s) => ({ seam: s.id, reasons: (s.reasons ?? []).map(reasonWords) }));
    console.log(JSON.stringify({ ...figures, unlike, seams: seams.length, seconds, reasons, plan: out }));
  } else {
    for (const s of seams) console.log(`${s.id}: ${(s.reasons ?? []).map(reasonWords).join('; ')}`);
    console.log(
      `${seams.length} seams, ${figures.pieces} pieces, ${figures.fits} of them fit; ${(figures.seamArea / 100).toFixed(0)} cm² to glue, ${(figures.seenLength / 1000).toFixed(2)} m of seam seen. The plan is in ${out}.`,
    );
  }
  return bad ? 2 : 0;
}

/** Ids of bodies by their names, parted by commas. */
function bodiesNamed(
  bodies: readonly { readonly id: string; readonly name: string }[],
  list: string | undefined,
): string[] {
  return (list?.split(',') ?? []).map((word) => {
    const found = bodies.find((b) => b.name === word.trim() || b.id === word.trim());
    if (!found)
      throw new GephyraError(
        'usage',
        `--whole: there is no body called ${word.trim()}. There are ${bodies.map((b) => b.name).join(', ')}.`,
      );
    return found.id;
  });
}

function wishesOf(wish: string | undefined): Wishes {
  if (wish === undefined) return EVEN_WISHES;
  if (!(wish in EVEN_WISHES)) throw new GephyraError('usage', '--wish is few, hidden or print.');
  return { ...EVEN_WISHES, [wish]: WISH };
}

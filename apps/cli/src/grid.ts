import { rename, writeFile } from 'node:fs/promises';
import {
  axisVector,
  buildBlocks,
  evaluateModel,
  GephyraError,
  gridFor,
  kernelTriangulator,
  loadKernel,
  modelBox,
  modelOf,
  type PlanInput,
  parsePlan,
  planSchema,
} from '@gephyra/core';
import { type Arguments, numberOf } from './arguments.ts';
import { readModelFile } from './model-file.ts';

const LONGEST = 3000;

/**
 * Writes a plan of seams across the axes, as few as will do, after which every piece of a model fits a printer. The plan is
 * evaluated before it is written; a plan that leaves something too big is not. Exit code 2 when some body is not closed,
 * because such a body cannot be cut.
 */
export async function grid({ words, flags }: Arguments): Promise<number> {
  const out = flags.get('out');
  if (words.length !== 1 || !out || !flags.has('printer')) {
    throw new GephyraError('usage', 'Say grid FILE --printer 220x220x250 [--margin 2] --out PLAN.json.');
  }
  const size = (flags.get('printer') ?? '').split(/[x×,]/).map(Number);
  if (size.length !== 3 || !size.every((x) => Number.isFinite(x) && x > 0)) {
    throw new GephyraError('usage', '--printer is three lengths in mm: 220x220x250.');
  }
  const { found } = await readModelFile(words[0]);
  const kernel = await loadKernel();
  const document: PlanInput = {
    version: 5,
    printer: { name: 'Own printer', size: size as [number, number, number], margin: numberOf(flags, 'margin', 2) },
  };
  const { printer } = parsePlan(document);
  const model = modelOf(found);
  const open = model.bodies.filter((b) => !b.topology.watertight || b.refused !== undefined);
  if (open.length > 0) {
    console.error(`${open.map((b) => b.name).join(', ')}: not closed, so it cannot be cut. “gephyra repair” mends it.`);
    return 2;
  }
  const box = modelBox(model.bodies);
  const longest = Math.max(...box.max.map((x, a) => x - box.min[a]));
  if (longest > LONGEST) {
    throw new GephyraError(
      'grid.size',
      `The model is ${longest.toFixed(0)} mm long; up to ${LONGEST} mm can be parted.`,
    );
  }
  const plan = gridFor(
    model.bodies.map((b) => buildBlocks(b.mesh)),
    box,
    { printer, axes: [0, 1, 2], spacing: 'even', jointRoom: numberOf(flags, 'joint-room', 8), clear: [[], [], []] },
  );
  if (plan.over > 0)
    throw new GephyraError('grid.room', 'The printer is too small for pieces with joints between them.');
  const middle = box.min.map((x, a) => (x + box.max[a]) / 2);
  const seams = plan.planes.flatMap((places, axis) =>
    places.map((at) => {
      const origin = middle.map((m, a) => Number((a === axis ? at : m).toFixed(4))) as [number, number, number];
      const normal = [...axisVector(axis)];
      return { kind: 'flat' as const, name: `Across ${'xyz'[axis]} at ${at.toFixed(1)}`, origin, normal };
    }),
  );
  const whole = parsePlan({ ...document, seams: seams.map((s, i) => ({ id: `s${i + 1}`, ...s })) });
  const e = evaluateModel(whole, model, { fallback: kernelTriangulator(kernel), kernel });
  const tooBig = e.pieces.filter((p) => !p.build.within);
  if (tooBig.length > 0)
    throw new GephyraError('grid.over', `${tooBig.length} pieces would still be too big; no plan was written.`);
  await writeFile(
    `${out}.part`,
    `${JSON.stringify({ ...planSchema.parse(whole), anchors: e.anchors, codes: e.codes }, null, 2)}\n`,
  );
  await rename(`${out}.part`, out);
  const result = { planes: plan.planes, used: plan.count, byBox: plan.byBox, pieces: e.pieces.length, plan: out };
  if (flags.has('json')) console.log(JSON.stringify(result));
  else {
    console.log(`The box round the model alone would need ${plan.byBox} planes; ${plan.count} are used.`);
    console.log(`${e.pieces.length} pieces, all of them fit. The plan is in ${out}.`);
  }
  return 0;
}

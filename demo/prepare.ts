import {
  applyChange,
  Blocking,
  bodiesOf,
  computeProject,
  EVEN_WISHES,
  EvalCache,
  fillBeds,
  finished,
  type Kernel,
  kernelTriangulator,
  type Plan,
  type PlanInput,
  type PrintContext,
  parsePlan,
  piecePrints,
  poseAll,
  posesTaken,
  proposeOrder,
  proposeSeams,
  readModel,
  seatJoints,
  shapeProject,
  sharedFiles,
} from '@gephyra/core';

/** A plan with the seams that are proposed for it, joints on all their faces, and an order of joining. */
export function proposed(kernel: Kernel, bytes: Uint8Array, name: string, input: PlanInput): Plan {
  const found = bodiesOf(readModel(bytes, { name }), name);
  const plan = parsePlan(input);
  const wish = {
    printers: [plan.printer],
    wishes: EVEN_WISHES,
    jointRoom: 8,
    keep: 'all',
    effort: 0,
    seed: 0,
  } as const;
  const tools = { fallback: kernelTriangulator(kernel), kernel };
  const model = shapeProject(plan, found, kernel);
  const parted = proposeSeams(plan, model, wish, tools);
  const { joints } = seatJoints(parted.plan, parted.evaluation);
  const joined = applyChange(parted.plan, { do: 'addJoints', joints });
  const { evaluation } = computeProject(joined, model, tools);
  const { steps } = finished(proposeOrder(evaluation, joined.seams, new Blocking(evaluation)));
  return applyChange(joined, { do: 'set', set: { order: [...steps] } });
}

/** A plan with every piece posed by the search, and beds filled with all that fit. */
export function prepared(kernel: Kernel, bytes: Uint8Array, name: string, input: PlanInput): Plan {
  const found = bodiesOf(readModel(bytes, { name }), name);
  const plan = parsePlan(input);
  const model = shapeProject(plan, found, kernel);
  const tools = { fallback: kernelTriangulator(kernel), kernel, cache: new EvalCache() };
  const contextOf = (p: Plan): PrintContext => {
    const { evaluation, alike } = computeProject(p, model, tools);
    return { kernel, plan: p, evaluation, shared: sharedFiles(evaluation, alike, p.pieces) };
  };
  const before = contextOf(plan);
  const posed = contextOf(applyChange(plan, posesTaken(finished(poseAll(before, plan.wish)), before)));
  return applyChange(posed.plan, fillBeds(posed, [...piecePrints(posed)]).change);
}

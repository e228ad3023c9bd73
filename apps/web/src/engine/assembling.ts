// The order of joining, as the page asks for it.
import {
  type Assembly,
  Blocking,
  checkOrder,
  type Evaluation,
  type Kernel,
  type Order,
  type Overlap,
  overlapFindings,
  overlapsAtRest,
  proposeOrder,
  type Swing,
  swingOf,
} from '@gephyra/core';
import type { HeldModel } from './held-model.ts';
import type { Tell } from './tell.ts';

/** Lets others have their turn in the worker. */
const turn = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));

/** What was found of the pieces of an evaluation stays as long as it does. */
const known = new WeakMap<Evaluation, Blocking>();
function blockingOf(e: Evaluation): Blocking {
  const own = known.get(e) ?? new Blocking(e);
  known.set(e, own);
  return own;
}

/** All steps of a plan's order of joining, checked. */
export async function assemblyOf(held: HeldModel, document: unknown): Promise<Assembly> {
  const { plan, e } = held.evaluation(document);
  const assembly = await inTurns(checkOrder(plan, e, blockingOf(e)));
  const codes = new Map(e.pieces.map((p) => [p.key, p.code]));
  const atRest = overlapFindings(await restOf(e, held.tools()), (key) => codes.get(key) ?? key);
  return { ...assembly, findings: [...assembly.findings, ...atRest] };
}

/** Pieces that overlap in their places: of an evaluation, whatever the order is. */
const resting = new WeakMap<Evaluation, Promise<Overlap[]>>();
function restOf(e: Evaluation, kernel: Kernel): Promise<Overlap[]> {
  const own = resting.get(e) ?? inTurns(overlapsAtRest(e, kernel));
  resting.set(e, own);
  return own;
}

/** Does work a piece at a time, so that others get their turn. */
async function inTurns<T, R>(work: Generator<T, R>, told: (done: T) => void = () => {}): Promise<R> {
  let step = work.next();
  while (!step.done) {
    told(step.value);
    await turn();
    step = work.next();
  }
  return step.value;
}

/** How far what hangs on a joint can be swung. */
export async function swingFound(held: HeldModel, document: unknown, joint: string, tell: Tell): Promise<Swing | null> {
  return inTurns(swingOf(held.evaluation(document).e, joint, held.tools()), (share) => tell(share, 'Swinging it'));
}

/** An order of joining found by taking apart. */
export async function orderOf(held: HeldModel, document: unknown, tell: Tell): Promise<Order> {
  const { plan, e } = held.evaluation(document);
  return inTurns(proposeOrder(e, plan.seams, blockingOf(e)), (share) => tell(share, 'Taking it apart'));
}

// The steps from a model to beds, as the page asks for them one by one.
import { alikePieces, type Done, type Preparation, prepareStep } from '@gephyra/core';
import type { HeldModel } from './held-model.ts';
import type { Tell } from './tell.ts';

/** What a step makes of a plan document. */
export function prepareOn(held: HeldModel, document: unknown, step: Preparation, tell: Tell): Done {
  const { plan, e } = held.evaluation(document);
  const stops = e.findings.filter((f) => f.severity === 'stop');
  const project = { plan, evaluation: e, stops, alike: alikePieces(e, plan.alike) };
  const tools = { fallback: held.fallback, kernel: held.tools(), cache: held.cache };
  return prepareStep(step, { project, model: held.model, tools, tell });
}

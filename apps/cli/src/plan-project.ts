import {
  type ComputedProject,
  computeProject,
  type Import,
  type Kernel,
  kernelTriangulator,
  loadKernel,
  loadSimplifier,
  type PiecePrint,
  type Plan,
  type PrintContext,
  parsePlan,
  piecePrints,
  type Shaped,
  shapeProject,
  sharedFiles,
} from '@gephyra/core';
import { readModelFile } from './model-file.ts';
import { readJson } from './plan-check.ts';

/** A plan computed on its model file. */
export interface PlanProject {
  readonly plan: Plan;
  readonly stem: string;
  readonly found: Import;
  readonly shaped: Shaped;
  readonly project: ComputedProject;
  readonly kernel: Kernel;
}

/** Reads a plan and its model, and computes the pieces. Throws what reading and computing throw. */
export async function planProject(planFile: string, modelFile: string): Promise<PlanProject> {
  const plan = parsePlan(await readJson(planFile));
  const { found, stem } = await readModelFile(modelFile);
  const kernel = await loadKernel();
  await loadSimplifier();
  const shaped = shapeProject(plan, found, kernel);
  const project = computeProject(plan, shaped, { fallback: kernelTriangulator(kernel), kernel });
  return { plan, stem, found, shaped, project, kernel };
}

/** What poses and beds of a computed plan are asked of. */
export function printContext({ project, kernel }: Pick<PlanProject, 'project' | 'kernel'>, plan: Plan): PrintContext {
  const { evaluation, alike } = project;
  return { kernel, plan, evaluation, shared: sharedFiles(evaluation, alike, plan.pieces) };
}

/** A print as the command line tells it: lengths mm, areas mm², volumes mm³; `up` in the source's coordinates is the plan's. */
export const printJson = (p: PiecePrint, code: string) => ({
  key: p.key,
  name: code,
  ...(p.of !== p.key && { sameFileAs: p.of, mirrored: p.mirrored }),
  up: p.pose.up,
  spin: p.pose.spin,
  why: p.why,
  printer: p.printer,
  restArea: p.figures.restArea,
  overhangArea: p.figures.overhangArea,
  supportVolume: p.figures.supportVolume,
  height: p.figures.height,
  fits: p.figures.fits,
  hours: p.estimate.hours,
  grams: p.estimate.grams,
  copies: p.copies,
});

/** How all pieces of a plan are printed. */
export const allPrints = (context: PrintContext): PiecePrint[] => [...piecePrints(context)];

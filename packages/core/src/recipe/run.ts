import type { Body } from '../body/index.ts';
import type { Step } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import { type Affine, compose, type IndexedMesh, sizeOf } from '../mesh/index.ts';
import { FARTHEST } from '../units.ts';
import type { Deviation } from './bodies.ts';
import { type Counts, countsOf } from './counts.ts';
import { type Model, mappedBody, modelBox } from './state.ts';
import { benchFor, heavyStep, lightStep, type Tools } from './steps/index.ts';

/** What a step did. */
export interface StepReport {
  /** the step's place among those that are on */
  readonly index: number;
  readonly before: Counts;
  readonly after: Counts;
  /** sentences for the maker */
  readonly notes: readonly string[];
  readonly deviation: Deviation | null;
}

export interface RecipeOptions {
  /** what heavy steps need */
  readonly tools?: Tools;
  /** ids of bodies that steps for all bodies leave out */
  readonly locked?: readonly string[];
  /** called with the share done and what is being done; what it throws ends the work */
  readonly progress?: (share: number, what: string) => void;
  /** maps a mesh; given to keep what was mapped before */
  readonly map?: (mesh: IndexedMesh, m: Affine) => IndexedMesh;
}

/**
 * Does the steps of a recipe one after another. The model given stays as it is; maps are gathered and done once before
 * each step that needs the surface.
 *
 * Throws what the steps throw; GephyraError `recipe.body` when a step names a body that is gone, `recipe.size` when the model
 * becomes larger than a kilometre or smaller than a thousandth of a millimetre, `recipe.tools` when a heavy step has no tools.
 */
export function applyRecipe(
  steps: readonly Step[],
  model: Model,
  options: RecipeOptions = {},
): Model & { readonly reports: readonly StepReport[] } {
  const active = steps.filter((s) => s.enabled);
  const reports: StepReport[] = [];
  let state = model;
  active.forEach((step, index) => {
    const progress = (share: number, what: string): void => options.progress?.((index + share) / active.length, what);
    const light = lightStep(step);
    if (light) {
      const pose = light.pose?.(step, state);
      state = pose ? moved(state, pose, options.map) : reshaped(state, light.select!(step, state, options.map));
      return;
    }
    const heavy = heavyStep(step);
    if (!heavy) throw new GephyraError('recipe.step', `The step “${step.kind}” is not known here.`);
    if (!options.tools) throw new GephyraError('recipe.tools', 'This step is work for the server.');
    const before = countsOf(state.bodies);
    const bench = benchFor(step, { state, tools: options.tools, locked: options.locked ?? [], progress });
    const work = heavy.work(step, bench);
    // what was known of a surface does not hold of another
    const known = new Set(state.bodies.map((b) => b.mesh));
    state = reshaped(
      state,
      work.bodies.map((b) => (known.has(b.mesh) ? b : withoutCrossings(b))),
    );
    reports.push({ index, before, after: countsOf(state.bodies), notes: work.notes, deviation: work.deviation });
  });
  checkSize(state);
  return { ...state, reports };
}

function withoutCrossings({ crossed: _, ...body }: Body): Body {
  return body;
}

const SMALLEST = 1e-3;

/** Beyond these sizes numbers no longer hold what a print needs, and steps would lose material without a word. */
function checkSize({ bodies }: Model): void {
  const { min, max } = modelBox(bodies);
  const size = Math.max(...sizeOf({ min, max }));
  const reach = Math.max(...[...min, ...max].map(Math.abs));
  if (size >= SMALLEST && size <= FARTHEST && reach <= 10 * FARTHEST) return;
  const said = (x: number): string => `${Number(x.toPrecision(3))} mm`;
  throw new GephyraError(
    'recipe.size',
    size > FARTHEST || !(size >= 0)
      ? `The model would be ${said(size)} large; at most ${said(FARTHEST)}. Change the steps that size it.`
      : size < SMALLEST
        ? `The model would be only ${said(size)} large; at least ${said(SMALLEST)}. Change the steps that size it.`
        : `The model would lie ${said(reach)} from the origin. Change the steps that move it.`,
  );
}

function moved(state: Model, pose: Affine, map: RecipeOptions['map']): Model {
  return { ...state, bodies: state.bodies.map((b) => mappedBody(b, pose, map)), map: compose(pose, state.map) };
}

function reshaped(state: Model, bodies: readonly Body[]): Model {
  if (bodies.length === 0)
    throw new GephyraError('recipe.nothing', 'Nothing would be left of the model after this step.');
  return { ...state, bodies };
}

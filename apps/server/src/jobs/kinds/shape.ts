import type { JobWanted } from '@gephyra/contract';
import { packModel, type Step, splitRecipe } from '@gephyra/core';
import { examined, shapedOf } from '../models.ts';
import { type AskedKind, MIB, MINUTE } from './kind.ts';

export interface RecipeWish {
  readonly steps: readonly Step[];
  readonly locked: readonly string[];
}

/** What is done of a recipe, by which models are known again. */
export const recorded = ({ steps, locked }: JobWanted<'shape'>): RecipeWish => ({
  // ids of steps say nothing about the result
  steps: splitRecipe(steps).heavy.map(({ id: _, ...step }) => step as Step),
  locked: [...locked].sort(),
});

/** The model that the steps of a recipe make, packed for the page. */
export const shape: AskedKind<'shape', RecipeWish> = {
  deadline: 30 * MINUTE,
  isLight: ({ steps }) => steps.length === 0,
  keep: { newest: 60, days: 90, bytes: 2048 * MIB },
  record: recorded,
  async work(request, tell) {
    const model = await shapedOf(request, request.steps, request.locked, tell);
    return { do: 'file', bytes: packModel(examined(model)), fileName: 'model.bin' };
  },
};

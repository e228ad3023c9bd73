import { packModel, type Step } from '@gephyra/core';
import { examined, shapedOf } from '../models.ts';
import { type JobKind, MIB, MINUTE } from './kind.ts';

export interface RecipeWish {
  readonly steps: readonly Step[];
  readonly locked: readonly string[];
}

/** The model that the steps of a recipe make, packed for the page. */
export const shape: JobKind<RecipeWish> = {
  deadline: 30 * MINUTE,
  isLight: ({ steps }) => steps.length === 0,
  keep: { newest: 60, days: 90, bytes: 2048 * MIB },
  async work(request, tell) {
    const model = await shapedOf(request, request.steps, request.locked, tell);
    return { do: 'file', bytes: packModel(examined(model)), fileName: 'model.bin' };
  },
};

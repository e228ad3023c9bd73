import type { Step } from '../document/index.ts';
import { applyRecipe, type StepReport } from './run.ts';
import type { Model } from './state.ts';
import type { Tools } from './steps/index.ts';

/** What a recipe made, and what its heavy steps did. */
export type Shaped = Model & { readonly reports: readonly StepReport[] };

/** So many models after the first steps of recipes are kept. */
const MOST_KEPT = 6;

/**
 * Models after the first n steps of recipes on one source, so that steps done before are not done again: for one that is added
 * at the end only that one is done. Ids of steps do not matter, as nothing of the result depends on them.
 */
export class ShapeCache {
  private readonly kept = new Map<string, Shaped>();

  constructor(private readonly source: Model) {}

  /** The model after all steps that are on, heavy ones included. Throws what `applyRecipe` throws. */
  shape(
    steps: readonly Step[],
    tools: Tools,
    locked: readonly string[] = [],
    progress: (share: number, what: string) => void = () => {},
  ): Shaped {
    const active = steps.filter((s) => s.enabled);
    const keys = active.map((_, n) => JSON.stringify([locked, active.slice(0, n + 1).map(({ id: _, ...s }) => s)]));
    let done = active.length;
    while (done > 0 && !this.kept.has(keys[done - 1])) done--;
    let model: Shaped = (done > 0 && this.kept.get(keys[done - 1])) || { ...this.source, reports: [] };
    const start = done;
    for (; done < active.length; done++) {
      const inner = (share: number, what: string): void =>
        progress((done - start + share) / (active.length - start), what);
      const next = applyRecipe([active[done]], model, { tools, locked, progress: inner });
      model = { ...next, reports: [...model.reports, ...next.reports.map((r) => ({ ...r, index: done }))] };
      this.keep(keys[done], model);
    }
    return model;
  }

  private keep(key: string, model: Shaped): void {
    this.kept.set(key, model);
    for (const oldest of this.kept.keys()) {
      if (this.kept.size <= MOST_KEPT) break;
      this.kept.delete(oldest);
    }
  }
}

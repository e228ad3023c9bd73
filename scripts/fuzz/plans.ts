import { check, type RandomCase, randomCase, shrunk } from '../../packages/core/testing/random-plans.ts';
import { richCase } from '../../packages/core/testing/rich-plans.ts';
import { type Fuzz, refusal } from './fuzz.ts';

/** Random models and plans: every piece that comes out is judged. A fault is told with the smallest plan that has it. */
export function plans(): Fuzz {
  const judge = (c: RandomCase): { outcome: string; fault: string | null } => {
    try {
      const { faults } = check(c);
      return { outcome: faults.length > 0 ? 'bad' : 'computed', fault: faults[0] ?? null };
    } catch (error) {
      return refusal(error);
    }
  };
  return {
    usual: 2000,
    // a plan of everything, on a machine that does something else
    longest: 60_000,
    async run(next) {
      // every third without what is carved, trimmed or painted
      const bad = next() < 1 / 3 ? randomCase(next) : richCase(next);
      const { outcome, fault } = judge(bad);
      if (fault === null) return { outcome, fault };
      const { plan, meshes } = shrunk(bad, (c) => judge(c).fault !== null);
      const small = {
        bodies: meshes.map((m) => m.tags.length),
        recipe: plan.recipe,
        seams: plan.seams,
        joints: plan.joints,
      };
      return { outcome, fault: `${fault}\n    ${JSON.stringify(small)}` };
    },
  };
}

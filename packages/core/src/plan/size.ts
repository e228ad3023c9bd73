import { bounds, sizeOf, uniteBoxes } from '../mesh/index.ts';
import type { Body } from '../repair/index.ts';
import type { Plan } from './schema.ts';

/** The box round all bodies as they were imported. */
export const sourceBox = (bodies: readonly Body[]) =>
  bodies.map((b) => bounds(b.mesh.positions)).reduce((a, b) => uniteBoxes(a, b));

/** By what the recipe multiplies the source model's lengths. */
export function scaleFactor(plan: Pick<Plan, 'recipe'>, bodies: readonly Body[]): number {
  const step = plan.recipe[0];
  if (!step) return 1;
  if ('factor' in step) return step.factor;
  const extent = sizeOf(sourceBox(bodies))['xyz'.indexOf(step.axis)];
  return extent > 0 ? step.size / extent : 1;
}

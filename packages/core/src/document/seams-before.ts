import type { Seam } from '../seams/kinds/index.ts';
import type { Plan } from './schema.ts';

/** The seams that cut before one of a plan does; all, where it is none of the plan's. */
export function seamsBefore({ seams }: Pick<Plan, 'seams'>, id: string): Seam[] {
  const at = seams.findIndex((s) => s.id === id);
  return at < 0 ? [...seams] : seams.slice(0, at);
}

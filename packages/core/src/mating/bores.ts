import type { Plan, StepOf } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import { type Affine, distance, mapPoint } from '../mesh/index.ts';
import { type Route, routeThrough, usualBend } from '../solid/index.ts';
import type { LoosePart } from './loose.ts';

/** The way of a bore on the model; null where a later size leaves its bends no room. */
export function boreRoute({ points, bend, diameter }: StepOf<'bore'>, map: Affine): Route | null {
  try {
    return routeThrough(
      points.map((p) => mapPoint(map, p)),
      bend ?? usualBend(diameter),
    );
  } catch (error) {
    if (error instanceof GephyraError) return null;
    throw error;
  }
}

/** How far it is from corner to corner, mm. */
const alongPlaces = ({ points }: StepOf<'bore'>, map: Affine): number =>
  points.map((p) => mapPoint(map, p)).reduce((sum, p, i, places) => sum + (i > 0 ? distance(p, places[i - 1]) : 0), 0);

/** What runs through the bores of a plan, as long as its route is on the model; equal ones together. */
export function stockOfBores({ recipe }: Pick<Plan, 'recipe'>, map: Affine): LoosePart[] {
  const found = new Map<string, LoosePart>();
  for (const step of recipe) {
    if (step.kind !== 'bore' || !step.enabled || !step.stock) continue;
    const what = `${step.stock} ${Number(step.diameter.toFixed(2))}`;
    const length = Number((boreRoute(step, map)?.length ?? alongPlaces(step, map)).toFixed(2));
    const count = (found.get(`${what} ${length}`)?.count ?? 0) + 1;
    const { diameter } = step;
    found.set(`${what} ${length}`, {
      kind: 'stock',
      what,
      stock: null,
      diameter,
      length,
      joints: [],
      count,
      mesh: null,
    });
  }
  return [...found.values()];
}

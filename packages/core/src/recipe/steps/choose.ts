import type { StepOf } from '../../document/index.ts';
import {
  type Affine,
  compose,
  mapNormal,
  mapPoint,
  mirroring,
  moving,
  turning,
  turningTo,
  vecOf,
} from '../../mesh/index.ts';
import { bodiesNamed, freeBodyId } from '../bodies.ts';
import { type Model, mappedBody } from '../state.ts';
import type { LightStep } from './step.ts';

const mirrorMap = (step: StepOf<'mirror'>, { map }: Model): Affine =>
  mirroring(mapNormal(map, step.normal), mapPoint(map, step.at));

export const mirror: LightStep<StepOf<'mirror'>> = {
  pose: (step, model) => (step.copy ? null : mirrorMap(step, model)),
  select(step, state, map) {
    const chosen = step.on ? bodiesNamed(step.on, state.bodies) : state.bodies;
    const m = mirrorMap(step, state);
    const copies = chosen.map((b) => ({
      ...mappedBody(b, m, map),
      id: freeBodyId(`${b.id}m`, state.bodies),
      name: `${b.name} mirrored`,
    }));
    return [...state.bodies, ...copies];
  },
};

export const bring: LightStep<StepOf<'bring'>> = {
  select(step, state, map) {
    bodiesNamed([step.body], state.bodies);
    const m = bringing(step, state.map);
    return state.bodies.map((b) => (b.id === step.body ? mappedBody(b, m, map) : b));
  },
};

export const remove: LightStep<StepOf<'remove'>> = {
  select(step, state) {
    bodiesNamed(step.on, state.bodies);
    return state.bodies.filter((b) => !step.on.includes(b.id));
  },
};

/** The motion that brings one face against another. `map`: from the source's coordinates to the model as it stands. */
function bringing({ from, to, turn, gap }: StepOf<'bring'>, map: Affine): Affine {
  const [own, home] = [mapPoint(map, from.at), mapPoint(map, to.at)];
  const out = mapNormal(map, to.normal);
  const turned = turningTo(mapNormal(map, from.normal), [-out[0], -out[1], -out[2]], own);
  const there = vecOf((a) => home[a] + out[a] * gap - own[a]);
  return compose(turning(out, turn, home), compose(moving(there), turned));
}

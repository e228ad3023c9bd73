import type { StepOf } from '../../document/index.ts';
import { type Box, mapNormal, moving, turning, turningTo, type Vec3, vecOf } from '../../mesh/index.ts';
import { type Model, modelBox } from '../state.ts';
import type { LightStep } from './step.ts';

const AXES: Record<'x' | 'y' | 'z', Vec3> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

const middle = ({ min, max }: Box): Vec3 => vecOf((a) => (min[a] + max[a]) / 2);
const middleOf = (model: Model): Vec3 => middle(modelBox(model.bodies));

export const turn: LightStep<StepOf<'turn'>> = {
  pose: (step, model) => turning(AXES[step.axis], step.angle, middleOf(model)),
};

export const lay: LightStep<StepOf<'lay'>> = {
  pose: (step, model) => turningTo(mapNormal(model.map, step.normal), [0, 0, -1], middleOf(model)),
};

export const place: LightStep<StepOf<'place'>> = {
  pose(step, model) {
    const { min } = modelBox(model.bodies);
    const [x, y] = middleOf(model);
    return moving(step.to === 'floor' ? [0, 0, -min[2]] : [-x, -y, -min[2]]);
  },
};

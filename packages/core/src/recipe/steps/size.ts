import type { Body } from '../../body/index.ts';
import type { StepOf } from '../../document/index.ts';
import { GephyraError } from '../../errors.ts';
import { UNITS } from '../../formats/index.ts';
import { type Affine, type Box, scaling, sizeOf, vecOf } from '../../mesh/index.ts';
import { takeMeasure } from '../measure.ts';
import { modelBox } from '../state.ts';
import type { LightStep } from './step.ts';

export const unit: LightStep<StepOf<'unit'>> = {
  pose: (step) => scaling(vecOf(() => UNITS[step.unit])),
};

export const scale: LightStep<StepOf<'scale'>> = {
  pose(step, model) {
    if (step.factors) return scaling(step.factors);
    if (step.factor !== undefined) return scaling([step.factor, step.factor, step.factor]);
    const axis = 'xyz'.indexOf(step.axis ?? 'z');
    const extent = sizeOf(modelBox(model.bodies) as Box)[axis];
    const f = extent > 0 ? (step.size ?? extent) / extent : 1;
    return scaling(vecOf((a) => (step.locked || a === axis ? f : 1)));
  },
};

export const tailor: LightStep<StepOf<'tailor'>> = {
  pose(step, model) {
    const f = tailorFactor(step, model.bodies, model.map);
    return scaling([f, f, f]);
  },
};

/** By what tailoring to a wearer scales the model as it stands. */
function tailorFactor(step: StepOf<'tailor'>, bodies: readonly Body[], map: Affine): number {
  const length = takeMeasure(step.measure, bodies, map);
  if (!(length > 1e-9)) {
    throw new GephyraError('measure.nothing', 'The measure meets no surface of the model. Take it at another place.');
  }
  return Math.max(1e-6, (step.wanted + step.room) / length);
}

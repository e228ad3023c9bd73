import type { Step, StepOf } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import { UNITS } from '../formats/index.ts';
import {
  type Affine,
  type Box,
  compose,
  mapNormal,
  mapPoint,
  mirroring,
  moving,
  scaling,
  sizeOf,
  turning,
  turningTo,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';
import type { Body } from '../repair/index.ts';
import { takeMeasure } from './measure.ts';
import { type Model, modelBox } from './state.ts';

const AXES: Record<'x' | 'y' | 'z', Vec3> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

const middle = ({ min, max }: Box): Vec3 => vecOf((a) => (min[a] + max[a]) / 2);

/**
 * The map by which a step turns, scales, moves or mirrors the model as it stands; null for a step that does something else.
 * Throws GephyraError `measure.nothing` when a measure of the wearer meets no surface.
 */
export function poseMap(step: Step, model: Model): Affine | null {
  const box = (): Box => modelBox(model.bodies);
  switch (step.kind) {
    case 'unit': {
      const f = UNITS[step.unit];
      return scaling([f, f, f]);
    }
    case 'scale': {
      if (step.factors) return scaling(step.factors);
      if (step.factor !== undefined) return scaling([step.factor, step.factor, step.factor]);
      const axis = 'xyz'.indexOf(step.axis ?? 'z');
      const extent = sizeOf(box())[axis];
      const f = extent > 0 ? (step.size ?? extent) / extent : 1;
      return scaling(vecOf((a) => (step.locked || a === axis ? f : 1)));
    }
    case 'tailor': {
      const f = tailorFactor(step, model.bodies, model.map);
      return scaling([f, f, f]);
    }
    case 'turn':
      return turning(AXES[step.axis], step.angle, middle(box()));
    case 'lay':
      return turningTo(mapNormal(model.map, step.normal), [0, 0, -1], middle(box()));
    case 'place': {
      const { min } = box();
      const [x, y] = middle(box());
      return moving(step.to === 'floor' ? [0, 0, -min[2]] : [-x, -y, -min[2]]);
    }
    case 'mirror':
      if (step.copy) return null;
      return mirroring(mapNormal(model.map, step.normal), mapPoint(model.map, step.at));
    default:
      return null;
  }
}

/** The motion that brings one face against another. `map`: from the source's coordinates to the model as it stands. */
export function bringing({ from, to, turn, gap }: StepOf<'bring'>, map: Affine): Affine {
  const [own, home] = [mapPoint(map, from.at), mapPoint(map, to.at)];
  const out = mapNormal(map, to.normal);
  const turned = turningTo(mapNormal(map, from.normal), [-out[0], -out[1], -out[2]], own);
  const there = vecOf((a) => home[a] + out[a] * gap - own[a]);
  return compose(turning(out, turn, home), compose(moving(there), turned));
}

/** By what a fit to the wearer scales the model as it stands. */
function tailorFactor(step: Extract<Step, { kind: 'tailor' }>, bodies: readonly Body[], map: Affine): number {
  const length = takeMeasure(step.measure, bodies, map);
  if (!(length > 1e-9)) {
    throw new GephyraError('measure.nothing', 'The measure meets no surface of the model. Take it at another place.');
  }
  return Math.max(1e-6, (step.wanted + step.room) / length);
}

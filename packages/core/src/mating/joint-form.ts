import type { Printer } from '../document/index.ts';
import type { FormWish, JointForm } from '../joints/index.ts';
import { gapOf, type Joint, kindOf } from '../joints/kinds/index.ts';
import { type Affine, dot, mapVector, normalize, type Vec3 } from '../mesh/index.ts';
import type { SeamPlace } from '../seams/index.ts';
import { radians } from '../units.ts';
import type { FormedJoint } from './model.ts';

/** What a joint is called. */
export const kindName = (joint: Pick<Joint, 'kind'>): string => kindOf(joint).name;

/** The clearance per side that a joint gets: its own, or that of its fit on this printer, mm. */
export const jointGap = (joint: Joint, printer: Printer): number =>
  joint.gap ?? gapOf(joint.fit, joint.kind, printer, kindOf(joint).bought(joint));

/** A joint leaning farther than this from the square cannot be built, radians. */
export const MOST_LEAN = radians(45);

/** Forms a joint of the plan on its plane. Sizes and gaps are millimetres and do not go by the map. */
export function formJoint(joint: Joint, place: SeamPlace, map: Affine, printer: Printer): FormedJoint {
  const { frame } = place;
  const [u, v] = place.toModel(joint.at);
  const direction = joint.male === '+' ? -1 : 1;
  const gap = jointGap(joint, printer);
  const square: Vec3 = [frame.normal[0] * direction, frame.normal[1] * direction, frame.normal[2] * direction];
  let axis = square;
  if (joint.lean) {
    const along = normalize(mapVector(map, joint.lean));
    const sign = dot(along, square) < 0 ? -1 : 1;
    axis = [along[0] * sign, along[1] * sign, along[2] * sign];
  }
  const rise = dot(axis, square);
  const leaning = Math.acos(Math.min(1, rise));
  const upright = leaning > MOST_LEAN || leaning < 1e-6;
  const lean: [number, number] = upright ? [0, 0] : [dot(axis, frame.u) / rise, dot(axis, frame.v) / rise];
  const wish: FormWish = { u, v, turn: joint.turn, lean, gap, depthGap: joint.depthGap, mouth: joint.mouth };
  return { u, v, gap, form: formOf(joint, wish), direction, axis: upright ? square : axis, leaning };
}

/** The form of a joint of any kind. */
export const formOf = (joint: Joint, wish: FormWish): JointForm => kindOf(joint).form(joint, wish);

import { type Mend, wallLimits } from '../document/index.ts';
import { outlineRoom, poleOf } from '../joints/index.ts';
import { followsWall, type Joint, kindOf } from '../joints/kinds/index.ts';
import type { MatingFace, SeamPlace } from '../seams/index.ts';
import { mm } from '../units.ts';
import { formJoint, kindName } from './joint-form.ts';
import { measureJoint } from './joint-measure.ts';
import type { JointContext, MeasuredJoint } from './model.ts';
import type { Occupied } from './occupants.ts';

const rounded = (x: number): number => Number(x.toFixed(2));

function moveTo(joint: Joint, u: number, v: number, place: SeamPlace, label: string): Mend {
  return { label, change: { do: 'setJoint', id: joint.id, set: { at: place.toSource([rounded(u), rounded(v)]) } } };
}

/** Moves a joint that lies on no face to the middle of the nearest one; without a face it can only go. */
export function nearestFaceMend(joint: Joint, faces: readonly MatingFace[], place: SeamPlace): Mend {
  const [u, v] = place.toModel(joint.at);
  let best: MatingFace | undefined;
  let least = Infinity;
  for (const f of faces) {
    const pole = poleOf(f.region);
    const d = Math.hypot(pole.u - u, pole.v - v);
    if (d < least) {
      least = d;
      best = f;
    }
  }
  if (!best) return { label: 'Remove this joint', change: { do: 'removeJoint', id: joint.id } };
  const pole = poleOf(best.region);
  return moveTo(joint, pole.u, pole.v, place, `Move it ${mm(least)} onto the face`);
}

/**
 * Moves the joint towards the roomiest place of its face until the wall holds; else makes it thinner there. `deep`: what lies
 * under it counts too, always, or everywhere but in the middle, from where other mends go on.
 */
export function edgeMend(
  joint: Joint,
  m: MeasuredJoint,
  wanted: number,
  context: JointContext,
  deep: 'no' | 'but in the middle' | 'always' = 'no',
  beside: Occupied = new Map(),
): Mend | undefined {
  if (followsWall(joint)) return smallerMend(joint, context);
  const { face, place } = m;
  const pole = poleOf(face.region);
  const { u, v } = m.formed;
  for (let k = 1; k <= 40; k++) {
    const s = k / 40;
    const [nu, nv] = [rounded(u + (pole.u - u) * s), rounded(v + (pole.v - v) * s)];
    const moved: Joint = { ...joint, at: place.toSource([nu, nv]) };
    const { form } = formJoint(moved, place, context.map, context.plan.printer);
    if (Math.hypot(nu - u, nv - v) < 0.01) continue;
    if ([...form.own, ...form.other].some((stack) => outlineRoom(face.region, stack.rings[0].loop) < wanted)) continue;
    if ((deep === 'always' || (deep !== 'no' && k < 40)) && !holds(moved, context, beside)) continue;
    return moveTo(joint, nu, nv, place, `Move it ${mm(Math.hypot(nu - u, nv - v))} inward`);
  }
  // in the middle, as much thinner as its outline (a key's reaches beyond its width) asks for
  const at = place.toSource([rounded(pole.u), rounded(pole.v)]);
  const most = Math.min((pole.distance - wanted - m.formed.gap) * 2 * 0.86, kindOf(joint).sizeOf(joint) * 0.97);
  for (let exact = most; exact >= 2; exact *= 0.93) {
    const size = Math.floor(exact * 10) / 10;
    const set = kindOf(joint).resized(joint, size);
    if (!set) return undefined;
    const { form } = formJoint({ ...joint, ...set, at } as Joint, place, context.map, context.plan.printer);
    if ([...form.own, ...form.other].some((s) => outlineRoom(face.region, s.rings[0].loop) < wanted)) continue;
    if (deep === 'always' && !holds({ ...joint, ...set, at } as Joint, context, beside)) continue;
    return {
      label: `Make it ${mm(size)} thick, in the middle`,
      change: { do: 'setJoint', id: joint.id, set: { ...set, at } },
    };
  }
  return undefined;
}

/** The greatest depth, in steps of half a millimetre, at which every wall holds; nothing when even a short one does not. */
export function depthMend(joint: Joint, m: MeasuredJoint, wanted: number, context: JointContext): Mend | undefined {
  if (m.edge < wanted) return undefined;
  if (!kindOf(joint).shallower || !('depth' in joint)) return smallerMend(joint, context);
  let low = 2;
  let high = Math.floor(joint.depth * 2);
  let found = 0;
  while (low <= high) {
    const half = (low + high) >> 1;
    if (holds({ ...joint, ...kindOf(joint).deepened(joint, half / 2) } as Joint, context)) {
      found = half / 2;
      low = half + 1;
    } else high = half - 1;
  }
  if (found < 1.5 || found >= joint.depth) return undefined;
  const set = kindOf(joint).deepened(joint, found);
  return { label: `Make it ${mm(found)} deep`, change: { do: 'setJoint', id: joint.id, set } };
}

/** The largest of the smaller sizes, in steps of half a millimetre (a tenth for a lip), at which every wall holds. */
function smallerMend(joint: Joint, context: JointContext): Mend | undefined {
  const lap = followsWall(joint);
  const [step, least] = lap ? [0.1, wallLimits(context.plan.printer).stop] : [0.5, 2];
  for (let n = Math.ceil(kindOf(joint).sizeOf(joint) / step - 1e-6) - 1; n * step >= least - 1e-6; n--) {
    const size = rounded(n * step);
    const set = kindOf(joint).resized(joint, size);
    if (!set || !holds({ ...joint, ...set } as Joint, context)) continue;
    return {
      label: lap ? `Make the lip ${mm(size)} thick` : `Make the ${kindName(joint)} ${mm(size)} wide`,
      change: { do: 'setJoint', id: joint.id, set },
    };
  }
  return undefined;
}

/** Whether a joint has walls that hold: by itself, or beside others. */
function holds(joint: Joint, context: JointContext, beside: Occupied = new Map()): boolean {
  const limits = wallLimits(context.plan.printer);
  const m = measureJoint(joint, context, beside)?.measured;
  return !!m && m.trouble === '' && Math.min(m.edge, m.root, ...m.walls) >= limits.warn - 1e-6;
}

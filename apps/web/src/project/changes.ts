import { applyChange, GephyraError, type Plan, type PlanChange, settled } from '@gephyra/core/plan';

/** A change, or what it is by the plan that it is made on. */
export type Changing = PlanChange | ((plan: Plan) => PlanChange);

/** What some changes made of a plan, and the ids that what they added got instead of those that were asked for. */
export interface Changed {
  readonly plan: Plan;
  readonly ids: ReadonlyMap<string, string>;
  /** the single changes that were made, one on top of the other */
  readonly parts: readonly PlanChange[];
}

/**
 * Makes changes on the plan as it stands now, whenever they were thought of: ids are taken here, and what a change is about
 * must still be there. Throws an Error in words for the maker when one cannot be done; the plan given stays as it is.
 */
export function changed(plan: Plan, changes: readonly Changing[]): Changed {
  const ids = new Map<string, string>();
  const parts: PlanChange[] = [];
  let next = plan;
  for (const changing of changes) {
    const wanted = typeof changing === 'function' ? changing(next) : changing;
    // one change: what is removed and added again in it may keep its id
    const own = settled(next, wanted);
    for (const [asked, given] of own.ids) ids.set(asked, given);
    for (const one of singles(own.change)) {
      const gone = missing(next, one);
      if (gone) throw new Error(`${gone} is no longer there.`);
      next = applied(next, one);
      parts.push(one);
    }
  }
  return { plan: next, ids, parts };
}

const singles = (change: PlanChange): readonly PlanChange[] =>
  change.do === 'all' ? change.changes.flatMap(singles) : [change];

function applied(plan: Plan, change: PlanChange): Plan {
  try {
    return applyChange(plan, change);
  } catch (error) {
    throw error instanceof GephyraError && error.code === 'plan.invalid' ? new Error(faultOf(error.message)) : error;
  }
}

/** What a single change is about and is not in the plan; null when all is there. */
function missing(plan: Plan, change: PlanChange): string | null {
  const has = (list: readonly { readonly id?: string | undefined }[], id: string): boolean =>
    list.some((x) => x.id === id);
  switch (change.do) {
    case 'setSeam':
    case 'removeSeam':
    case 'moveSeam':
      return has(plan.seams, change.id) ? null : 'The seam';
    case 'setJoint':
    case 'removeJoint':
      return has(plan.joints, change.id) ? null : 'The joint';
    case 'putJoint':
      return has(plan.joints, change.joint.id) ? null : 'The joint';
    case 'addJoint':
      return has([...plan.seams, ...plan.contacts], change.joint.seam) ? null : 'The seam of the joint';
    case 'addJoints': {
      const known = new Set([...plan.seams, ...plan.contacts].map((s) => s.id));
      return change.joints.every((j) => known.has(j.seam)) ? null : 'A seam of these joints';
    }
    case 'setZone':
    case 'removeZone':
      return has(plan.zones, change.id) ? null : 'The zone';
    case 'setBed':
    case 'removeBed':
      return has(plan.beds, change.id) ? null : 'The bed';
    case 'placePiece':
      return change.bed === null || has(plan.beds, change.bed) ? null : 'The bed';
    default:
      return null;
  }
}

/** The fault alone: it is a change that is refused, not the plan. */
const faultOf = (message: string): string =>
  message.replace(/^This plan cannot be used: (.)/, (_, first: string) => first.toUpperCase());

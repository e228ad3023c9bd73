import type { JointInput, Plan, Seam } from './schema.ts';
import { parsePlan } from './schema.ts';

/** One change of a plan, as data, so that it can be offered, sent and undone. */
export type PlanChange =
  | { readonly do: 'addSeam'; readonly seam: Seam }
  | { readonly do: 'setSeam'; readonly id: string; readonly set: Partial<Omit<Seam, 'id'>> }
  | { readonly do: 'removeSeam'; readonly id: string }
  | { readonly do: 'moveSeam'; readonly id: string; readonly to: number }
  | { readonly do: 'addJoint'; readonly joint: JointInput }
  | { readonly do: 'setJoint'; readonly id: string; readonly set: Partial<Omit<JointInput, 'id'>> }
  | { readonly do: 'removeJoint'; readonly id: string }
  | { readonly do: 'set'; readonly set: Partial<Pick<Plan, 'printer' | 'recipe' | 'anchors'>> };

/**
 * The plan after a change; the plan given stays as it is. Removing a seam removes its joints.
 * Throws GephyraError `plan.invalid` when the change would break the plan.
 */
export function applyChange(plan: Plan, change: PlanChange): Plan {
  switch (change.do) {
    case 'addSeam':
      return parsePlan({ ...plan, seams: [...plan.seams, change.seam] });
    case 'setSeam':
      return parsePlan({ ...plan, seams: plan.seams.map((s) => (s.id === change.id ? { ...s, ...change.set } : s)) });
    case 'removeSeam':
      return {
        ...plan,
        seams: plan.seams.filter((s) => s.id !== change.id),
        joints: plan.joints.filter((j) => j.seam !== change.id),
      };
    case 'moveSeam': {
      const seam = plan.seams.find((s) => s.id === change.id);
      if (!seam) return plan;
      const others = plan.seams.filter((s) => s !== seam);
      return { ...plan, seams: [...others.slice(0, change.to), seam, ...others.slice(change.to)] };
    }
    case 'addJoint':
      return parsePlan({ ...plan, joints: [...plan.joints, change.joint] });
    case 'setJoint':
      return parsePlan({
        ...plan,
        joints: plan.joints.map((j) => (j.id === change.id ? { ...j, ...change.set } : j)),
      });
    case 'removeJoint':
      return { ...plan, joints: plan.joints.filter((j) => j.id !== change.id) };
    case 'set':
      return parsePlan({ ...plan, ...change.set });
  }
}

/** The first id of the form s1, s2 … (or with another letter) that the list does not use. */
export function freeId(letter: string, list: readonly { readonly id: string }[]): string {
  const used = new Set(list.map((x) => x.id));
  for (let n = 1; ; n++) if (!used.has(`${letter}${n}`)) return `${letter}${n}`;
}

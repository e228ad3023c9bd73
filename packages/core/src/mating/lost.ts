import type { Finding, Plan } from '../document/index.ts';
import { kindName } from './joint-form.ts';

/** Says that a joint which has room on its face could not be made of its pieces after all. */
export function lostFinding(plan: Plan, code: 'joint.lap' | 'joint.shaft', id: string, message: string): Finding {
  const joint = plan.joints.find((j) => j.id === id)!;
  return {
    code,
    severity: 'stop',
    where: { joint: id, seam: joint.seam },
    message,
    mend: { label: `Remove this ${kindName(joint)}`, change: { do: 'removeJoint', id } },
  };
}

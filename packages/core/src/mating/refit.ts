import { type Finding, type Plan, type PlanChange, wallLimits } from '../document/index.ts';
import { followsWall, type Joint, kindOf } from '../joints/kinds/index.ts';
import { measureJoint } from './joint-measure.ts';
import type { JointContext, MeasuredJoint } from './model.ts';
import { type Occupancy, occupy } from './occupants.ts';

/** What an evaluation says of the joints. */
interface JointState {
  readonly findings: readonly Finding[];
  readonly measured: readonly MeasuredJoint[];
  readonly context: JointContext;
}

/** What to do about joints that no longer hold, as one change, and the ids of those that no smaller size saves. */
export interface Refit {
  readonly change: PlanChange | null;
  readonly resized: readonly string[];
  readonly left: readonly string[];
}

const SHARES = [0.95, 0.9, 0.85, 0.8, 0.75, 0.7, 0.65, 0.6, 0.55, 0.5, 0.45, 0.4, 0.35, 0.3, 0.25];

/**
 * Makes joints with a stop finding as much smaller as it takes for their walls to hold, after the model was scaled: their
 * places, gaps and fits stay. Those that would be too small to print are left as they are.
 */
export function refitJoints(plan: Plan, e: JointState): Refit {
  const stopped = new Set(e.findings.flatMap((f) => (f.severity === 'stop' && f.where.joint ? [f.where.joint] : [])));
  const occupancy: Occupancy = new Map();
  for (const m of e.measured) occupy(occupancy, m.occupants);
  const changes: PlanChange[] = [];
  const resized: string[] = [];
  const left: string[] = [];
  for (const joint of plan.joints) {
    if (!stopped.has(joint.id)) continue;
    const set = smaller(joint, e.context, occupancy);
    if (!set) {
      left.push(joint.id);
      continue;
    }
    changes.push({ do: 'setJoint', id: joint.id, set });
    resized.push(joint.id);
    const m = measureJoint({ ...joint, ...set } as Joint, e.context, occupancy)?.measured;
    if (m) occupy(occupancy, m.occupants);
  }
  return { change: changes.length > 0 ? { do: 'all', changes } : null, resized, left };
}

function smaller(joint: Joint, context: JointContext, occupancy: Occupancy): Record<string, unknown> | null {
  const { warn, stop } = wallLimits(context.plan.printer);
  for (const wall of [warn, stop]) {
    for (const share of SHARES) {
      const size = Math.floor(kindOf(joint).sizeOf(joint) * share * 10) / 10;
      const sized = kindOf(joint).resized(joint, size);
      if (size < (followsWall(joint) ? stop : 1.5)) break;
      const thinner = { ...joint, ...sized } as Joint;
      const depth = 'depth' in joint ? Math.max(1.5, Math.floor(joint.depth * share * 10) / 10) : null;
      const set = { ...sized, ...(depth === null ? {} : kindOf(joint).deepened(thinner, depth)) };
      if (Object.keys(set).length === 0) break;
      const m = measureJoint({ ...joint, ...set } as Joint, context, occupancy)?.measured;
      if (!m || m.overlap || m.trouble !== '') continue;
      if (Math.min(m.edge, m.root, ...m.walls) >= wall - 1e-6 && m.apart >= wall - 1e-6) return set;
    }
  }
  return null;
}

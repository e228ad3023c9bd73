import type { Finding } from '../document/index.ts';
import type { Joint } from '../joints/kinds/index.ts';
import { jointFindings } from './joint-findings.ts';
import { measureJoint } from './joint-measure.ts';
import type { FormedJoint, JointContext, MeasuredJoint, PlacedJoint } from './model.ts';
import { type Occupancy, occupy } from './occupants.ts';

/** Joints as they were placed so far: others keep clear of them. */
export interface Placing {
  readonly placed: PlacedJoint[];
  readonly findings: Finding[];
  readonly measured: MeasuredJoint[];
  readonly occupancy: Occupancy;
}

export const emptyPlacing = (): Placing => ({ placed: [], findings: [], measured: [], occupancy: new Map() });

/**
 * Puts the plan's joints on their mating faces and checks each in numbers, in the plan's order. A joint with a stop
 * finding is placed but not built, and keeps no other from its place.
 */
export function placeJoints(joints: readonly Joint[], context: JointContext): Placing {
  const placing = emptyPlacing();
  for (const joint of joints) if (joint.enabled) placeJoint(joint, context, placing);
  return placing;
}

/** Puts one joint beside those that are placed already. Gives its findings too; both are added to `placing`. */
export function placeJoint(joint: Joint, context: JointContext, placing: Placing): Finding[] {
  const measuring = measureJoint(joint, context, placing.occupancy);
  if (!measuring) return [];
  const { formed, measured } = measuring;
  if (!measured && context.faces.length === 0) {
    placing.placed.push(blank(joint, formed));
    return [];
  }
  const findings = jointFindings(joint, measuring, context, placing.occupancy);
  const built = measured !== null && !findings.some((f) => f.severity === 'stop');
  placing.findings.push(...findings);
  if (!measured) {
    placing.placed.push(blank(joint, formed));
    return findings;
  }
  placing.placed.push(placedJoint(measured, built));
  if (built) {
    placing.measured.push(measured);
    occupy(placing.occupancy, measured.occupants);
  }
  return findings;
}

function placedJoint(m: MeasuredJoint, built: boolean): PlacedJoint {
  const finite = (x: number): number | null => (Number.isFinite(x) ? x : null);
  return {
    ...blank(m.joint, m.formed),
    face: m.face.id,
    male: m.own,
    socket: m.other,
    edge: m.edge,
    walls: [finite(m.walls[0]), finite(m.walls[1])],
    wall: Math.min(m.edge, m.cover, ...m.walls),
    root: finite(m.root),
    apart: finite(m.apart),
    next: m.next || null,
    lap: m.lap,
    exit: m.exit,
    built,
  };
}

function blank(joint: Joint, { u, v, gap, form, direction, axis }: FormedJoint): PlacedJoint {
  return {
    id: joint.id,
    kind: joint.kind,
    face: null,
    u,
    v,
    gap,
    form,
    direction,
    axis,
    male: null,
    socket: null,
    edge: null,
    walls: [null, null],
    wall: null,
    root: null,
    apart: null,
    next: null,
    lap: null,
    exit: null,
    built: false,
  };
}

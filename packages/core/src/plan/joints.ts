import type { JointForm, LapLine } from '../joints/index.ts';
import type { Vec3 } from '../mesh/index.ts';
import type { Finding } from './findings.ts';
import { jointFindings } from './joint-findings.ts';
import type { FormedJoint } from './joint-form.ts';
import { type JointContext, type MeasuredJoint, measureJoint } from './joint-measure.ts';
import type { Joint } from './joint-schema.ts';
import { type Occupancy, occupy } from './occupants.ts';

/** A joint on its mating face, with what was measured of it. Lengths in mm, at the plan's size. */
export interface PlacedJoint {
  readonly id: string;
  readonly kind: Joint['kind'];
  readonly face: string | null;
  /** centre in the seam's effective frame */
  readonly u: number;
  readonly v: number;
  /** clearance per side */
  readonly gap: number;
  readonly form: JointForm;
  /** +1: what stands out does so along the face's normal */
  readonly direction: 1 | -1;
  /** from the own piece into its neighbour, unit, on the model */
  readonly axis: Vec3;
  /** keys of the own piece (with the male half, where there is one) and of its neighbour */
  readonly male: string | null;
  readonly socket: string | null;
  /** least distance from the widest outline to the edge of the face */
  readonly edge: number | null;
  /**
   * least wall round its sockets, floors included, in the own piece and in its neighbour; null where it has none. Walls and
   * roots are measured up to `ampleWall`: that much stands for more.
   */
  readonly walls: readonly [number | null, number | null];
  /** the lesser of both, the edge, and what covers a closed pocket */
  readonly wall: number | null;
  /** material under a male half's root */
  readonly root: number | null;
  /** least distance to another joint */
  readonly apart: number | null;
  /** id of the nearest other joint */
  readonly next: string | null;
  /** of a lap: where it runs on its face */
  readonly lap: LapLine | null;
  readonly built: boolean;
}

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
  const findings = jointFindings(joint, measuring, context);
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
    built: false,
  };
}

import type { Finding } from '../document/index.ts';
import type { Joint } from '../joints/kinds/index.ts';
import { jointFindings } from './joint-findings.ts';
import { alternatesOf, measureJoint } from './joint-measure.ts';
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
  const others = measured ? alternatesOf(joint, context).map((body) => onAlternate(joint, body, context, placing)) : [];
  const said = new Set(findings.map(saying));
  for (const { findings: more, name } of others) {
    const own = more.filter((f) => !said.has(saying(f)));
    findings.push(...own.map((f) => ({ ...f, message: `${f.message.replace(/\.$/, '')} (on ${name}).` })));
  }
  const built = measured !== null && !findings.some((f) => f.severity === 'stop');
  placing.findings.push(...findings);
  if (!measured) {
    placing.placed.push(blank(joint, formed));
    return findings;
  }
  const alternates = others.flatMap((o) => (o.measured ? [placedJoint(o.measured, built)] : []));
  placing.placed.push({ ...placedJoint(measured, built), alternates });
  if (built) {
    for (const m of [measured, ...others.flatMap((o) => o.measured ?? [])]) {
      placing.measured.push(m);
      occupy(placing.occupancy, m.occupants);
    }
  }
  return findings;
}

/** What two findings have in common that need not be said twice: of the side that alternates share. */
const saying = ({ code, severity, message }: Finding): string => `${code} ${severity} ${message}`;

/** A joint on the face of a body that takes the place of its own. */
function onAlternate(
  joint: Joint,
  body: string,
  context: JointContext,
  { occupancy }: Placing,
): { measured: MeasuredJoint | null; findings: Finding[]; name: string } {
  const measuring = measureJoint(joint, context, occupancy, undefined, body);
  return {
    measured: measuring?.measured ?? null,
    findings: measuring ? jointFindings(joint, measuring, context, occupancy) : [],
    name: context.around.get(body)?.sized.body.name ?? body,
  };
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
    alternates: [],
    built: false,
  };
}

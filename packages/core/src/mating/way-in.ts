import type { Finding, Mend } from '../document/index.ts';
import { excessOf, type Guide, wayOut } from '../joints/index.ts';
import { converted, followsWall, type JointInput, kindOf } from '../joints/kinds/index.ts';
import { dot, inverse, mapVector, type Vec3 } from '../mesh/index.ts';
import type { MatingFace } from '../seams/index.ts';
import { degrees, radians } from '../units.ts';
import { kindName } from './joint-form.ts';
import type { JointContext, MeasuredJoint } from './model.ts';
import type { JoiningStep } from './steps.ts';

/** How the pieces of a step go together. */
export interface WayIn {
  readonly step: JoiningStep;
  /** ids of the joints that guide it */
  readonly joints: readonly string[];
  /** unit, on the model: the second group is drawn off this way; null when there is no such direction */
  readonly out: Vec3 | null;
}

/**
 * Whether the pieces of every step have a common way in, and whether they can turn. Joints are taken in the plan's order:
 * the first for which no direction is left gets a stop finding and is not among those that guide. Local: pieces that meet
 * on their way something that is not of their step are not looked for.
 */
export function waysIn(
  steps: readonly JoiningStep[],
  measured: readonly MeasuredJoint[],
  context: JointContext,
): { ways: WayIn[]; findings: Finding[]; refused: ReadonlySet<string> } {
  const byFace = new Map<string, MeasuredJoint[]>();
  for (const m of measured) byFace.set(m.face.id, [...(byFace.get(m.face.id) ?? []), m]);
  const findings: Finding[] = [];
  const refused = new Set<string>();
  const ways = steps.map((step): WayIn => {
    const stay = new Set(step.groups[0]);
    const outOf = (face: MatingFace): Vec3 =>
      stay.has(face.pieces[0]) ? face.frame.normal : opposite(face.frame.normal);
    const normals = distinct(step.faces.map(outOf));
    const joints = step.faces
      .flatMap((f) => byFace.get(f.id) ?? [])
      .sort((a, b) => measured.indexOf(a) - measured.indexOf(b));
    const guides: { guide: Guide; joint: MeasuredJoint }[] = [];
    let out = wayOut(normals, []);
    for (const m of joints) {
      const { freedom } = m.formed.form;
      if (freedom === null) continue;
      const axis = dot(m.formed.axis, outOf(m.face)) > 0 ? m.formed.axis : opposite(m.formed.axis);
      const guide = { axis, freedom };
      // what is drawn out already mostly goes for the next joint too
      const next =
        out && guides.length > 0 && excessOf(out, guide) <= 0
          ? out
          : wayOut(normals, [...guides.map((g) => g.guide), guide]);
      if (!next) {
        refused.add(m.joint.id);
        findings.push(noWay(m, guides, out, context));
        continue;
      }
      guides.push({ guide, joint: m });
      out = next;
    }
    const turns = turning(
      guides.map((g) => g.joint),
      joints.filter((m) => !refused.has(m.joint.id)),
    );
    if (turns) findings.push(turns);
    return { step, joints: guides.map((g) => g.joint.joint.id), out };
  });
  return { ways, findings, refused };
}

const opposite = ([x, y, z]: Vec3): Vec3 => [-x, -y, -z];

function distinct(normals: readonly Vec3[]): Vec3[] {
  const out: Vec3[] = [];
  for (const n of normals) if (!out.some((o) => dot(o, n) > 1 - 1e-12)) out.push(n);
  return out;
}

function noWay(
  m: MeasuredJoint,
  guides: readonly { joint: MeasuredJoint }[],
  out: Vec3 | null,
  context: JointContext,
): Finding {
  const { joint } = m;
  const name = kindName(joint);
  const remove: Mend = { label: `Leave this ${name} out`, change: { do: 'removeJoint', id: joint.id } };
  const others = guides.map((g) => g.joint.joint.id);
  const mends: Mend[] = [];
  const steep = out ? Math.acos(Math.min(1, Math.abs(dot(out, m.formed.axis)))) : Math.PI;
  if (out && steep < radians(40) && !followsWall(joint)) {
    const lean = mapVector(inverse(context.map), out).map((x) => Number(x.toFixed(9))) as [number, number, number];
    mends.push({
      label: `Lean it by ${(degrees(steep)).toFixed(0)}° along the others`,
      change: { do: 'setJoint', id: joint.id, set: { lean } },
    });
  }
  const across = kindOf(joint).slides(joint);
  if (across !== null) {
    const { lean: _, ...upright } = converted(joint, 'cone');
    const cone = { ...upright, diameter: across } as JointInput;
    mends.push({ label: 'Make it a cone', change: { do: 'putJoint', joint: cone } });
  }
  const [mend, ...rest] = [...mends, remove];
  return {
    code: 'joint.way',
    severity: 'stop',
    where: { joint: joint.id, seam: joint.seam, face: m.face.id, piece: m.other },
    message:
      others.length === 0
        ? `The pieces cannot be drawn apart along this ${name}: another of their faces is in the way.`
        : `The pieces cannot be slid together along this ${name} and ${others.slice(0, 3).join(', ')} at once.`,
    mend,
    ...(rest.length > 0 && { mends: rest }),
  };
}

/** Groups that a single round joint holds can turn against each other. */
function turning(guides: readonly MeasuredJoint[], all: readonly MeasuredJoint[]): Finding | null {
  if (all.length !== 1 || guides.length !== 1 || !guides[0].formed.form.turns) return null;
  const { joint, face, own } = guides[0];
  const name = kindName(joint);
  const angular = kindOf(joint).angular(joint);
  const mend: Mend | null = angular && {
    label: angular.label,
    change: { do: 'setJoint', id: joint.id, set: angular.set },
  };
  return {
    code: 'joint.turns',
    severity: 'warn',
    where: { joint: joint.id, face: face.id, piece: own },
    message: `A single round ${name} lets the two pieces turn. ${mend ? 'Make it angular or add a second one.' : 'Add a second one.'}`,
    ...(mend && { mend }),
  };
}

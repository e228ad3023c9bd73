import { type Finding, type FindingCode, type Mend, type Severity, wallLimits } from '../document/index.ts';
import { materialOf } from '../joints/index.ts';
import { followsWall, type Joint, kindOf } from '../joints/kinds/index.ts';
import { dot, type Vec3 } from '../mesh/index.ts';
import { degrees, mm } from '../units.ts';
import { kindName, MOST_LEAN } from './joint-form.ts';
import { depthMend, edgeMend, nearestFaceMend } from './joint-mends.ts';
import type { FormedJoint, JointContext, MeasuredJoint, Measuring } from './model.ts';
import type { Occupied } from './occupants.ts';

const EASE = 1e-6;

/** What is wrong with one joint, from what was measured of it. `beside`: what takes up room already. */
export function jointFindings(
  joint: Joint,
  { formed, measured: m, onPlane, place }: Measuring,
  context: JointContext,
  beside: Occupied,
): Finding[] {
  const { printer } = context.plan;
  const limits = wallLimits(printer);
  const name = kindName(joint);
  const where = { joint: joint.id, seam: joint.seam };
  if (!m) {
    return [
      {
        code: 'joint.offFace',
        severity: 'stop',
        where,
        message: `The ${name} lies off every mating face of its seam.`,
        mend: nearestFaceMend(joint, onPlane, place),
      },
    ];
  }
  const findings: Finding[] = [];
  const full = { ...where, face: m.face.id, piece: m.other };
  const say = (
    code: FindingCode,
    severity: Severity,
    message: string,
    more: Partial<Pick<Finding, 'value' | 'limit' | 'where'>> & {
      mend?: Mend | undefined;
      mends?: readonly Mend[];
    } = {},
  ): void => {
    const { mend, mends, ...rest } = more;
    findings.push({
      code,
      severity,
      where: full,
      message,
      ...rest,
      ...(mend && { mend }),
      ...(mends && mends.length > 0 && { mends }),
    });
  };
  const remove: Mend = { label: `Remove this ${name}`, change: { do: 'removeJoint', id: joint.id } };

  if (formed.leaning > MOST_LEAN) {
    say(
      'joint.lean',
      'stop',
      `The ${name} leans by ${rounded(formed.leaning)}; up to ${rounded(MOST_LEAN)} can be built.`,
      {
        mend: {
          label: 'Set it square to the face',
          change: { do: 'setJoint', id: joint.id, set: { lean: undefined } },
        },
      },
    );
  }
  if (m.trouble !== '') {
    say('joint.lap', 'stop', m.trouble, { mend: remove });
    return findings;
  }
  if (m.overlap) {
    const bodies = m.face.bodies[0];
    say(
      'joint.overlap',
      'stop',
      'Several shells overlap here, so a socket would stay closed by the other shell. Join the shells first.',
      {
        mend: { label: 'Join the overlapping shells', change: { do: 'addStep', step: { kind: 'join', on: [bodies] } } },
      },
    );
  } else if (m.edge < limits.stop - EASE) {
    say(
      'joint.edge',
      'stop',
      m.edge < 0
        ? `The ${name} breaks through the edge of the mating face.`
        : `Only ${mm(m.edge)} stay between the ${name} and the edge of the mating face.`,
      {
        value: m.edge,
        limit: limits.warn,
        mend: edgeMend(joint, m, limits.warn, context, 'but in the middle') ?? remove,
      },
    );
  } else {
    const beside = followsWall(joint) ? 'beside the rebate' : 'round the socket';
    for (const side of [0, 1] as const) {
      const wall = m.walls[side];
      if (wall >= limits.warn - EASE) continue;
      const piece = side === 0 ? m.own : m.other;
      const mend = depthMend(joint, m, limits.warn, context);
      const stop = wall < limits.stop - EASE;
      say(
        stop ? (wall <= 0 ? 'joint.through' : 'joint.wall') : 'joint.thin',
        stop ? 'stop' : 'warn',
        wall <= 0
          ? `The socket, ${mm(formed.form.depths[side])} deep, comes out through the piece.`
          : stop
            ? `Only ${mm(wall)} of wall stay ${beside}.`
            : `The wall ${beside} is ${mm(wall)}; ${mm(limits.warn)} would hold.`,
        { value: wall, limit: limits.warn, mend: mend ?? (stop ? remove : undefined), where: { ...full, piece } },
      );
    }
    if (m.edge < limits.warn - EASE && Math.min(...m.walls) >= limits.warn - EASE) {
      say('joint.thin', 'warn', `The wall ${beside} is ${mm(m.edge)}; ${mm(limits.warn)} would hold.`, {
        value: m.edge,
        limit: limits.warn,
        mend: edgeMend(joint, m, limits.warn, context),
      });
    }
  }
  if (!m.overlap && m.edge >= limits.stop - EASE && m.root < limits.warn - EASE) {
    const stop = m.root < limits.stop - EASE;
    say('joint.root', stop ? 'stop' : 'warn', `Only ${mm(m.root)} of material lie under the foot of the ${name}.`, {
      where: { ...full, piece: m.own },
      value: m.root,
      limit: limits.warn,
      mend: edgeMend(joint, m, limits.warn, context, 'always', beside) ?? (stop ? remove : undefined),
    });
  }
  if (m.apart < limits.warn - EASE) {
    say(
      'joint.near',
      m.apart < limits.stop - EASE ? 'stop' : 'warn',
      m.apart > 0 ? `Only ${mm(m.apart)} stay between this joint and ${m.next}.` : `This joint runs into ${m.next}.`,
      {
        value: m.apart,
        limit: limits.warn,
        mend: { label: 'Remove this joint', change: { do: 'removeJoint', id: joint.id } },
      },
    );
  }
  ownFindings(joint, formed, m, context, say);
  return findings;
}

type Say = (
  code: FindingCode,
  severity: Severity,
  message: string,
  more?: Partial<Pick<Finding, 'value' | 'limit' | 'where'>> & { mend?: Mend | undefined },
) => void;

/** Whether a joint's own numbers stop it, whatever lies around it: too slim, too stiff, longer than its stick … */
export function stopsByItself(m: MeasuredJoint, context: JointContext): boolean {
  let stops = false;
  ownFindings(m.joint, m.formed, m, context, (_, severity) => {
    stops ||= severity === 'stop';
  });
  return stops;
}

/** What a joint's own numbers say, whatever lies around it. */
function ownFindings(
  joint: Joint,
  { form, gap }: FormedJoint,
  m: MeasuredJoint,
  context: JointContext,
  say: Say,
): void {
  const { printer } = context.plan;
  const limits = wallLimits(printer);
  const name = kindName(joint);
  const spec = kindOf(joint);
  const set = ({ label, set: fields }: { label: string; set: Readonly<Record<string, unknown>> }): Mend => ({
    label,
    change: { do: 'setJoint', id: joint.id, set: fields },
  });
  if (form.slimmest !== null && !spec.bought(joint) && form.slimmest < 2 * limits.stop - EASE) {
    say(
      'joint.slim',
      'stop',
      `The ${name} is only ${mm(form.slimmest)} across; the nozzle needs ${mm(2 * limits.stop)}.`,
      {
        value: form.slimmest,
        limit: 2 * limits.stop,
        mend: set(spec.thicker(joint, limits.warn)),
      },
    );
  }
  for (const { code, severity, message, mend, ...numbers } of spec.checks(joint, {
    form,
    gap,
    cover: m.cover,
    exit: m.exit,
    printer,
    limits,
  })) {
    say(code, severity, message, { ...numbers, mend: set(mend) });
  }
  printFindings(joint, m, context, say);
}

/** Below this a pin that stands up as it prints snaps between two layers, N. */
const WEAK = 250;

/** What the direction in which a piece prints does to its half of the joint. */
function printFindings(joint: Joint, m: MeasuredJoint, context: JointContext, say: Say): void {
  const { printer } = context.plan;
  if (printer.kind === 'resin') return;
  const limits = wallLimits(printer);
  const material = materialOf(printer.material, printer.kind);
  const { form, axis } = m.formed;
  const up = (piece: string): Vec3 | null => context.upOf(piece);
  const ownUp = up(m.own);
  if (ownUp && form.own.some((s) => s.kind === 'male') && !kindOf(joint).squat) {
    const upright = Math.abs(dot(ownUp, axis));
    const force = form.shear * material.shear[1];
    if (upright > 0.7 && force < WEAK) {
      say(
        'joint.weak',
        'note',
        `Printed standing up, its layers lie across it: about ${force.toFixed(0)} N shear it off. A dowel printed lying holds twice that.`,
        { value: force, limit: WEAK, where: { joint: joint.id, seam: joint.seam, face: m.face.id, piece: m.own } },
      );
    }
  }
  for (const [i, stacks] of [form.own, form.other].entries()) {
    const piece = i === 0 ? m.own : m.other;
    const high = up(piece);
    const socket = stacks.find((s) => s.kind !== 'male');
    if (!high || !socket) continue;
    const into = i === 0 ? -dot(high, axis) : dot(high, axis);
    const floor = socket.rings[socket.rings.length - 1].loop;
    // opening downwards its floor is a roof; lying, the upper part of its wall is
    const span = into > 0.7 ? leastWidth(floor) : Math.abs(into) < 0.7 ? 0.7 * leastWidth(socket.rings[0].loop) : 0;
    if (span <= limits.bridge) continue;
    say(
      'joint.roof',
      'note',
      `Inside the socket ${mm(span)} hang free while it prints; ${mm(limits.bridge)} are bridged without support.`,
      { value: span, limit: limits.bridge, where: { joint: joint.id, seam: joint.seam, face: m.face.id, piece } },
    );
  }
}

/** Least width of a convex loop over the directions of its sides, mm. */
function leastWidth(l: Float64Array): number {
  let best = Infinity;
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
    const dx = l[i] - l[j];
    const dy = l[i + 1] - l[j + 1];
    const length = Math.hypot(dx, dy);
    if (length < 1e-9) continue;
    let far = 0;
    for (let k = 0; k < l.length; k += 2) {
      far = Math.max(far, Math.abs(dx * (l[k + 1] - l[j + 1]) - dy * (l[k] - l[j])) / length);
    }
    best = Math.min(best, far);
  }
  return best;
}

const rounded = (angle: number): string => `${degrees(angle).toFixed(0)}°`;

import { CLOSING_MINUTES, type Finding, type OrderStep, type Plan } from '../document/index.ts';
import type { Evaluation } from '../evaluate/index.ts';
import { joiningSteps, orderedSteps, orderWithShown } from '../mating/index.ts';
import { mapVector, normalize } from '../mesh/index.ts';
import { type Blocking, takesPart } from './blocking.ts';
import { closingWith, jointsOn } from './closing.ts';
import type { Assembly, AssemblyStep } from './model.ts';
import { clearance } from './sweep.ts';
import { threadsOf } from './threads.ts';
import { freeWay } from './ways.ts';
import { holdWords } from './words.ts';

/** A plan's order, with the alternates that are on. */
const orderOf = (plan: Plan, e: Evaluation): readonly OrderStep[] =>
  orderWithShown(plan.order ?? [], e.pieces, plan.alternates);

/** The steps of a plan's order as far as they still join something, then those that it does not name, as they were cut. */
function stepsOf(plan: Plan, e: Evaluation): { step: OrderStep | null; parts: readonly (readonly string[])[] }[] {
  const keys = new Set(e.pieces.filter(takesPart).map((p) => p.key));
  const faces = e.faces.filter((f) => f.pieces.every((k) => keys.has(k)));
  const order = orderOf(plan, e);
  const cut = joiningSteps(faces, plan.seams, order).filter((s) => s.of === null);
  return [...orderedSteps(order, keys).steps, ...cut.map((s) => ({ step: null, parts: s.groups }))];
}

/**
 * All steps of the plan's order, each with a way that is free, or what is in its way. Yields the share that is done.
 */
export function* checkOrder(plan: Plan, e: Evaluation, blocking: Blocking): Generator<number, Assembly> {
  const numberOf = new Map(blocking.pieces.map((p, i) => [p.key, i]));
  const codeOf = new Map(blocking.pieces.map((p) => [p.key, p.code]));
  const wanted = stepsOf(plan, e);
  const steps: AssemblyStep[] = [];
  const findings: Finding[] = [];
  for (const { step: note, parts } of wanted) {
    const numbers = parts.map((p) => p.map((k) => numberOf.get(k)!));
    const come = numbers[numbers.length - 1];
    const stay = numbers.slice(0, -1).flat();
    const partOf = new Map(numbers.flatMap((p, k) => p.map((i) => [i, k] as const)));
    const closed = blocking.between.filter(
      (f) => partOf.has(f.a) && partOf.has(f.b) && partOf.get(f.a) !== partOf.get(f.b),
    );
    const moved = new Set(come);
    const crossing = closed.filter((f) => moved.has(f.a) !== moved.has(f.b));
    const said = note?.way && normalize(mapVector(e.map, note.way));
    const { out, blockers } = freeWay(come, stay, crossing, said ?? null, blocking);
    const held = jointsOn(
      e,
      closed.map((f) => f.face.id),
    );
    const closing = note?.closing ?? closingWith(held);
    const step: AssemblyStep = {
      id: note?.id ?? null,
      parts,
      faces: closed.map((f) => f.face.id),
      joints: held.map((j) => j.id),
      out,
      travel: clearance(
        come.map((i) => blocking.shape(i)),
        stay.map((i) => blocking.shape(i)),
        out,
      ),
      blockers,
      area: closed.reduce((s, f) => s + f.face.area, 0),
      closing,
      minutes: CLOSING_MINUTES[closing],
      notes: note?.notes ?? '',
    };
    steps.push(step);
    const [first] = blockers;
    if (first) {
      const [a, b] = [codeOf.get(first.comes), codeOf.get(first.stays)];
      findings.push({
        code: 'order.blocked',
        severity: 'warn',
        where: { piece: first.comes },
        message: `Step ${steps.length}: ${a} cannot come to ${b}: ${holdWords(first.hold)}.`,
      });
    }
    yield steps.length / wanted.length;
  }
  const { gone } = orderedSteps(orderOf(plan, e), new Set(numberOf.keys()));
  const late = plan.order ? steps.filter((s) => s.id === null).length : 0;
  if (gone.length > 0 || late > 0) {
    findings.push({
      code: 'order.gone',
      severity: 'note',
      where: {},
      message:
        gone.length > 0
          ? `The order of joining names ${gone.length === 1 ? 'a piece that is' : `${gone.length} pieces that are`} gone; what it does not name is joined last.`
          : `${late === 1 ? 'One step is' : `${late} steps are`} not in the order of joining; what it does not name is joined last.`,
      mend: { label: 'Join as it was cut', change: { do: 'set', set: { order: undefined } } },
    });
  }
  const { threads, findings: shut } = threadsOf(plan, e, steps, blocking);
  return { steps, threads, findings: [...findings, ...shut] };
}

import { applyChange, type LogEntry, type Plan, type PlanChange } from '../document/index.ts';
import type { Evaluation } from '../evaluate/index.ts';
import { fileMark } from './file.ts';
import { copyKey, isPrinted } from './progress.ts';

/** Pieces of which some copy is printed, with the time at which the last of them was. */
export function frozenPieces(log: readonly LogEntry[]): ReadonlyMap<string, string> {
  const copies = new Map<string, { piece: string; at: string | null }>();
  for (const { at, pieces, to } of log) {
    for (const { piece, copy } of pieces) {
      const key = copyKey(piece, copy);
      const known = copies.get(key)?.at ?? null;
      copies.set(key, { piece, at: isPrinted(to) ? (known ?? at) : null });
    }
  }
  const out = new Map<string, string>();
  for (const { piece, at } of copies.values()) {
    if (at !== null && at > (out.get(piece) ?? '')) out.set(piece, at);
  }
  return out;
}

/** Whether nothing that pieces are made of differs between two plans: such a change touches no file. */
export function sameShape(a: Plan, b: Plan): boolean {
  const shape = (plan: Plan): string =>
    JSON.stringify([
      plan.recipe,
      plan.seams.map(({ name: _, locked: __, reasons: ___, ...seam }) => seam),
      plan.joints,
      plan.contacts,
      plan.alternates.map((a) => a.bodies),
      plan.reach,
    ]);
  return shape(a) === shape(b);
}

/** Of some pieces those whose file is another after a change, or that are no longer there. */
export function changedFiles(before: Evaluation, after: Evaluation, keys: readonly string[]): string[] {
  const markIn = (e: Evaluation, key: string): string | null => {
    const piece = e.pieces.find((p) => p.key === key);
    return piece ? fileMark(piece) : null;
  };
  return keys.filter((key) => {
    const was = markIn(before, key);
    return was !== null && was !== markIn(after, key);
  });
}

/**
 * What of a change leaves some pieces as they are: its parts are tried together, and where that would change a file, each half
 * by itself, down to the single ones that are left out. Null when nothing is left.
 */
export function sparing(
  plan: Plan,
  change: PlanChange,
  keys: readonly string[],
  evaluate: (plan: Plan) => Evaluation,
): PlanChange | null {
  const kept: PlanChange[] = [];
  const start = evaluate(plan);
  let now = plan;
  const take = (parts: readonly PlanChange[]): void => {
    const next = parts.reduce(applyChange, now);
    if (sameShape(now, next) || changedFiles(start, evaluate(next), keys).length === 0) {
      kept.push(...parts);
      now = next;
    } else if (parts.length > 1) {
      const half = Math.ceil(parts.length / 2);
      take(parts.slice(0, half));
      take(parts.slice(half));
    }
  };
  take(singlesOf(change));
  return sameShape(plan, now) ? null : { do: 'all', changes: kept };
}

/** The parts of a change that can be made by themselves. */
function singlesOf(change: PlanChange): readonly PlanChange[] {
  switch (change.do) {
    case 'all':
      return change.changes.flatMap(singlesOf);
    case 'addJoints':
      return change.joints.map((joint) => ({ do: 'addJoint', joint }));
    case 'addSeams':
      return change.seams.map((seam) => ({ do: 'addSeam', seam }));
    case 'removeJoints':
      return change.ids.map((id) => ({ do: 'removeJoint', id }));
    default:
      return [change];
  }
}

import { freeId, type OrderPart, type OrderStep, type Plan } from '../document/index.ts';
import type { AssemblyStep } from './model.ts';

const same = (a: OrderPart, b: OrderPart): boolean =>
  'step' in a ? 'step' in b && a.step === b.step : 'piece' in b && a.piece === b.piece;

const holds = (step: OrderStep, part: OrderPart): boolean => step.parts.some((p) => same(p, part));

/** The order with one part in place of another, in whichever step holds it. */
const replaced = (order: readonly OrderStep[], part: OrderPart, by: OrderPart): OrderStep[] =>
  order.map((s) => (holds(s, part) ? { ...s, parts: s.parts.map((p) => (same(p, part) ? by : p)) } : s));

/** The steps that are done as the plan stands, those as they were cut among them, as an order that can be edited. */
export function writtenOrder(
  plan: Plan,
  steps: readonly Pick<AssemblyStep, 'id' | 'parts' | 'closing'>[],
): OrderStep[] {
  const holder = new Map<string, OrderPart>();
  const order: OrderStep[] = [];
  for (const { id, parts, closing } of steps) {
    const own = plan.order?.find((s) => s.id === id);
    const step: OrderStep = {
      closing,
      by: 'search',
      ...own,
      id: own?.id ?? freeId('o', [...(plan.order ?? []), ...order]),
      parts: parts.map((keys) => holder.get(keys[0]) ?? { piece: keys[0] }),
    };
    order.push(step);
    for (const key of parts.flat()) holder.set(key, { step: step.id });
  }
  return order;
}

/** Where a step may be moved to in the list: after what it joins, before what joins it. */
function roomFor(order: readonly OrderStep[], id: string): { readonly from: number; readonly to: number } {
  const at = order.findIndex((s) => s.id === id);
  const needs = order[at].parts.flatMap((p) => ('step' in p ? [order.findIndex((s) => s.id === p.step)] : []));
  const user = order.findIndex((s) => holds(s, { step: id }));
  return { from: Math.max(-1, ...needs) + 1, to: (user < 0 ? order.length : user) - 1 };
}

/** The order with a step done at another time; as near to it as its parts allow. */
export function stepMoved(order: readonly OrderStep[], id: string, to: number): OrderStep[] {
  const { from, to: last } = roomFor(order, id);
  const step = order.find((s) => s.id === id)!;
  const others = order.filter((s) => s !== step);
  return others.toSpliced(Math.max(from, Math.min(last, to)), 0, { ...step, by: 'hand' });
}

/** Ids of the steps after which a part can be joined: not those that make it, nor the one it is in, if that is of two parts. */
export function placesFor(order: readonly OrderStep[], part: OrderPart): string[] {
  const within = new Set<string>();
  const gather = (p: OrderPart): void => {
    if (!('step' in p)) return;
    within.add(p.step);
    for (const inner of order.find((s) => s.id === p.step)?.parts ?? []) gather(inner);
  };
  gather(part);
  const home = order.find((s) => holds(s, part));
  return order.filter((s) => !within.has(s.id) && !(s === home && s.parts.length === 2)).map((s) => s.id);
}

/**
 * The order with a part joined elsewhere: it leaves its step, which is none any more when one part is left of it, and comes in
 * a step of its own to what the step `after` has made. Null where that cannot be (`placesFor`).
 */
export function partMoved(order: readonly OrderStep[], part: OrderPart, after: string): OrderStep[] | null {
  const home = order.find((s) => holds(s, part));
  if (!home || !placesFor(order, part).includes(after)) return null;
  const left = home.parts.filter((p) => !same(p, part));
  const without =
    left.length > 1
      ? order.map((s) => (s === home ? { ...withoutWay(s), parts: left } : s))
      : // what is left of its step takes the step's place
        replaced(
          order.filter((s) => s !== home),
          { step: home.id },
          left[0],
        );
  const id = freeId('o', order);
  const added: OrderStep = { id, parts: [{ step: after }, part], closing: home.closing, by: 'hand' };
  const at = without.findIndex((s) => s.id === after);
  return inTurn(replaced(without, { step: after }, { step: id }).toSpliced(at + 1, 0, added));
}

/** The parts of a step the other way round: what stayed comes. */
export const partsTurned = (order: readonly OrderStep[], id: string): OrderStep[] =>
  order.map((s) => (s.id === id ? { ...withoutWay(s), parts: [...s.parts.slice(1), s.parts[0]], by: 'hand' } : s));

function withoutWay({ way: _, ...step }: OrderStep): OrderStep {
  return { ...step, by: 'hand' };
}

/** The same steps, each after those that it needs, otherwise as they were. */
function inTurn(order: readonly OrderStep[]): OrderStep[] {
  const out: OrderStep[] = [];
  const done = new Set<string>();
  let rest = [...order];
  while (rest.length > 0) {
    const next = rest.find((s) => s.parts.every((p) => 'piece' in p || done.has(p.step)));
    if (!next) return [...out, ...rest];
    out.push(next);
    done.add(next.id);
    rest = rest.filter((s) => s !== next);
  }
  return out;
}

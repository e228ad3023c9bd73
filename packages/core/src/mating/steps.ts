import { alternateBodies, type OrderStep, type Plan, type Seam } from '../document/index.ts';
import { type MatingFace, seamKind } from '../seams/index.ts';

/** A step of putting the model together: two groups of pieces, and the faces on which they meet. */
export interface JoiningStep {
  /** keys of the pieces that stay, and of those that come */
  readonly groups: readonly [readonly string[], readonly string[]];
  readonly faces: readonly MatingFace[];
  /** id of the order's step that it is of; null: as it was cut */
  readonly of: string | null;
}

/** A step of an order with the pieces of each of its parts, as far as they are there. */
export interface OrderedStep {
  readonly step: OrderStep;
  readonly parts: readonly (readonly string[])[];
}

/**
 * The steps of an order that still join something, with what their parts have become; and the keys it names that are gone. A part
 * that is gone is left out, and a step that has one part left hands it on.
 */
export function orderedSteps(
  order: readonly OrderStep[],
  keys: ReadonlySet<string>,
): { steps: OrderedStep[]; gone: string[] } {
  const made = new Map<string, readonly string[]>();
  const gone: string[] = [];
  const steps: OrderedStep[] = [];
  for (const step of order) {
    const parts = step.parts.flatMap((part) => {
      if ('step' in part) return [made.get(part.step) ?? []];
      if (keys.has(part.piece)) return [[part.piece]];
      gone.push(part.piece);
      return [];
    });
    const there = parts.filter((p) => p.length > 0);
    made.set(step.id, there.flat());
    if (there.length > 1) steps.push({ step, parts: there });
  }
  return { steps, gone };
}

/**
 * An order with the pieces of alternates that are left off replaced by those of the body that is on, one for one by their keys;
 * those without a counterpart stay, and are gone.
 */
export function orderWithShown(
  order: readonly OrderStep[],
  pieces: readonly { readonly key: string; readonly body: string }[],
  sets: Plan['alternates'],
): readonly OrderStep[] {
  if (sets.length === 0) return order;
  const keysOf = new Map<string, string[]>();
  for (const { key, body } of pieces) keysOf.set(body, [...(keysOf.get(body) ?? []), key].sort());
  const instead = new Map<string, string>();
  for (const [body, { shown }] of alternateBodies(sets, [...keysOf.keys()])) {
    if (body === shown) continue;
    keysOf.get(body)!.forEach((key, i) => {
      const other = keysOf.get(shown)![i];
      if (other !== undefined) instead.set(key, other);
    });
  }
  const named = new Set(order.flatMap((s) => s.parts.flatMap((p) => ('piece' in p ? [p.piece] : []))));
  return order.map((step) => ({
    ...step,
    parts: step.parts.map((p) => {
      const other = 'piece' in p ? instead.get(p.piece) : undefined;
      return other !== undefined && !named.has(other) ? { piece: other } : p;
    }),
  }));
}

/** Pieces that are joined already. */
interface Group {
  readonly keys: readonly string[];
  /** numbers of the faces by which it meets what is not in it */
  readonly open: number[];
}

/**
 * The steps in which the pieces are put together: first those of the plan's order; what is left in none of them as it was
 * cut, the last cut first. The segments of a fan are joined to two halves, which close at its last two half-planes together;
 * contacts of bodies come last. A step of three parts counts as two, one after the other.
 */
export function joiningSteps(
  faces: readonly MatingFace[],
  seams: readonly Seam[],
  order: readonly OrderStep[] = [],
): JoiningStep[] {
  const groupOf = new Map<string, Group>();
  faces.forEach((face, i) => {
    for (const key of face.pieces) {
      const group = groupOf.get(key);
      if (group) group.open.push(i);
      else groupOf.set(key, { keys: [key], open: [i] });
    }
  });
  const steps: JoiningStep[] = [];
  const unite = (a: Group, b: Group, of: string | null = null): void => {
    const [few, other] = a.open.length < b.open.length ? [a, b] : [b, a];
    const between = few.open.filter((i) => faces[i].pieces.some((key) => groupOf.get(key) === other));
    if (between.length > 0) {
      steps.push({ groups: [a.keys, b.keys], faces: between.toSorted((i, k) => i - k).map((i) => faces[i]), of });
    }
    const closed = new Set(between);
    const whole: Group = {
      keys: [...a.keys, ...b.keys],
      open: [...a.open, ...b.open].filter((i) => !closed.has(i)),
    };
    for (const key of whole.keys) groupOf.set(key, whole);
  };
  const keys = new Set(faces.flatMap((f) => f.pieces));
  for (const { step, parts } of orderedSteps(order, keys).steps) {
    for (const part of parts.slice(1)) {
      const [a, b] = [groupOf.get(parts[0][0])!, groupOf.get(part[0])!];
      if (a !== b) unite(a, b, step.id);
    }
  }
  const join = (wanted: readonly MatingFace[]): void => {
    for (const face of wanted) {
      const [a, b] = face.pieces.map((key) => groupOf.get(key)!);
      if (a !== b) unite(a, b);
    }
  };
  for (const seam of [...seams].reverse()) {
    const own = faces.filter((f) => f.seam === seam.id);
    const kind = seamKind(seam);
    if (!kind.round) {
      join(own);
      continue;
    }
    const half = Math.floor(kind.planes(seam) / 2);
    const closing = (f: MatingFace): boolean => f.part === 0 || f.part === half;
    join([...own.filter((f) => !closing(f)), ...own.filter(closing)]);
  }
  join(faces.filter((f) => f.contact));
  return steps;
}

// What two people made of the same part of a plan, put together: a three-way merge by what tells items apart.

/** Something of a plan that was changed in two ways that do not go together. */
export class MergeConflict extends Error {
  constructor(
    /** what both changed: "printer.margin" */
    readonly what: string,
  ) {
    super(`${what} was changed elsewhere, too.`);
  }
}

type Value = unknown;
type Fields = Readonly<Record<string, Value>>;

const same = (a: Value, b: Value): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);
const isFields = (x: Value): x is Fields => typeof x === 'object' && x !== null && !Array.isArray(x);

/** What tells an item of a list from the others: its id, key or name, the copy of a piece, else all of it; null for numbers. */
function keyOf(item: Value): string | null {
  if (typeof item === 'string') return item;
  if (!isFields(item)) return null;
  for (const field of ['id', 'key', 'name'] as const) {
    if (typeof item[field] === 'string') return `${field} ${item[field]}`;
  }
  return typeof item.piece === 'string' ? `copy ${String(item.copy)} ${item.piece}` : JSON.stringify(item);
}

/**
 * What is changed from `base` in `mine`, made on `theirs`: a three-way merge. Fields of records go each by itself; of lists whose
 * items can be told apart, each item; everything else as a whole.
 *
 *     base  ──► mine          [a b]  ──► [a b c]
 *       │         │     as       │           │
 *       ▼         ▼              ▼           ▼
 *     theirs ──► merged       [b]    ──►  [b c]
 *
 * @throws MergeConflict where both changed the same thing in different ways
 */
export function merged(base: Value, mine: Value, theirs: Value, what: string): Value {
  if (same(mine, base) || same(mine, theirs)) return theirs;
  if (same(theirs, base)) return mine;
  if (isFields(base) && isFields(mine) && isFields(theirs)) return mergedFields(base, mine, theirs, what);
  if (Array.isArray(mine) && Array.isArray(theirs) && (base === undefined || Array.isArray(base))) {
    return mergedList(base ?? [], mine, theirs, what);
  }
  throw new MergeConflict(what);
}

function mergedFields(base: Fields, mine: Fields, theirs: Fields, what: string): Fields {
  const out: Record<string, Value> = {};
  for (const field of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
    const value = merged(base[field], mine[field], theirs[field], what ? `${what}.${field}` : field);
    if (value !== undefined) out[field] = value;
  }
  return out;
}

function mergedList(base: readonly Value[], mine: readonly Value[], theirs: readonly Value[], what: string): Value[] {
  const [was, own, other] = [base, mine, theirs].map((list) => byKey(list));
  if (!was || !own || !other) throw new MergeConflict(what);
  const out = new Map<string, Value>();
  for (const [key, item] of other) {
    if (!own.has(key)) {
      // taken away here; what was changed there meanwhile does not go with it
      if (was.has(key) && !same(was.get(key), item)) throw new MergeConflict(what);
      if (!was.has(key)) out.set(key, item);
      continue;
    }
    out.set(key, merged(was.get(key), own.get(key), item, what));
  }
  for (const [key, item] of own) {
    if (other.has(key)) continue;
    if (!was.has(key)) out.set(key, item);
    // taken away there; what was changed here meanwhile has nothing to be made on
    else if (!same(was.get(key), item)) throw new MergeConflict(what);
  }
  return inOrder(out, was, own);
}

/** Null where items cannot be told apart. */
function byKey(list: readonly Value[]): Map<string, Value> | null {
  const out = new Map<string, Value>();
  for (const item of list) {
    const key = keyOf(item);
    if (key === null || out.has(key)) return null;
    out.set(key, item);
  }
  return out;
}

/** Items in the order that was given to them here, if it is another than before; new ones of elsewhere come behind. */
function inOrder(
  items: ReadonlyMap<string, Value>,
  was: ReadonlyMap<string, Value>,
  own: ReadonlyMap<string, Value>,
): Value[] {
  const kept = (list: ReadonlyMap<string, Value>): string[] => [...list.keys()].filter((k) => was.has(k) && own.has(k));
  if (same(kept(was), kept(own))) return [...items.values()];
  const order = [...own.keys()].filter((k) => items.has(k));
  return [...order, ...[...items.keys()].filter((k) => !own.has(k))].map((k) => items.get(k)!);
}

import { applyChange, MergeConflict, merged, type Plan, type PlanChange } from '@gephyra/core/plan';
import { type Changing, changed } from './changes.ts';

/** Fields that hold what people wrote: no ids are looked for there. */
const WRITTEN: ReadonlySet<string> = new Set(['name', 'label', 'note', 'why', 'who', 'group', 'title', 'text']);

/**
 * Makes changes that were made on `old` on a plan that others changed since. A part that both changed in different ways is not
 * made. `renamed` tells ids that what was added before got on the newer plan; those of these changes are put in.
 *
 * @throws Error in words for the maker, when one of them cannot be made any more
 */
export function rebased(old: Plan, changes: readonly Changing[], onto: Plan, renamed: Map<string, string>): Plan {
  let was = old;
  let is = onto;
  for (const changing of changes) {
    const first = typeof changing === 'function' ? changing(was) : changing;
    // a function says itself what it is on another plan, as long as ids mean there what they meant
    const again = typeof changing === 'function' && renamed.size === 0;
    const made = changed(is, [again ? changing : apart(put(was, renamed), put(first, renamed), is)]);
    was = changed(was, [first]).plan;
    is = made.plan;
    for (const [asked, given] of made.ids) renamed.set(asked, given);
  }
  return is;
}

/** A change as it is made on `now`, what was changed there since `before` kept. Throws Error where both changed the same. */
function apart(before: Plan, change: PlanChange, now: Plan): PlanChange {
  if (change.do === 'all') {
    let [was, is] = [before, now];
    return {
      do: 'all',
      changes: change.changes.map((one) => {
        const own = apart(was, one, is);
        was = applyChange(was, one);
        is = applyChange(is, own);
        return own;
      }),
    };
  }
  if (change.do === 'set') {
    const set: Record<string, unknown> = {};
    for (const [field, value] of Object.entries(change.set)) {
      const [base, theirs] = [before, now].map((p) => p[field as keyof Plan]);
      // what tells pieces apart is computed: the newest is as good as any
      set[field] = field === 'anchors' || field === 'codes' ? value : both(() => merged(base, value, theirs, field));
    }
    return { do: 'set', set };
  }
  const about = aboutOf(change);
  if (about) {
    const [base, theirs] = [before, now].map((p) => about.in(p) as Record<string, unknown> | undefined);
    for (const [field, value] of Object.entries(about.set)) {
      both(() => merged(base?.[field], value, theirs?.[field], field));
    }
  }
  return change;
}

function both(merge: () => unknown): unknown {
  try {
    return merge();
  } catch (error) {
    if (error instanceof MergeConflict) throw new Error('The same was changed elsewhere meanwhile.');
    throw error;
  }
}

type Item = { readonly id?: string | undefined };
const byId = (list: readonly Item[], id: string): Item | undefined => list.find((x) => x.id === id);

/** What a change sets fields of, and which. */
function aboutOf(change: PlanChange): { in(plan: Plan): object | undefined; set: object } | null {
  switch (change.do) {
    case 'setSeam':
      return { in: (p) => byId(p.seams, change.id), set: change.set };
    case 'setJoint':
      return { in: (p) => byId(p.joints, change.id), set: change.set };
    case 'setStep':
      return { in: (p) => byId(p.recipe, change.id), set: change.set };
    case 'setZone':
      return { in: (p) => byId(p.zones, change.id), set: change.set };
    case 'setBed':
      return { in: (p) => byId(p.beds, change.id), set: change.set };
    case 'setBody':
      return { in: (p) => byId(p.bodies, change.id), set: change.set };
    case 'setPiece':
      return { in: (p) => p.pieces.find((x) => x.key === change.key), set: change.set };
    case 'placePiece':
      return {
        in: (p) =>
          p.beds.flatMap((b) =>
            b.pieces
              .filter((x) => x.piece === change.piece && x.copy === change.copy)
              .map((x) => ({ ...x, bed: b.id })),
          )[0],
        set: { ...change.set, bed: change.bed },
      };
    default:
      return null;
  }
}

/** A change with other ids in it, also inside the keys of pieces. */
function put<T>(value: T, ids: ReadonlyMap<string, string>): T {
  if (ids.size === 0) return value;
  const known = new RegExp(`\\b(${[...ids.keys()].join('|')})\\b`, 'g');
  const deep = (x: unknown): unknown => {
    if (typeof x === 'string') return x.replace(known, (id) => ids.get(id)!);
    if (Array.isArray(x)) return x.map(deep);
    if (typeof x !== 'object' || x === null) return x;
    return Object.fromEntries(Object.entries(x).map(([k, v]) => [k, WRITTEN.has(k) ? v : deep(v)]));
  };
  return deep(value) as T;
}

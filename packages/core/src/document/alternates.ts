import { z } from 'zod';
import { id, name } from '../fields.ts';

/** Bodies of which one at a time is put on: heads that are swapped. The first one's faces carry the joints for all. */
export const alternatesSchema = z
  .strictObject({
    id,
    name: name.default(''),
    bodies: z.array(id).min(2).max(50),
    /** the one that is on; without it the first */
    shown: id.optional(),
  })
  .refine((s) => s.shown === undefined || s.bodies.includes(s.shown), {
    path: ['shown'],
    message: 'is none of the bodies',
  });

export type Alternates = z.output<typeof alternatesSchema>;

/** One body among those that take its place. */
export interface AlternateBody {
  readonly set: Alternates;
  /** whose faces carry the joints for all of them: the first that is there */
  readonly lead: string;
  /** the one that is on */
  readonly shown: string;
}

/** What sets of alternates make of bodies that are there, by body; sets of which fewer than two are there say nothing. */
export function alternateBodies(
  sets: readonly Alternates[],
  there: readonly string[],
): ReadonlyMap<string, AlternateBody> {
  const known = new Set(there);
  const out = new Map<string, AlternateBody>();
  for (const set of sets) {
    const bodies = set.bodies.filter((b) => known.has(b));
    if (bodies.length < 2) continue;
    const shown = set.shown !== undefined && bodies.includes(set.shown) ? set.shown : bodies[0];
    for (const body of bodies) out.set(body, { set, lead: bodies[0], shown });
  }
  return out;
}

/** Bodies whose place another takes in the whole. */
export const spareBodies = (sets: readonly Alternates[], there: readonly string[]): ReadonlySet<string> =>
  new Set([...alternateBodies(sets, there)].flatMap(([body, { shown }]) => (body === shown ? [] : [body])));

/**
 * The sets once two bodies are alternates of each other: the second joins the set of the first, or a new one is made. `id` is
 * that of a new set.
 */
export function withAlternate(sets: readonly Alternates[], body: string, other: string, id: string): Alternates[] {
  const rest = withoutAlternate(sets, other);
  const own = rest.find((s) => s.bodies.includes(body));
  if (!own) return [...rest, { id, name: '', bodies: [body, other] }];
  return rest.map((s) => (s === own ? { ...s, bodies: [...s.bodies, other] } : s));
}

/** The sets without a body; one that has a single body left is none. */
export const withoutAlternate = (sets: readonly Alternates[], body: string): Alternates[] =>
  sets.flatMap((s) => {
    const bodies = s.bodies.filter((b) => b !== body);
    const { shown, ...rest } = s;
    return bodies.length < 2 ? [] : [{ ...rest, bodies, ...(shown !== undefined && shown !== body && { shown }) }];
  });

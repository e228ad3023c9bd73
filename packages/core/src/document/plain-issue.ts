/** One thing that is wrong in a plan document. */
export interface PlanIssue {
  /** e.g. joints[0].gap */
  readonly path: string;
  readonly message: string;
}

/** What the entries of a plan's lists are called, by their number. */
const ENTRIES: Readonly<Record<string, (n: number) => string>> = {
  seams: (n) => `seam ${n}`,
  joints: (n) => `joint ${n}`,
  recipe: (n) => `step ${n} of the recipe`,
  pieces: (n) => `the note on piece ${n}`,
  bodies: (n) => `the note on body ${n}`,
  contacts: (n) => `pair ${n} of touching bodies`,
  measures: (n) => `measure ${n}`,
  zones: (n) => `place ${n} to keep clear`,
};

/** What makers call fields that have other names in the document. */
const FIELDS: Readonly<Record<string, string>> = {
  id: 'key',
  origin: 'place',
  at: 'place',
  normal: 'direction',
  up: 'way up',
  male: 'side',
  copyOf: 'copy',
  depthGap: 'gap in depth',
};

const wordOf = (field: string): string => FIELDS[field] ?? field.replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`);

/**
 * What is wrong in a plan, as its maker would say it: “the direction of seam 2, Brow, must be …”. `input` is the document that
 * the issue is of.
 */
export function plainIssue(input: unknown, { path, message: raw }: PlanIssue): string {
  const message = plainMessage(raw);
  const [list, index, ...fields] = [...path.matchAll(/[^.[\]]+/g)].map(([part]) => part);
  const called = ENTRIES[list];
  if (called && index !== undefined && /^\d+$/.test(index)) {
    const entry = entryOf(input, list, Number(index));
    const name = entry?.name ?? entry?.id;
    const who = `${called(Number(index) + 1)}${typeof name === 'string' && name !== '' ? `, ${name},` : ''}`;
    if (fields.at(-1) === 'id' && message.endsWith('used twice')) return `${who} has the key of another`;
    return fields.length === 0 ? `${who} ${message}` : `the ${words(fields)} of ${who} ${message}`;
  }
  const all = [list, index, ...fields].filter((part) => part !== undefined);
  if (all.length === 0 || list === 'document') return `it ${message}`;
  return all.length > 1
    ? `the ${words(all.slice(1))} of the ${wordOf(list)} ${message}`
    : `its ${wordOf(list)} ${message}`;
}

/** What the checking library says by itself, in words. */
function plainMessage(message: string): string {
  const [, wanted, received] = /^Invalid input: expected (\w+), received (\w+)$/.exec(message) ?? [];
  if (received === 'undefined') return 'is missing';
  if (wanted) return `must be ${WANTED[wanted] ?? wanted}`;
  return message.startsWith('Invalid') ? 'is none that is known here' : message;
}

const WANTED: Readonly<Record<string, string>> = {
  string: 'a word',
  number: 'a number',
  boolean: 'yes or no',
  array: 'a list',
  object: 'a part of the plan with fields of its own',
};

const words = (fields: readonly string[]): string =>
  fields
    .filter((f) => !/^\d+$/.test(f))
    .map(wordOf)
    .reverse()
    .join(' of the ') || 'place';

function entryOf(input: unknown, list: string, index: number): { id?: unknown; name?: unknown } | null {
  const found = (input as Record<string, unknown> | null)?.[list];
  const entry = Array.isArray(found) ? (found[index] as unknown) : null;
  return typeof entry === 'object' && entry !== null ? entry : null;
}

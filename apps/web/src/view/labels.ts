import type { Label } from '../project/shown.ts';

/** A letter of a label, and a line of them, in pixels. */
const LETTER = 7;
const LINE = 15;

/**
 * The labels that can stand beside one another: of two that would be printed over each other only the first stays, those of
 * the maker's own marks before the ruler's.
 */
export function apartLabels(labels: readonly Label[]): Label[] {
  const taken: Label[] = [];
  const lies = (a: Label, b: Label): boolean =>
    Math.abs(a.y - b.y) < LINE && Math.abs(a.x - b.x) < (LETTER * (a.text.length + b.text.length)) / 2 + 4;
  for (const label of labels.toSorted((a, b) => Number(a.kind === 'staff') - Number(b.kind === 'staff'))) {
    if (!taken.some((t) => lies(t, label))) taken.push(label);
  }
  return taken;
}

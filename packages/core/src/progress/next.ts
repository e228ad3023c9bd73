import type { Plan } from '../document/index.ts';
import { type CopyProgress, copyKey, isJoined, isPrinted } from './progress.ts';

/** What is to be done next at the bench. */
export type Next =
  | { readonly do: 'print'; readonly bed: string; readonly pieces: number }
  /** a step of joining, counted from 0, whose parts are all printed */
  | { readonly do: 'join'; readonly step: number; readonly parts: readonly (readonly string[])[] };

/**
 * What can be done next: the first bed with pieces yet to print, beds that make a step possible sooner first; and the first steps of
 * joining whose pieces are printed but not yet joined, each after the steps that it builds on.
 */
export function nextAtBench(
  plan: Plan,
  progress: readonly CopyProgress[],
  steps: readonly { readonly parts: readonly (readonly string[])[] }[],
): Next[] {
  const byKey = new Map(progress.map((p) => [copyKey(p.piece, p.copy), p]));
  const first = (piece: string): CopyProgress | undefined => byKey.get(copyKey(piece, 1));
  const joins: Next[] = [];
  const waiting = new Set<string>();
  steps.forEach(({ parts }, step) => {
    const pieces = parts.flat().map(first);
    const open = pieces.some((p) => p && !isJoined(p.state));
    const builds = parts.some((part) => part.length > 1 && part.some((k) => waiting.has(k)));
    if (!open) return;
    if (!builds && pieces.every((p) => p && isPrinted(p.state))) joins.push({ do: 'join', step, parts });
    for (const key of parts.flat()) waiting.add(key);
  });
  const rank = new Map<string, number>();
  steps.forEach(({ parts }, step) => {
    for (const key of parts.flat()) if (!rank.has(key)) rank.set(key, step);
  });
  const beds = plan.beds
    .map((bed, at) => {
      const left = bed.pieces.filter((p) => byKey.get(copyKey(p.piece, p.copy))?.state === 'toPrint');
      const soonest = Math.min(Infinity, ...left.map((p) => rank.get(p.piece) ?? Infinity));
      return { bed, at, left: left.length, soonest };
    })
    .filter((b) => b.left > 0)
    .sort((a, b) => (a.soonest === b.soonest ? a.at - b.at : a.soonest - b.soonest));
  return [...joins, ...beds.slice(0, 3).map(({ bed, left }): Next => ({ do: 'print', bed: bed.id, pieces: left }))];
}

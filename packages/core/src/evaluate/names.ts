import { type Box, sizeOf } from '../mesh/index.ts';

interface Placed {
  readonly box: Box;
}

const WORDS = [
  ['left', 'right'],
  ['front', 'back'],
  ['lower', 'upper'],
] as const;
const ORDER = [2, 1, 0] as const;
/** Nearer to the body's middle than this share of its size is neither left nor right, front nor back. */
const NEAR = 0.08;

/**
 * Names for the pieces of one body by where they sit in it: x runs to the right, y to the back, z up.
 *
 * An axis is named only when some piece does not span most of it. The outermost on an axis get its two words, what lies
 * between is "middle"; but nothing near the middle of the body is called left, right, front or back. Names that still
 * coincide are numbered.
 */
export function positionNames(pieces: readonly Placed[], body: Box): string[] {
  const size = sizeOf(body);
  const words = pieces.map(() => [] as string[]);
  for (const axis of ORDER) {
    const centre = (p: Placed): number => (p.box.min[axis] + p.box.max[axis]) / 2;
    const spans = (p: Placed): boolean => p.box.max[axis] - p.box.min[axis] > 0.8 * size[axis];
    if (pieces.every(spans)) continue;
    const low = Math.min(...pieces.map(centre));
    const high = Math.max(...pieces.map(centre));
    const third = (high - low) / 3;
    pieces.forEach((p, i) => {
      if (spans(p) || high - low < size[axis] * 0.05) return;
      const c = centre(p);
      const end = c < low + third ? 0 : c > high - third ? 1 : null;
      const central = axis < 2 && Math.abs(c - (body.min[axis] + body.max[axis]) / 2) < NEAR * size[axis];
      if (end === null) words[i].push('middle');
      else if (!central) words[i].push(WORDS[axis][end]);
    });
  }
  const names = words.map((w) => (w.length === 0 ? (pieces.length > 1 ? 'main' : 'whole') : [...new Set(w)].join(' ')));
  const totals = new Map<string, number>();
  for (const n of names) totals.set(n, (totals.get(n) ?? 0) + 1);
  const seen = new Map<string, number>();
  return names.map((n) => {
    if (totals.get(n) === 1) return n;
    seen.set(n, (seen.get(n) ?? 0) + 1);
    return `${n} ${seen.get(n)}`;
  });
}

/** A, B … Z, AA, AB … */
export function letters(index: number): string {
  const rest = index >= 26 ? letters(Math.floor(index / 26) - 1) : '';
  return rest + String.fromCharCode(65 + (index % 26));
}

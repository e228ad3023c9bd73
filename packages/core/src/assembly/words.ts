import type { Vec3 } from '../mesh/index.ts';
import { degrees } from '../units.ts';
import type { Hold } from './blocking.ts';
import type { Thread } from './model.ts';

const AXES = [
  ['from the right', 'from the left'],
  ['from behind', 'from the front'],
  ['from above', 'from below'],
] as const;

/** Where a part comes from, in a few words: the axis that its way out is nearest to, and how far it leans from it. */
export function comesFrom(out: Vec3): string {
  const axis = out.map(Math.abs).indexOf(Math.max(...out.map(Math.abs)));
  const words = AXES[axis][out[axis] > 0 ? 0 : 1];
  const lean = degrees(Math.acos(Math.min(1, Math.abs(out[axis]) / Math.hypot(...out))));
  return lean < 1 ? words : `${words}, leaning ${lean.toFixed(0)}°`;
}

/** What a step does in a few words: the last part comes to the others. */
export function stepWords(parts: readonly (readonly string[])[], codeOf: (key: string) => string): string {
  const words = parts.map((p) => codesOf(p, codeOf));
  return `${words[words.length - 1]} to ${words.slice(0, -1).join(' and ')}`;
}

/** Codes of a part in a few words: "A1", "A1 and A2", "A1, A2 and 3 more". */
export function codesOf(part: readonly string[], codeOf: (key: string) => string): string {
  const codes = part.map(codeOf);
  if (codes.length <= 2) return codes.join(' and ');
  return `${codes.slice(0, 2).join(', ')} and ${codes.length - 2} more`;
}

/** What holds, in words that follow a colon. */
export function holdWords(hold: Hold): string {
  if (hold.by === 'face') return 'they would go into each other where they touch';
  if (hold.by === 'joint') return `joint ${hold.joint} does not let it`;
  return hold.after < 0.05 ? 'they meet at once' : `they meet after ${hold.after.toFixed(0)} mm`;
}

/** What runs through a bore, in a few words: "brass tube 8, 312 mm, through A1, A2 and 3 more". */
export const threadWords = ({ what, length, pieces }: Thread, codeOf: (key: string) => string): string =>
  `${what}, ${length.toFixed(0)} mm, through ${codesOf(pieces, codeOf)}`;

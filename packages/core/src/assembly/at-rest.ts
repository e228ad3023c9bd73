import type { Finding } from '../document/index.ts';
import { type Evaluation, type Piece, pieceMesh } from '../evaluate/index.ts';
import { type Kernel, overlapOf } from '../solid/index.ts';
import { takesPart } from './blocking.ts';

/** Two pieces that are in each other where they belong. */
export interface Overlap {
  readonly pieces: readonly [string, string];
  /** mm³ */
  readonly volume: number;
}

/** Boxes that share less than this on an axis only touch, mm. */
const TOUCH = 0.05;
/** Less than this is what float32 makes of faces that lie on one another, mm³. */
const LEAST = 1;

/**
 * Pieces that overlap in their places, joints included, as the kernel measures it: the model goes through itself there, or bodies
 * do through each other. No way of joining helps that, and it reads as a lock. Yields the share that is done, a pair at a time.
 */
export function* overlapsAtRest(e: Evaluation, kernel: Kernel): Generator<number, Overlap[]> {
  const pieces = e.pieces.filter((p) => p.closed && takesPart(p));
  const pairs = pieces.flatMap((a, i) => pieces.slice(i + 1).flatMap((b) => (near(a, b) ? [[a, b] as const] : [])));
  const out: Overlap[] = [];
  for (const [n, [a, b]] of pairs.entries()) {
    const volume = overlapOf(kernel, pieceMesh(a).mesh, pieceMesh(b).mesh);
    if (volume > LEAST) out.push({ pieces: [a.key, b.key], volume });
    yield (n + 1) / pairs.length;
  }
  return out;
}

const near = (a: Piece, b: Piece): boolean =>
  [0, 1, 2].every((k) => Math.min(a.box.max[k], b.box.max[k]) - Math.max(a.box.min[k], b.box.min[k]) > TOUCH);

export const overlapFindings = (overlaps: readonly Overlap[], codeOf: (key: string) => string): Finding[] =>
  overlaps.map(({ pieces: [a, b], volume }) => ({
    code: 'order.overlap',
    severity: 'warn',
    where: { piece: a },
    message: `${codeOf(a)} and ${codeOf(b)} are in each other by ${volume.toFixed(0)} mm³ where they belong: the model goes through itself there. Mend it at Model, or file that much off.`,
  }));

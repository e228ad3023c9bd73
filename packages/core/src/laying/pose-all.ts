import type { PlanChange, PoseNote, Wish } from '../document/index.ts';
import type { Piece } from '../evaluate/index.ts';
import type { Enough } from '../finished.ts';
import { upInSource } from '../print/index.ts';
import type { PiecePrint, PoseChoice, PoseProposal } from './model.ts';
import { type PrintContext, poseChoices, printOf } from './prints.ts';

/** A pose from those to choose from, as the plan keeps it. */
const noteOfChoice = ({ pose, why }: Pick<PoseChoice, 'pose' | 'why'>, { evaluation }: PrintContext): PoseNote => ({
  up: [...upInSource(pose.up, evaluation.map)],
  spin: pose.spin,
  by: 'search',
  why,
});

/**
 * Looks for the best pose of every piece that has a file of its own, by its own wish or the one given. Poses that were set
 * by hand stay. Stops after every piece, so that others get their turn, and says which is next; ends with what it has when it
 * is enough. Nothing is changed: see `posesTaken`.
 */
export function* poseAll(context: PrintContext, wish: Wish, enough?: Enough): Generator<Piece, PoseProposal> {
  const { plan, evaluation, shared } = context;
  const pieces: { key: string; before: PiecePrint; after: PiecePrint }[] = [];
  for (const piece of evaluation.pieces) {
    if (piece.aside || !piece.closed || shared.has(piece.key)) continue;
    const note = plan.pieces.find((p) => p.key === piece.key);
    if (note?.pose?.by === 'hand') continue;
    if (enough?.()) break;
    yield piece;
    const before = printOf(context, piece, note?.pose);
    const best = poseChoices(context, piece, note?.wish ?? wish, 1)[0];
    if (!best) continue;
    pieces.push({ key: piece.key, before, after: printOf(context, piece, noteOfChoice(best, context)) });
  }
  return { wish, pieces };
}

/** The change that takes a proposal. */
export function posesTaken({ wish, pieces }: PoseProposal, context: PrintContext): PlanChange {
  return {
    do: 'all',
    changes: [
      { do: 'set', set: { wish } },
      ...pieces.map(
        ({ key, after }): PlanChange => ({
          do: 'setPiece',
          key,
          set: { pose: noteOfChoice(after, context) },
        }),
      ),
    ],
  };
}

/** Hours, grams and support of pieces together, copies counted. */
export function sumOf(prints: readonly PiecePrint[]): {
  hours: number;
  grams: number;
  support: number;
  fitting: number;
} {
  const sum = (of: (p: PiecePrint) => number): number => prints.reduce((s, p) => s + of(p) * p.copies, 0);
  return {
    hours: sum((p) => p.estimate.hours),
    grams: sum((p) => p.estimate.grams),
    support: sum((p) => p.figures.supportVolume),
    fitting: prints.filter((p) => p.figures.fits).length,
  };
}

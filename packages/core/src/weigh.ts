import type { Plan } from './document/index.ts';
import { type EvalContext, type Evaluation, evaluateModel } from './evaluate/index.ts';
import { poseChoices } from './laying/index.ts';
import { alikePieces, sharedFiles } from './output/index.ts';
import type { PartingFigures, Wishes } from './propose/seams/index.ts';
import { seatJoints } from './propose/seat/index.ts';
import type { Model } from './recipe/index.ts';
import type { Kernel } from './solid/index.ts';

/** What a parting comes to once it is jointed and laid to print; nothing of that is kept. */
export interface Weighed {
  /** mating faces without a joint */
  readonly bare: number;
  /** joints that cannot be built or brought in */
  readonly refused: number;
  /** of printing, each piece in its best pose */
  readonly hours: number;
  /** g of support */
  readonly support: number;
}

/**
 * Seats joints on a parting and looks coarsely for poses, to tell what is not seen of seams alone. Stops after every piece
 * and says how far it is, from 0 to 1. Files that serve several pieces are looked at once.
 */
export function* weighParting(
  plan: Plan,
  evaluation: Evaluation,
  model: Model,
  tools: EvalContext & { readonly kernel: Kernel },
): Generator<number, Weighed> {
  const { joints, notes } = seatJoints(plan, evaluation);
  yield 0.2;
  const seated = { ...plan, joints: [...plan.joints, ...joints], contacts: [...evaluation.contacts] };
  const jointed = evaluateModel(seated, model, tools);
  const stopped = new Set(
    jointed.findings.flatMap(({ severity, where }) => (severity === 'stop' && where.joint ? [where.joint] : [])),
  );
  const pieces = jointed.pieces.filter((p) => !p.aside && p.closed);
  const context = {
    plan: seated,
    evaluation: jointed,
    kernel: tools.kernel,
    shared: sharedFiles(jointed, alikePieces(jointed, plan.alike), plan.pieces),
  };
  const made = new Map<string, { hours: number; support: number }>();
  let [hours, support, done] = [0, 0, 0];
  for (const piece of pieces) {
    yield 0.3 + (0.7 * done++) / pieces.length;
    const of = context.shared.get(piece.key)?.of ?? piece.key;
    const lead = jointed.pieces.find((p) => p.key === of) ?? piece;
    const own = made.get(of) ?? printed(poseChoices(context, lead, plan.wish, 0)[0]?.estimate);
    made.set(of, own);
    hours += own.hours;
    support += own.support;
  }
  return { bare: notes.filter((n) => n.joints.length === 0).length, refused: stopped.size, hours, support };
}

const printed = (estimate: { readonly hours: number; readonly supportGrams: number } | undefined) => ({
  hours: estimate?.hours ?? 0,
  support: estimate?.supportGrams ?? 0,
});

/** What a bare face, a refused joint, a metre of seam seen, ten hours and 100 g of support weigh beside a piece. */
const BARE = 0.5;
const REFUSED = 1;
const METRE = 0.5;
const TEN_HOURS = 0.5;
const SUPPORT = 0.5;

/** What speaks against a parting, in pieces: the lowest of several is the one to take. What is too large or open counts for ten. */
export function weightOf(f: PartingFigures, w: Weighed, wishes: Wishes): number {
  return (
    wishes.few * f.pieces +
    10 * (f.pieces - f.fits + (f.pieces - f.closed)) +
    f.slivers +
    BARE * w.bare +
    REFUSED * w.refused +
    wishes.hidden * METRE * (f.seenLength / 1000) +
    wishes.print * ((TEN_HOURS * w.hours) / 10 + (SUPPORT * w.support) / 100)
  );
}

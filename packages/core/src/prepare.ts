import { type Import, isClosed } from './body/index.ts';
import { applyChange, type Plan, type PlanChange, type Printer } from './document/index.ts';
import { GephyraError } from './errors.ts';
import { EvalCache, type EvalContext, faceName } from './evaluate/index.ts';
import { type Enough, finishedUnless } from './finished.ts';
import { fillBeds, type PrintContext, piecePrints, poseAll, posesTaken } from './laying/index.ts';
import { mirrorIn } from './mesh/index.ts';
import { sharedFiles } from './output/index.ts';
import { type ComputedProject, computeProject, shapeProject } from './project.ts';
import { EVEN_WISHES, gridSeams, type ProposeState, proposeSeams } from './propose/seams/index.ts';
import { seatJoints } from './propose/seat/index.ts';
import { type MirrorPlane, type Model, mirrorOf, mirrorSearch, type Shaped } from './recipe/index.ts';
import type { Kernel } from './solid/index.ts';

/** What is done of a closed model until it lies on beds, in this order. */
export const PREPARATIONS = ['seams', 'joints', 'poses', 'beds'] as const;
export type Preparation = (typeof PREPARATIONS)[number];

/** What a step makes of a plan. */
export interface Done {
  /** a sentence */
  readonly did: string;
  /** what it could not do: sentences that say what to do about it */
  readonly left: readonly string[];
  /** null: there was nothing to do */
  readonly change: PlanChange | null;
}

/** A plan with what it comes to, for a step to start from. */
export interface PrepareContext {
  readonly project: ComputedProject;
  readonly model: Model;
  readonly tools: EvalContext & { readonly kernel: Kernel };
  /** how far the step is, 0 to 1, with a word or two */
  readonly tell?: (share: number, what: string) => void;
  /** ends the step with what it has found */
  readonly enough?: Enough;
}

/** Room that is kept for joints while seams are looked for, mm, and planes looked at to better the first answer. */
const JOINT_ROOM = 8;
const EFFORT = 6000;
/** Both sides stay alike as long as that takes no more pieces than so many times those without. */
const MOST_FOR_TWINS = 1.1;

const STEPS: Record<Preparation, (context: PrepareContext) => Done> = {
  seams({ project: { plan }, model, tools, tell, enough }) {
    const printers: readonly Printer[] = [plan.printer, ...plan.printers];
    tell?.(0, 'the mirror plane first');
    const mirror = mirrorOf(planeOf(model, enough));
    const ask = { printers, wishes: EVEN_WISHES, jointRoom: JOINT_ROOM, keep: 'all', seed: 0 } as const;
    const say = ({ pieces, share }: ProposeState): boolean => {
      tell?.(share, `${pieces} pieces so far`);
      return !enough?.();
    };
    try {
      let best = proposeSeams(plan, model, { ...ask, mirror, effort: EFFORT }, tools, say);
      if (mirror) {
        const apart = proposeSeams(plan, model, { ...ask, effort: 0 }, tools, say);
        if (best.figures.pieces > MOST_FOR_TWINS * apart.figures.pieces) best = apart;
      }
      const { seams, figures, unlike, plan: next } = best;
      const over = figures.pieces - figures.fits;
      // the search did not come to pieces that all fit: a grid mostly does
      const grid = over > 0 && plan.seams.length === 0 ? gridSeams(plan, model, JOINT_ROOM) : [];
      if (grid.length > 0) {
        return {
          did: `${grid.length} seams in a grid: no better ones were found in time.`,
          left: [],
          change: { do: 'addSeams', seams: grid },
        };
      }
      return {
        did:
          seams.length > 0
            ? `${seams.length} seams, ${figures.pieces} pieces${unlike === 0 ? ', the same on both sides' : ''}.`
            : 'No seam is needed.',
        left:
          over > 0
            ? [
                over === 1
                  ? 'One piece is still too large. Add a seam to it at Seams.'
                  : `${over} pieces are still too large. Add seams to them at Seams.`,
              ]
            : [],
        change:
          seams.length > 0
            ? {
                do: 'all',
                changes: [
                  { do: 'addSeams', seams },
                  { do: 'set', set: { anchors: [...next.anchors] } },
                ],
              }
            : null,
      };
    } catch (error) {
      if (!(error instanceof GephyraError)) throw error;
      return { did: 'No seams were proposed.', left: [error.message], change: null };
    }
  },

  joints({ project: { plan, evaluation }, model, tell, enough }) {
    tell?.(0, 'the mirror plane first');
    const mirror = mirrorIn(planeOf(model, enough));
    tell?.(0.4, 'face by face');
    const { joints, notes } = seatJoints(plan, evaluation, { mirror }, () => !enough?.());
    const bare = notes.filter((n) => n.joints.length === 0);
    return {
      did:
        notes.length > 0
          ? `${joints.length} joints on ${notes.length - bare.length} of ${notes.length} faces.`
          : 'No face is without joints.',
      left: bare.map((n) => `No joint between ${faceName(evaluation, n.face)}: ${n.why}`),
      change:
        joints.length > 0
          ? {
              do: 'all',
              changes: [
                { do: 'addContacts', contacts: [...evaluation.contacts] },
                { do: 'addJoints', joints },
              ],
            }
          : null,
    };
  },

  poses({ project, tools, tell, enough }) {
    const context = printContext(project, tools.kernel);
    const search = poseAll(context, project.plan.wish, enough);
    let posed = 0;
    let step = search.next();
    while (!step.done) {
      tell?.(posed++ / project.evaluation.pieces.length, step.value.code);
      step = search.next();
    }
    const n = step.value.pieces.length;
    return {
      did: `${n === 1 ? 'One piece' : `${n} pieces`} laid as they print best.`,
      left: [],
      change: n > 0 ? posesTaken(step.value, context) : null,
    };
  },

  beds({ project, tools, tell }) {
    const context = printContext(project, tools.kernel);
    const prints = [];
    for (const print of piecePrints(context)) {
      prints.push(print);
      tell?.(prints.length / project.evaluation.pieces.length, 'how each piece prints');
    }
    const { beds, change, left } = fillBeds(context, prints);
    const codeOf = (key: string): string => project.evaluation.pieces.find((p) => p.key === key)?.code ?? key;
    return {
      did: beds.length === 1 ? 'One bed.' : `${beds.length} beds.`,
      left: left.map((l) => `${codeOf(l.piece)} is on no bed: ${l.why}`),
      change: beds.length > 0 ? change : null,
    };
  },
};

/** The mirror plane of a model; null when there is none, or it was not found in time. */
const planeOf = (model: Model, enough: Enough | undefined): MirrorPlane | null =>
  finishedUnless(mirrorSearch(model.bodies.map((b) => b.mesh)), enough);

const printContext = ({ plan, evaluation, alike }: ComputedProject, kernel: Kernel): PrintContext => ({
  kernel,
  plan,
  evaluation,
  shared: sharedFiles(evaluation, alike, plan.pieces),
});

/**
 * One step towards beds: seams after which everything fits, joints on bare faces, poses, or beds. What it cannot do it says; a
 * refusal of the search for seams (open bodies, a printer too small) is said too and not thrown.
 */
export const prepareStep = (step: Preparation, context: PrepareContext): Done => STEPS[step](context);

/** When each step is to be done at the latest, as a share of the time there is: checking and writing a hundred pieces takes its own. */
const UNTIL: Record<Preparation, number> = { seams: 0.28, joints: 0.48, poses: 0.56, beds: 0.6 };

/** A step that was done, with the plan after it. */
export interface Prepared extends Omit<Done, 'change'> {
  readonly step: 'mend' | Preparation;
  readonly shaped: Shaped;
  readonly project: ComputedProject;
}

/**
 * Makes a model printable step by step: mends what is not closed, proposes seams after which everything fits, seats joints,
 * looks for poses and fills beds. Each step comes out with its plan; the next goes on with what there is. `past` is asked
 * whether so great a share of the time is over: a step then ends with what it has found, so that the later ones have theirs.
 */
export function* prepare(
  start: Plan,
  found: Import,
  { fallback, kernel }: EvalContext & { readonly kernel: Kernel },
  past: (share: number) => boolean = () => false,
): Generator<Prepared, void> {
  const tools = { fallback, kernel };
  // what a step leaves as it was keeps its pieces, and all that was measured of them
  const kept = { ...tools, cache: new EvalCache() };
  let plan = start;
  let shaped = shapeProject(plan, found, kernel);
  const isOpen = (): Shaped['bodies'] => shaped.bodies.filter((b) => !isClosed(b));
  const open = isOpen().length;
  if (open > 0) {
    plan = applyChange(plan, { do: 'addStep', step: { kind: 'mend' } });
    shaped = shapeProject(plan, found, kernel);
  }
  let project = computeProject(plan, shaped, kept);
  yield {
    step: 'mend',
    did: open > 0 ? `Mended ${open - isOpen().length} of ${open} bodies.` : 'Every body is closed.',
    left: isOpen().map((b) => stillOpen(b.name)),
    shaped,
    project,
  };
  for (const step of PREPARATIONS) {
    const { did, left, change } = prepareStep(step, {
      project,
      model: shaped,
      tools,
      enough: () => past(UNTIL[step]),
    });
    if (change) {
      const next = computeProject(applyChange(project.plan, change), shaped, kept);
      const { anchors, codes, contacts } = next.evaluation;
      project = { ...next, plan: { ...next.plan, anchors: [...anchors], codes: [...codes], contacts: [...contacts] } };
    }
    yield { step, did, left, shaped, project };
  }
}

const stillOpen = (body: string): string => `${body} is still not closed, so it stays whole. Close it at Model.`;

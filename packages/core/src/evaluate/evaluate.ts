import type { Body } from '../body/index.ts';
import type { Triangulator } from '../cut/index.ts';
import type { Plan } from '../document/index.ts';
import { NO_PAINT } from '../formats/index.ts';
import { IDENTITY, uniteBoxes } from '../mesh/index.ts';
import { applyRecipe, type Model } from '../recipe/index.ts';
import { showFaces } from '../show/index.ts';
import type { Kernel } from '../solid/index.ts';
import { alternatesAstray, bodyFindings, overlaps } from './body-findings.ts';
import { EvalCache } from './eval-cache.ts';
import { bareFaces, faceFindings } from './face-findings.ts';
import type { Evaluation } from './model.ts';
import { building } from './passes/building.ts';
import { joining } from './passes/joining.ts';
import { parting } from './passes/parting.ts';
import { pieceFindings } from './piece-findings.ts';
import { showFindings } from './show-findings.ts';

export interface EvalContext {
  /** triangulates what ear cutting refuses */
  readonly fallback: Triangulator;
  /** needed for seams that are no planes */
  readonly kernel?: Kernel;
  readonly cache?: EvalCache;
  /**
   * called after each piece of work by the kernel that the cache keeps. What it throws ends the evaluation; the same one goes on from
   * there later
   */
  readonly breath?: () => void;
}

/**
 * Computes the pieces, mating faces and findings of a plan from the bodies of its source: the recipe first, as far as it
 * needs no tools, then `evaluateModel`.
 */
export function evaluate(plan: Plan, bodies: readonly Body[], context: EvalContext): Evaluation {
  const cache = context.cache ?? new EvalCache();
  const source: Model = { bodies, map: IDENTITY, palette: NO_PAINT, unit: null };
  const model = applyRecipe(plan.recipe, source, { map: (mesh, m) => cache.mapped(mesh, m) });
  return evaluateModel(plan, model, { ...context, cache });
}

/**
 * Computes the pieces, mating faces and findings of a plan from the model that its recipe made, pass by pass. Pure: the same
 * plan and model give the same result, with or without what the cache kept. Bodies that are not closed come out whole, with a
 * finding.
 */
export function evaluateModel(plan: Plan, model: Model, context: EvalContext): Evaluation {
  const full = { ...context, cache: context.cache ?? new EvalCache() };
  const { bodies, map } = model;
  const parted = parting(plan, model, full);
  const joined = joining(plan, map, parted, full);
  const { pieces, codes } = building(plan, map, parted, joined, full);
  const sized = parted.bodies.map((b) => b.sized);
  const { faces, places } = parted;
  const { placed } = joined;
  const show = showFaces(
    plan.show,
    map,
    sized.map(({ body, mesh }) => ({ id: body.id, mesh })),
  );
  return {
    map,
    box: sized.map((b) => b.box).reduce(uniteBoxes),
    pieces,
    faces,
    joints: placed,
    measured: joined.measured,
    context: joined.context,
    ways: joined.ways,
    loose: joined.loose,
    show,
    findings: [
      ...bodyFindings(bodies),
      ...parted.findings,
      ...joined.findings,
      ...bareFaces(plan, faces, placed, places),
      ...overlaps(plan, sized, full.cache),
      ...alternatesAstray(plan, faces, sized),
      ...faceFindings(plan, faces, pieces, map, placed),
      ...showFindings(pieces, show),
      ...pieceFindings(plan, pieces, bodies, map),
    ],
    anchors: parted.anchors,
    codes,
    contacts: parted.contacts,
  };
}

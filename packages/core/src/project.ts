import type { Import } from './body/index.ts';
import { withCrossings } from './crossing/index.ts';
import type { Finding, Plan } from './document/index.ts';
import { type EvalContext, type Evaluation, evaluateModel, findingsOf, type Piece } from './evaluate/index.ts';
import type { ExportFormat } from './formats/index.ts';
import { labelled } from './labels/index.ts';
import {
  type AlikeGroup,
  alikePieces,
  crossedBodies,
  type Exported,
  type ExportOptions,
  exportPieces,
  fileFaults,
  sharedFiles,
} from './output/index.ts';
import { type Model, modelOf, ShapeCache, type Shaped } from './recipe/index.ts';
import type { Kernel } from './solid/index.ts';

/** A plan computed: its pieces, what is wrong with them, and which are one file. */
export interface ComputedProject {
  readonly plan: Plan;
  readonly evaluation: Evaluation;
  /** findings that keep pieces from being written, of whatever they are */
  readonly stops: readonly Finding[];
  readonly alike: readonly AlikeGroup[];
}

export const lockedBodies = (plan: Plan): string[] => plan.bodies.filter((b) => b.locked).map((b) => b.id);

/**
 * The model that a plan's recipe makes of an import, each body looked through for places where it passes through itself.
 * Throws what the steps of the recipe throw.
 */
export function shapeProject(plan: Plan, found: Import, kernel: Kernel): Shaped {
  const shaped = new ShapeCache(modelOf(found)).shape(plan.recipe, { kernel }, lockedBodies(plan));
  return { ...shaped, bodies: withCrossings(shaped.bodies) };
}

/**
 * The one way from a plan and the model that its recipe made to pieces, findings and shared files; the server, the command
 * line and the tests all go it. Pieces that are set aside are computed too, but neither stop anything nor share files.
 */
export function computeProject(plan: Plan, model: Model, context: EvalContext): ComputedProject {
  const evaluation = evaluateModel(plan, model, context);
  const stops = evaluation.findings.filter((f) => f.severity === 'stop');
  return { plan, evaluation, stops, alike: alikePieces(evaluation, plan.alike) };
}

/** Pieces as files, and what speaks against them. */
export interface WrittenProject extends Exported {
  /** why the whole is not sound, as sentences: the plan's stop findings, and files that are not watertight as they were written */
  readonly against: readonly string[];
}

/**
 * Writes pieces of a computed project. Only without `against` may anything be called written and checked. Throws GephyraError
 * `export.nothing` when there is no piece.
 */
export function writeProject(
  { plan, evaluation, stops, alike }: ComputedProject,
  pieces: readonly Piece[],
  name: string,
  format: ExportFormat,
  options: Omit<ExportOptions, 'shared' | 'finished'> = {},
): WrittenProject {
  const shared = sharedFiles(evaluation, alike, plan.pieces);
  const made = evaluation.pieces.filter((p) => !p.aside);
  const joints = new Set(pieces.flatMap((p) => p.joints));
  // loose parts go with the pieces they join; what joins none in particular goes with all of them
  const isWanted = (own: readonly string[]): boolean =>
    own.length > 0 ? own.some((id) => joints.has(id)) : pieces.length === made.length;
  const exported = exportPieces(pieces, name, format, {
    ...options,
    loose: evaluation.loose.filter((l) => isWanted(l.joints)),
    shared,
    finished: (piece, code, mirrored) => labelled(plan, evaluation, piece, code, mirrored).piece,
  });
  const crossed = crossedBodies(evaluation);
  const against = [
    ...stops.map((f) => f.message),
    ...exported.written.flatMap((w) => fileFaults(w.piece, w, crossed.has(w.piece.body))),
  ];
  return { ...exported, against };
}

/** What keeps a piece out of an export unless the maker says otherwise: its stop findings, as sentences. */
export const stopsOf = (piece: Piece, evaluation: Evaluation): string[] =>
  findingsOf(piece, evaluation)
    .filter((f) => f.severity === 'stop')
    .map((f) => f.message);

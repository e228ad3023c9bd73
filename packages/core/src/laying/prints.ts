import { type Plan, type PoseNote, type Printer, printSettingOf, type Wish } from '../document/index.ts';
import { type Evaluation, type Piece, piecePrint } from '../evaluate/index.ts';
import { boxOf, sizeOf, type Vec3 } from '../mesh/index.ts';
import type { SharedFile } from '../output/index.ts';
import {
  estimateOf,
  type Figures,
  measurePose,
  mirroredPose,
  type Pose,
  type PoseReason,
  type PrintMesh,
  poseOnModel,
  posesFor,
  printRule,
  UPRIGHT,
  usableSize,
} from '../print/index.ts';
import type { Kernel } from '../solid/index.ts';
import type { PiecePrint, PoseChoice } from './model.ts';

/** Cells in which the figures of all pieces are measured, mm. */
const CELL = 1;

/** What everything here is asked of. */
export interface PrintContext {
  readonly kernel: Kernel;
  readonly plan: Plan;
  readonly evaluation: Evaluation;
  /** by piece: the other piece whose file it is printed from */
  readonly shared: ReadonlyMap<string, SharedFile>;
}

const meshes = new WeakMap<
  object,
  { readonly caps: Piece['caps']; readonly shown: unknown; readonly mesh: PrintMesh }
>();

/** A piece as it is looked at for printing; kept while its shape, its joints and its show faces stay. */
export function printMeshOf({ kernel, evaluation }: PrintContext, piece: Piece): PrintMesh {
  const known = meshes.get(piece.solid);
  const shown = evaluation.show.bodies.get(piece.body);
  if (
    known &&
    known.shown === shown &&
    known.caps.length === piece.caps.length &&
    known.caps.every((c, i) => c === piece.caps[i])
  ) {
    return known.mesh;
  }
  const mesh = piecePrint(kernel, piece, evaluation);
  meshes.set(piece.solid, { caps: piece.caps, shown, mesh });
  return mesh;
}

/** The printers of a plan, the main one first. */
export const printersOf = (plan: Plan): Printer[] => [plan.printer, ...plan.printers];

/** The printer of that name; the main one where the plan no longer uses it. */
export const printerNamed = (plan: Plan, name: string): Printer =>
  printersOf(plan).find((p) => p.name === name) ?? plan.printer;

/**
 * The printer a piece is for: the one that is named for it, else the smallest whose volume holds it in its pose, else the
 * largest.
 */
function printerFor(plan: Plan, key: string, fits: (printer: Printer) => boolean): Printer {
  const all = printersOf(plan);
  const named = plan.pieces.find((p) => p.key === key)?.printer;
  const own = all.find((p) => p.name === named);
  if (own || all.length === 1) return own ?? all[0];
  const bySize = [...all].sort((a, b) => a.size[0] * a.size[1] * a.size[2] - b.size[0] * b.size[1] * b.size[2]);
  return bySize.find(fits) ?? bySize[bySize.length - 1];
}

/** The printer, with the material that a piece is to be printed from. */
function inMaterial(printer: Printer, material: string | undefined): Printer {
  if (material === undefined || material === printer.material) return printer;
  // what is set for its usual material, and learned of it, does not hold for another
  const { setting: _, learned: __, ...rest } = printer;
  return { ...rest, material };
}

/** The printer that a print is for, with the material that its piece is printed from. */
export const printerOfPrint = (plan: Plan, { key, printer }: Pick<PiecePrint, 'key' | 'printer'>): Printer =>
  inMaterial(printerNamed(plan, printer), noteOf(plan, key)?.material);

/** How every piece is printed that is not set aside, in the order of the evaluation. */
export function* piecePrints(context: PrintContext): Generator<PiecePrint> {
  const { plan, evaluation, shared } = context;
  const made = new Map<string, PiecePrint>();
  for (const piece of evaluation.pieces) {
    if (piece.aside || !piece.closed) continue;
    const file = shared.get(piece.key);
    const lead = file && evaluation.pieces.find((p) => p.key === file.of && !p.aside);
    const of = lead ?? piece;
    const mirrored = lead ? file.mirrored : false;
    let own = made.get(of.key);
    if (!own) {
      own = printOf(context, of, noteOf(plan, of.key)?.pose);
      made.set(of.key, own);
    }
    const copies = noteOf(plan, piece.key)?.copies ?? 1;
    yield { ...own, key: piece.key, of: of.key, mirrored, pose: mirrored ? mirroredPose(own.pose) : own.pose, copies };
  }
}

const noteOf = (plan: Plan, key: string) => plan.pieces.find((p) => p.key === key);

const measuredPrints = new WeakMap<PrintMesh, Map<string, Pick<PiecePrint, 'printer' | 'figures' | 'estimate'>>>();

/** Up directions that are tried for a piece that no printer holds as it is modelled. */
const AXIS_UPS: readonly Vec3[] = [
  [0, 0, -1],
  [0, -1, 0],
  [0, 1, 0],
  [1, 0, 0],
  [-1, 0, 0],
];

const laid = new WeakMap<PrintMesh, Map<string, Pose>>();

/** The pose of a piece that nobody chose one for: as modelled, or on another side of its where it only fits like that. */
function unchosenPose(plan: Plan, key: string, mesh: PrintMesh): Pose {
  const named = noteOf(plan, key)?.printer;
  const all = printersOf(plan);
  const printers = all.some((p) => p.name === named) ? all.filter((p) => p.name === named) : all;
  const size = sizeOf(boxOf(mesh.positions));
  if (printers.some((p) => usableSize(p).every((room, axis) => size[axis] <= room + 1e-6))) return UPRIGHT;
  const asked = JSON.stringify(printers);
  const known = laid.get(mesh) ?? new Map<string, Pose>();
  laid.set(mesh, known);
  let found = known.get(asked);
  if (!found) {
    const tried = (pose: Pose): Figures[] =>
      printers.map((p) => measurePose(mesh, pose, printRule(p), 2 * CELL).figures).filter((f) => f.fits);
    found = UPRIGHT;
    if (tried(UPRIGHT).length === 0) {
      let least = Infinity;
      for (const up of AXIS_UPS) {
        const pose = { up, spin: 0 };
        for (const { supportVolume, turn } of tried(pose)) {
          if (supportVolume < least) [least, found] = [supportVolume, { up, spin: turn }];
        }
      }
    }
    known.set(asked, found);
  }
  return found;
}

/**
 * How a piece would be printed in a pose; without one as modelled, or on a side with which it fits. What was measured before
 * is not measured again.
 */
export function printOf(context: PrintContext, piece: Piece, note?: PoseNote): PiecePrint {
  const { plan, evaluation } = context;
  const mesh = printMeshOf(context, piece);
  const pose = note ? poseOnModel(note, evaluation.map) : unchosenPose(plan, piece.key, mesh);
  const material = noteOf(plan, piece.key)?.material;
  const asked = JSON.stringify([pose, printersOf(plan), noteOf(plan, piece.key)?.printer, material]);
  const known = measuredPrints.get(mesh) ?? new Map<string, Pick<PiecePrint, 'printer' | 'figures' | 'estimate'>>();
  measuredPrints.set(mesh, known);
  let found = known.get(asked);
  if (!found) {
    found = measuredPrint(plan, piece.key, mesh, pose, material);
    known.set(asked, found);
  }
  return {
    key: piece.key,
    of: piece.key,
    mirrored: false,
    pose,
    by: note?.by ?? 'nobody',
    why: note?.why ?? (note ? 'set by hand' : pose === UPRIGHT ? 'as modelled' : 'turned, so that it fits'),
    ...found,
    copies: noteOf(plan, piece.key)?.copies ?? 1,
  };
}

function measuredPrint(
  plan: Plan,
  key: string,
  mesh: PrintMesh,
  pose: Pose,
  material: string | undefined,
): Pick<PiecePrint, 'printer' | 'figures' | 'estimate'> {
  const printer = printerFor(plan, key, (p) => measurePose(mesh, pose, printRule(p), 2 * CELL).figures.fits);
  const own = inMaterial(printer, material);
  const { figures } = measurePose(mesh, pose, printRule(own), CELL, true);
  return { printer: printer.name, figures, estimate: estimateFor(mesh, pose, figures, own) };
}

const estimateFor = (mesh: PrintMesh, pose: Pose, figures: Figures, printer: Printer) =>
  estimateOf(mesh, pose, figures.supportVolume, printSettingOf(printer), printer.kind, printer.learned?.factor ?? 1);

/** Poses of a piece to choose from, the best for a wish first, on the printer that it is for; the best `fine` measured finely. */
export function poseChoices(context: PrintContext, piece: Piece, wish: Wish, fine?: number): PoseChoice[] {
  const { plan } = context;
  const mesh = printMeshOf(context, piece);
  const printers = printersOf(plan);
  // any printer may do, unless one is named: the room is the largest of each side
  const named = noteOf(plan, piece.key)?.printer;
  const roomy = printers.find((p) => p.name === named) ?? printers.reduce((a, b) => (b.size[2] > a.size[2] ? b : a));
  const printer = inMaterial(roomy, noteOf(plan, piece.key)?.material);
  return posesFor(mesh, printRule(printer), wish, fine).map(({ why, ...option }) => ({
    ...option,
    why: poseReason(why, plan),
    estimate: estimateFor(mesh, option.pose, option.figures, printer),
  }));
}

/** The sides of a model as its views are called: what it lies on when an axis points up. */
const SIDES = [
  ['its left side', 'its right side'],
  ['its front', 'its back'],
] as const;

/** What speaks for a pose, in words. */
function poseReason(why: PoseReason, plan: Plan): string {
  switch (why.kind) {
    case 'cap':
      return `on its face at ${plan.seams.find((s) => s.id === why.seam)?.name || `seam ${why.seam}`}`;
    case 'axis':
      if (why.axis === 2) return why.sign > 0 ? 'as modelled' : 'upside down';
      return `on ${SIDES[why.axis][why.sign > 0 ? 0 : 1]}`;
    case 'rest':
      return 'on a flat place of its outside';
    case 'free':
      return 'leaned, as little as possible hanging over';
    case 'tilt':
      return `leaned by ${why.degrees}°, so that layers stay small`;
  }
}

/** The print of a piece's file, mirrored or not. A mirror image that only other pieces are made from is told by one of them. */
export function printOfFile(prints: readonly PiecePrint[], of: string, mirrored: boolean): PiecePrint {
  const known = prints.find((p) => p.of === of && p.mirrored === mirrored);
  if (known) return known;
  const own = prints.find((p) => p.of === of);
  if (!own) throw new Error(`No piece is printed from ${of}.`);
  return { ...own, mirrored, pose: mirroredPose(own.pose) };
}

// Poses, estimates and beds, as the page asks for them.
import {
  type Affine,
  bedFindings,
  copiesOf,
  type Estimate,
  type Figures,
  type Filling,
  type Finding,
  fileMark,
  fillBeds,
  labelFindings,
  layDown,
  leadOf,
  leadPose,
  lightPrint,
  measurePose,
  outdated,
  type PiecePrint,
  type PlanChange,
  type Pose,
  type PoseChoice,
  type PoseNote,
  type PrintContext,
  type PrintMesh,
  picture,
  piecePrints,
  poseAll,
  poseChoices,
  posesTaken,
  printerOfPrint,
  printFindings,
  printMeshOf,
  printOf,
  printRule,
  progressOf,
  type Salvage,
  type SalvageJoin,
  SURFACE,
  salvage,
  shadowOfPrint,
  sideFindings,
  sumOf,
  triangleCross,
  upInSource,
  type Wish,
} from '@gephyra/core';
import type { HeldModel } from './held-model.ts';
import type { Tell } from './tell.ts';

/** How a piece is printed, with its shadow on the bed and the map that lays it there. */
export interface PrintView extends PiecePrint {
  readonly shadow: readonly Float64Array[];
  /** from the model, of the piece whose file it is, to the bed: about the middle of its box, z = 0 below */
  readonly lay: Affine;
  /** tells the file that it is printed from again */
  readonly file: string;
}

export interface PrintsView {
  readonly prints: readonly PrintView[];
  readonly findings: readonly Finding[];
}

/** A pose on the bed, ready to be drawn: what supports it, and its numbers. */
export interface LyingView {
  readonly lay: Affine;
  /** x, y, from z, to z of each column */
  readonly columns: Float32Array;
  /** its show faces on the model, nine numbers a triangle; null: it has none */
  readonly stamped: Float32Array | null;
  readonly figures: Figures;
  readonly estimate: Estimate;
}

/** A pose to choose, with a small picture of it. */
export interface ChoiceView extends Omit<PoseChoice, 'score'> {
  /** as the plan keeps it */
  readonly note: PoseNote;
  readonly pixels: Uint8ClampedArray;
}

/** New poses for all pieces, shown before they are taken. */
export interface PosingView {
  readonly before: ReturnType<typeof sumOf>;
  readonly after: ReturnType<typeof sumOf>;
  /** pieces whose pose changes */
  readonly changed: readonly { readonly key: string; readonly before: PiecePrint; readonly after: PiecePrint }[];
  readonly change: PlanChange;
  /** pegs that keep pieces from lying still better, each with its own change */
  readonly sides: readonly Finding[];
}

/** Lets others have their turn in the worker. */
const turn = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));

function contextOf(held: HeldModel, document: unknown, shared: PrintContext['shared']): PrintContext {
  const { plan, e } = held.evaluation(document);
  return { kernel: held.tools(), plan, evaluation: e, shared };
}

/** Pieces that are made from another's file, as the page knows them. */
export type SharedFiles = PrintContext['shared'];

/** How all pieces are printed, and what is to be said of that and of the beds. */
export async function printsOf(held: HeldModel, document: unknown, shared: SharedFiles): Promise<PrintsView> {
  const context = contextOf(held, document, shared);
  const prints: PiecePrint[] = [];
  for (const print of piecePrints(context)) {
    prints.push(print);
    await turn();
  }
  return {
    prints: prints.map((p) => printView(context, p)),
    findings: [
      ...printFindings(context, prints),
      ...bedFindings(context, prints),
      ...labelFindings(context.plan, context.evaluation),
      ...benchFindings(context, prints),
    ],
  };
}

/** What was printed and is not what it was. */
function benchFindings({ plan, evaluation }: PrintContext, prints: readonly PiecePrint[]): Finding[] {
  if (!plan.log) return [];
  const byKey = new Map(evaluation.pieces.map((p) => [p.key, p]));
  const leadOfPrint = new Map(prints.map((p) => [p.key, byKey.get(p.of)]));
  const markOf = (key: string): string | null => {
    const lead = leadOfPrint.get(key);
    return lead ? fileMark(lead) : null;
  };
  return outdated(progressOf(plan.log, copiesOf(prints)), markOf, (key) => byKey.get(key)?.code ?? key);
}

/** What parting a piece where its print stopped would change. Throws what `salvage` throws. */
export function salvageOf(
  held: HeldModel,
  document: unknown,
  key: string,
  height: number,
  join: SalvageJoin,
  shared: SharedFiles,
): Salvage {
  const context = contextOf(held, document, shared);
  const print = [...piecePrints(context)].find((p) => p.key === key);
  if (!print) throw new Error('There is no such piece any more.');
  return salvage(context, print, height, join, new Date(), (plan) => held.evaluate(plan));
}

/** A print as the page has it. */
export const printView = (context: PrintContext, print: PiecePrint): PrintView => ({
  ...print,
  shadow: shadowOfPrint(context, print),
  lay: layOfPrint(context, print),
  file: fileMark(leadOf(context, print)!),
});

function layOfPrint(context: PrintContext, print: PiecePrint): Affine {
  const lead = leadOf(context, print)!;
  const { map } = layDown(printMeshOf(context, lead).positions, leadPose(print));
  if (!print.mirrored) return map;
  // what is laid is mirrored at x = 0
  return map.map((x, i) => (i < 4 ? -x : x));
}

/** Poses of a piece to choose from, the best for a wish first, each with a picture. */
export async function choicesOf(
  held: HeldModel,
  document: unknown,
  key: string,
  wish: Wish,
  colour: string,
  size: readonly [number, number],
): Promise<ChoiceView[]> {
  const context = contextOf(held, document, new Map());
  const piece = context.evaluation.pieces.find((p) => p.key === key);
  if (!piece?.closed) return [];
  const choices = poseChoices(context, piece, wish);
  const out: ChoiceView[] = [];
  for (const { pose, why, figures, estimate } of choices) {
    await turn();
    out.push({
      pose,
      why,
      figures,
      estimate,
      note: { up: [...upInSource(pose.up, context.evaluation.map)], spin: pose.spin, by: 'search', why },
      pixels: drawn(context, key, pose, colour, size),
    });
  }
  return out;
}

const OVERHANG = '#c98f2e';
const COLUMN = '#b9ad96';
const PLATE = '#e6dcc8';
/** Columns in a picture are so much wider than they are reckoned, mm. */
const COARSE = 5;

/** A small picture of a piece on a bed: what hangs over in ochre, its supports as columns. */
function drawn(
  context: PrintContext,
  key: string,
  pose: Pose,
  colour: string,
  [width, height]: readonly [number, number],
): Uint8ClampedArray {
  const piece = context.evaluation.pieces.find((p) => p.key === key)!;
  const mesh = lightPrint(printMeshOf(context, piece));
  const rule = printRule(context.plan.printer);
  const { positions } = layDown(mesh.positions, pose);
  const { supports } = measurePose(mesh, pose, rule, COARSE);
  const steep = Math.sin(rule.overhang) + 1e-6;
  const plain: number[] = [];
  const hanging: number[] = [];
  const t = mesh.triangles;
  for (let i = 0; i < t.length; i += 3) {
    const n = triangleCross(positions, t, i / 3);
    const low = Math.min(positions[3 * t[i] + 2], positions[3 * t[i + 1] + 2], positions[3 * t[i + 2] + 2]);
    (-n[2] > steep * Math.hypot(...n) && low > rule.layer ? hanging : plain).push(t[i], t[i + 1], t[i + 2]);
  }
  const { min, max } = flatBox(positions);
  const rim = 8;
  const plate = Float64Array.of(
    ...[min[0] - rim, min[1] - rim, -0.4, max[0] + rim, min[1] - rim, -0.4],
    ...[max[0] + rim, max[1] + rim, -0.4, min[0] - rim, max[1] + rim, -0.4],
  );
  return picture(
    [
      { positions: plate, triangles: Uint32Array.of(0, 1, 2, 0, 2, 3), colour: PLATE },
      { positions, triangles: Uint32Array.from(plain), colour },
      { positions, triangles: Uint32Array.from(hanging), colour: OVERHANG },
      { ...posts(supports.columns, COARSE * 0.3), colour: COLUMN },
    ],
    width,
    height,
  );
}

function flatBox(p: Float64Array): { min: [number, number]; max: [number, number] } {
  const min: [number, number] = [Infinity, Infinity];
  const max: [number, number] = [-Infinity, -Infinity];
  for (let i = 0; i < p.length; i++) {
    const k = i % 3;
    if (k === 2) continue;
    min[k] = Math.min(min[k], p[i]);
    max[k] = Math.max(max[k], p[i]);
  }
  return { min, max };
}

/** Columns as posts with four sides. */
function posts(columns: Float32Array, half: number): { positions: Float64Array; triangles: Uint32Array } {
  const n = columns.length / 4;
  const positions = new Float64Array(n * 24);
  const triangles = new Uint32Array(n * 24);
  for (let i = 0; i < n; i++) {
    const [x, y, low, high] = columns.subarray(4 * i, 4 * i + 4);
    const corners = [-half, -half, half, -half, half, half, -half, half];
    for (let c = 0; c < 4; c++) {
      positions.set([x + corners[2 * c], y + corners[2 * c + 1], low], i * 24 + 3 * c);
      positions.set([x + corners[2 * c], y + corners[2 * c + 1], high], i * 24 + 12 + 3 * c);
      const [a, b] = [8 * i + c, 8 * i + ((c + 1) % 4)];
      triangles.set([a, b, b + 4, a, b + 4, a + 4], i * 24 + 6 * c);
    }
  }
  return { positions, triangles };
}

/** A piece in a pose, measured for the view. */
export function lyingOf(held: HeldModel, document: unknown, key: string, pose: Pose): LyingView | null {
  const context = contextOf(held, document, new Map());
  const piece = context.evaluation.pieces.find((p) => p.key === key);
  if (!piece?.closed) return null;
  const mesh = printMeshOf(context, piece);
  const up = upInSource(pose.up, context.evaluation.map);
  const print = printOf(context, piece, { up: [...up], spin: pose.spin, by: 'hand' });
  const { supports } = measurePose(mesh, pose, printRule(printerOfPrint(context.plan, print)), 2);
  return {
    lay: layDown(mesh.positions, pose).map,
    columns: supports.columns,
    stamped: stampedOf(mesh),
    figures: print.figures,
    estimate: print.estimate,
  };
}

function stampedOf({ positions, triangles, surface }: PrintMesh): Float32Array | null {
  const found: number[] = [];
  for (let i = 0; i < surface.length; i++) {
    if (surface[i] !== SURFACE.show) continue;
    for (let h = 3 * i; h < 3 * i + 3; h++) {
      const v = 3 * triangles[h];
      found.push(positions[v], positions[v + 1], positions[v + 2]);
    }
  }
  return found.length > 0 ? Float32Array.from(found) : null;
}

/** Looks for the best pose of every piece. */
export async function posingOf(
  held: HeldModel,
  document: unknown,
  wish: Wish,
  shared: SharedFiles,
  tell: Tell,
): Promise<PosingView> {
  const context = contextOf(held, document, shared);
  const files = context.evaluation.pieces.filter((p) => !p.aside && !context.shared.has(p.key)).length;
  const search = poseAll(context, wish);
  let step = search.next();
  for (let done = 0; !step.done; done++) {
    tell(done / Math.max(1, files), `Posing ${step.value.code} ${step.value.name}`);
    await turn();
    step = search.next();
  }
  const proposal = step.value;
  const changed = proposal.pieces.filter(
    ({ before, after }) => JSON.stringify(before.pose) !== JSON.stringify(after.pose),
  );
  const now = [...piecePrints(context)];
  const byKey = new Map(proposal.pieces.map((p) => [p.key, p.after]));
  const then = now.map((p) => ({ ...p, ...byKey.get(p.of), copies: p.copies }));
  return {
    before: sumOf(now),
    after: sumOf(then),
    changed,
    change: posesTaken({ ...proposal, pieces: changed }, context),
    sides: sideFindings(context, then),
  };
}

/** Fills beds with all pieces. */
export async function bedsOf(held: HeldModel, document: unknown, shared: SharedFiles, tell: Tell): Promise<Filling> {
  const context = contextOf(held, document, shared);
  const prints: PiecePrint[] = [];
  for (const print of piecePrints(context)) {
    tell(0.5 * (prints.length / context.evaluation.pieces.length), 'Measuring the pieces');
    prints.push(print);
    await turn();
  }
  tell(0.6, 'Filling beds');
  await turn();
  return fillBeds(context, prints);
}

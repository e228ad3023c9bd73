import type { CapRegion, Frame } from '../cut/index.ts';
import type { Finding, Plan } from '../document/index.ts';
import { capFrame, type Evaluation, type Piece, passings } from '../evaluate/index.ts';
import { type BuiltCap, buildCap, columnToTriangles, faultyEdges, partDiagonals } from '../joints/index.ts';
import { mm } from '../units.ts';
import { pocket, STROKE } from './glyphs.ts';
import { type LabelPlace, type LabelWish, labelOutline, labelPlace, labelStrokes } from './place.ts';

/** A piece with its code on its mating faces. */
export interface Labelled {
  readonly piece: Piece;
  /** how many of its mating faces carry it, of how many */
  readonly engraved: number;
  readonly faces: number;
}

const made = new WeakMap<Piece['caps'], Map<string, Labelled>>();

/**
 * A piece with its code (or another text) engraved into its mating faces wherever it has room there beside joints; as it is,
 * when the plan wants no labels. `mirrored`: for a file that is mirrored afterwards. Joints, volume and checks are those of
 * the piece without it: a label is a few tenths of a millimetre deep.
 */
export function labelled(
  plan: Plan,
  evaluation: Evaluation,
  piece: Piece,
  text = piece.code,
  mirrored = false,
): Labelled {
  const { labels } = plan;
  const none: Labelled = { piece, engraved: 0, faces: 0 };
  if (!labels || piece.aside || !piece.closed) return none;
  const { nozzle } = plan.printer;
  const asked = JSON.stringify([labels, nozzle, text, mirrored]);
  const known = made.get(piece.caps) ?? new Map<string, Labelled>();
  made.set(piece.caps, known);
  const found = known.get(asked);
  // the piece itself may be another with the same caps, of another name or pose
  if (found) return { ...found, piece: { ...piece, caps: found.piece.caps } };
  // strokes two lines wide are the least that shows
  const least = (2 * nozzle) / STROKE;
  const largest = Math.max(labels.height, least);
  const wish: LabelWish = { heights: [largest, (largest + least) / 2, least], wall: 2 * nozzle + 0.4, mirrored };
  const { solid } = piece;
  let [engraved, faces] = [0, 0];
  const built = piece.caps.map((cap, c): BuiltCap => {
    const region = solid.caps[c];
    const frame = capFrame(evaluation, region);
    if (!frame) return cap;
    faces++;
    const mouths = cap.halves.flatMap((h) => (h.kind === 'void' ? [] : [h.rings[0].loop]));
    const place = labelPlace(region, mouths, frame, text, wish);
    if (!place || !solidUnder(piece, region, frame, place, labels.depth + 2 * nozzle)) return cap;
    engraved++;
    const strokes = labelStrokes(place, text).map((loop) => ({ ...pocket(loop, labels.depth), joint: '' }));
    return buildCap(region, frame, [...cap.halves, ...strokes], evaluation.context.fallback);
  });
  const caps = partDiagonals(solid, built);
  // a code that runs into anything but its own face is left out
  const sound = engraved > 0 && faultyEdges(solid, caps) === 0 && !passings(solid, caps).some((p) => p.joint === '');
  const result: Labelled = sound ? { piece: { ...piece, caps }, engraved, faces } : { piece, engraved: 0, faces };
  known.set(asked, result);
  return result;
}

/** Whether there is so much material under a text. */
function solidUnder({ solid }: Piece, region: CapRegion, frame: Frame, place: LabelPlace, depth: number): boolean {
  const into = region.side < 0 ? -1 : 1;
  return columnToTriangles(frame, labelOutline(place), into, solid.positions, solid.triangles, depth) >= depth;
}

/** Pieces with mating faces of which none has room for the code. */
export function labelFindings(plan: Plan, evaluation: Evaluation): Finding[] {
  const { labels } = plan;
  if (!labels) return [];
  return evaluation.pieces.flatMap((piece): Finding[] => {
    const { engraved, faces } = labelled(plan, evaluation, piece);
    if (faces === 0 || engraved > 0) return [];
    const least = (2 * plan.printer.nozzle) / STROKE;
    return [
      {
        code: 'label.room',
        severity: 'note',
        where: { piece: piece.key },
        message: `No mating face of ${piece.code} has room for its code beside the joints, not even ${mm(least)} tall. Write it on by hand.`,
        value: 0,
        limit: least,
      },
    ];
  });
}

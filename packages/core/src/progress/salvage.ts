import {
  applyChange,
  type Bed,
  type CodeEntry,
  freeId,
  type LogEntryInput,
  type OrderStep,
  type Plan,
  type PlanChange,
  wallLimits,
} from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import type { Evaluation, Piece } from '../evaluate/index.ts';
import { fillBeds, leadPose, type PiecePrint, type PrintContext, piecePrints, printMeshOf } from '../laying/index.ts';
import { type Affine, dot, inverse, mapNormal, mapPoint, normalize, type Vec3, vecOf } from '../mesh/index.ts';
import { layDown } from '../print/index.ts';
import { seatJoints } from '../propose/seat/index.ts';
import { happened } from './progress.ts';

/** How the rest of a piece is joined to what is kept of it: by glue alone, or with dowels whose holes are drilled in the lower part. */
export type SalvageJoin = 'glue' | 'dowel';

/** What becomes of a piece whose print stopped: its lower part is kept, the rest is a piece to print. */
export interface Salvage {
  /** the seam, joints, beds and order; `salvaged` is all of it */
  readonly change: PlanChange;
  readonly entry: LogEntryInput;
  /** key of the piece that is parted */
  readonly key: string;
  /** where it is parted, above the bed, mm: lower than asked for where a joint is in the way */
  readonly height: number;
  /** keys of the parts that are printed, and of those that are to be */
  readonly lower: readonly string[];
  readonly upper: readonly string[];
}

/** Parts lower than this are not worth it, mm. */
const LEAST = 2;
/** Heights that are tried. */
const TRIES = 8;
/** By so much it is tried lower where nothing that is known is in the way, mm. */
const LOWER = 2;

/**
 * Parts a piece where its print stopped, square to the direction it was printed in, below any joint that the cut would run
 * through. What is below counts as printed; the rest gets joints as wished for, a bed of its own, and both the code of the
 * piece with a letter behind it. `height` above the bed, mm, what is filed off already taken away; `evaluateAgain` computes a
 * changed plan. Throws GephyraError `salvage.shared` for a piece that is made more than once or from another's file,
 * `salvage.height` when nothing worth it is left on one side, `salvage.refused` when no cut does without faults of its own.
 */
export function salvage(
  context: PrintContext,
  print: PiecePrint,
  height: number,
  join: SalvageJoin,
  at: Date,
  evaluateAgain: (plan: Plan) => Evaluation,
): Salvage {
  const { plan, evaluation, shared } = context;
  const piece = evaluation.pieces.find((p) => p.key === print.key)!;
  if (print.of !== print.key || print.copies > 1 || [...shared.values()].some((s) => s.of === print.key)) {
    throw new GephyraError(
      'salvage.shared',
      `${piece.code} is one of several that are made from one file, and a seam would part them all. Print it again, or give it a file of its own.`,
    );
  }
  const tall = print.figures.height;
  if (!(height >= LEAST && height <= tall - LEAST)) {
    throw new GephyraError(
      'salvage.height',
      `${piece.code} is ${tall.toFixed(0)} mm tall as it prints; say a height from ${LEAST} to ${(tall - LEAST).toFixed(0)} mm.`,
    );
  }
  const { map } = layDown(printMeshOf(context, piece).positions, leadPose(print));
  const spans = jointSpans(piece, map, wallLimits(plan.printer).warn);
  let lowest = height;
  for (let k = 0; k < TRIES; k++) {
    const h = below(spans, lowest);
    if (h < LEAST) break;
    const found = partedAt(context, piece, map, h, join, evaluateAgain);
    if (found) return { ...taken(context, piece, found, h, at), height: h };
    lowest = h - LOWER;
  }
  throw new GephyraError(
    'salvage.refused',
    `${piece.code} cannot be parted at ${height.toFixed(0)} mm or below without running through joints. Print it again.`,
  );
}

interface Span {
  readonly from: number;
  readonly to: number;
}

/** From where to where above the bed each joint of a piece reaches, with the wall that it wants. */
function jointSpans(piece: Piece, map: Affine, wall: number): Span[] {
  const spans = new Map<string, { from: number; to: number }>();
  for (const cap of piece.caps) {
    cap.owners.forEach((owner, t) => {
      if (owner < 0) return;
      const { joint } = cap.halves[owner];
      const span = spans.get(joint) ?? { from: Infinity, to: -Infinity };
      spans.set(joint, span);
      for (let k = 0; k < 3; k++) {
        const v = cap.triangles[3 * t + k];
        const [list, i] =
          v < cap.ids.length ? [piece.solid.positions, cap.ids[v] * 3] : [cap.extra, (v - cap.ids.length) * 3];
        const z = map[8] * list[i] + map[9] * list[i + 1] + map[10] * list[i + 2] + map[11];
        span.from = Math.min(span.from, z - wall);
        span.to = Math.max(span.to, z + wall);
      }
    });
  }
  return [...spans.values()].sort((a, b) => b.to - a.to);
}

/** The highest height from one downwards that no joint reaches. */
function below(spans: readonly Span[], height: number): number {
  let h = height;
  for (let again = true; again; ) {
    again = false;
    for (const { from, to } of spans) {
      if (h <= from || h >= to) continue;
      h = from;
      again = true;
    }
  }
  return h;
}

interface PartedPlan {
  readonly plan: Plan;
  readonly changes: readonly PlanChange[];
  readonly evaluation: Evaluation;
  readonly lower: readonly string[];
  readonly upper: readonly string[];
}

/** The plan with a piece parted at a height, and joints on the new faces; null where that has stop findings of its own making. */
function partedAt(
  { plan, evaluation }: PrintContext,
  piece: Piece,
  map: Affine,
  height: number,
  join: SalvageJoin,
  evaluateAgain: (plan: Plan) => Evaluation,
): PartedPlan | null {
  const up: Vec3 = normalize([map[8], map[9], map[10]]);
  const middle = vecOf((a) => (piece.box.min[a] + piece.box.max[a]) / 2);
  const rise = height - map[11] - dot(up, middle);
  const back = inverse(evaluation.map);
  const id = freeId('s', plan.seams);
  const on = mapPoint(
    back,
    vecOf((a) => middle[a] + up[a] * rise),
  );
  const seam = {
    id,
    kind: 'flat' as const,
    name: `${piece.code} from ${height.toFixed(0)} mm`,
    origin: [...on] as [number, number, number],
    normal: [...normalize(mapNormal(back, up))] as [number, number, number],
    scope: [piece.key],
    ...(join === 'glue' && { glued: true }),
  };
  const changes: PlanChange[] = [{ do: 'addSeam', seam }];
  let next = applyChange(plan, changes[0]);
  let after = evaluateAgain(next);
  const sideOf = (side: number): string[] =>
    after.pieces.filter((p) => p.solid.caps.some((c) => c.seam === id && c.side === side)).map((p) => p.key);
  const [lower, upper] = [sideOf(-1), sideOf(1)];
  if (lower.length === 0 || upper.length === 0 || hasNewStops(evaluation, after, [...lower, ...upper])) return null;
  if (join === 'dowel') {
    const faces = after.faces.filter((f) => f.seam === id).map((f) => f.id);
    const { joints } = seatJoints(next, after, { faces, kind: 'dowel' });
    if (joints.length > 0) {
      changes.push({ do: 'addJoints', joints });
      next = applyChange(next, changes[1]);
      after = evaluateAgain(next);
      if (hasNewStops(evaluation, after, [...lower, ...upper])) return null;
    }
  }
  return { plan: next, changes, evaluation: after, lower, upper };
}

/** Whether a plan has stop findings that it had not before; those about its new pieces count as new. */
function hasNewStops(before: Evaluation, after: Evaluation, fresh: readonly string[]): boolean {
  const nameOf = ({ code, where }: Evaluation['findings'][number]): string =>
    JSON.stringify([code, where.joint, where.seam, where.piece]);
  const known = new Set(before.findings.filter((f) => f.severity === 'stop').map(nameOf));
  const keys = new Set(before.pieces.map((p) => p.key));
  return after.findings.some(
    (f) =>
      f.severity === 'stop' &&
      !known.has(nameOf(f)) &&
      (f.where.piece === undefined || fresh.includes(f.where.piece) || keys.has(f.where.piece)),
  );
}

/** All that is to be changed and noted, once a piece is parted. */
function taken(
  context: PrintContext,
  piece: Piece,
  { plan: parted, changes, evaluation: after, lower, upper }: PartedPlan,
  height: number,
  at: Date,
): Omit<Salvage, 'height'> {
  const { plan, kernel } = context;
  const places = plan.beds.flatMap((b) => b.pieces.filter((p) => p.piece === piece.key));
  const coded = evaluationOf(after, upper);
  const printing: PrintContext = { kernel, plan: lockedBeds(parted), evaluation: coded, shared: new Map() };
  const known = new Set(plan.beds.map((b) => b.id));
  const beds = fillBeds(printing, [...piecePrints(printing)]).beds.filter((b) => !known.has(b.id));
  return {
    change: {
      do: 'all',
      changes: [
        ...places.map((p): PlanChange => ({ do: 'placePiece', piece: p.piece, copy: p.copy, bed: null })),
        ...changes,
        { do: 'set', set: { anchors: [...after.anchors] } },
        ...beds.map((bed: Bed): PlanChange => ({ do: 'addBed', bed })),
        ...orderChange(plan.order, piece.key, [...lower, ...upper]),
      ],
    },
    entry: {
      at: at.toISOString(),
      pieces: lower.map((key) => ({ piece: key, copy: 1 })),
      to: 'printed',
      note: `kept up to ${height.toFixed(0)} mm of ${piece.code}`,
    },
    key: piece.key,
    lower,
    upper,
  };
}

const evaluationOf = (e: Evaluation, keys: readonly string[]): Evaluation => ({
  ...e,
  pieces: e.pieces.filter((p) => keys.includes(p.key)),
});

/** What lies on beds already stays where it is. */
const lockedBeds = (plan: Plan): Plan => ({ ...plan, beds: plan.beds.map((b) => ({ ...b, locked: true })) });

/** All that a salvage changes of a plan as it is by now: its parts get their codes, and what is kept is noted in the log. */
export const salvaged = (now: Plan, { change, entry, key, lower, upper }: Salvage): PlanChange => ({
  do: 'all',
  changes: [
    change,
    { do: 'set', set: { codes: partCodes(now.codes, key, [...lower, ...upper]) } },
    happened(now, entry),
  ],
});

/** The ledger with the parts of a piece under its code: A23 becomes A23a, A23b; a part of A23b goes on with the letters after. */
function partCodes(codes: readonly CodeEntry[], key: string, parts: readonly string[]): CodeEntry[] {
  const own = codes.find((c) => c.key === key);
  if (!own) return [...codes];
  const others = codes.filter((c) => c !== own);
  const used = new Set(others.filter((c) => c.letters === own.letters && c.n === own.n).map((c) => c.part ?? ''));
  const was = [key, ...(own.was ?? [])].slice(0, 12);
  const named = parts.map((part, i): CodeEntry => {
    let letter = i === 0 && own.part ? own.part : '';
    for (let k = 0; letter === ''; k++) {
      const next = partLetters(k);
      if (!used.has(next)) letter = next;
    }
    used.add(letter);
    return { ...own, key: part, part: letter, was, name: own.name ? `${own.name} ${letter}` : '' };
  });
  return [...others, ...named];
}

/** a, b … z, aa, ab … */
function partLetters(k: number): string {
  const rest = k >= 26 ? partLetters(Math.floor(k / 26) - 1) : '';
  return rest + String.fromCharCode(97 + (k % 26));
}

/** An order that was set by hand joins the parts first, where it took the piece. */
function orderChange(order: Plan['order'], key: string, parts: readonly string[]): PlanChange[] {
  const at = order?.findIndex((s) => s.parts.some((p) => 'piece' in p && p.piece === key)) ?? -1;
  if (!order || at < 0) return [];
  const id = freeId('o', order);
  const step: OrderStep = { id, parts: parts.map((piece) => ({ piece })), closing: 'glue', by: 'search' };
  const others = order.map((s) => ({
    ...s,
    parts: s.parts.map((p) => ('piece' in p && p.piece === key ? { step: id } : p)),
  }));
  return [{ do: 'set', set: { order: others.toSpliced(at, 0, step) } }];
}

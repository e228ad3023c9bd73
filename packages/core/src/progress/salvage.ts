import { applyChange, freeId, type Plan, type PlanChange } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import type { Evaluation } from '../evaluate/index.ts';
import { dot, inverse, mapNormal, mapPoint, normalize, type Vec3, vecOf } from '../mesh/index.ts';
import { leadPose, type PiecePrint, type PrintContext, printMeshOf } from '../posing/index.ts';
import { layDown } from '../print/index.ts';
import { happened } from './progress.ts';

/** What becomes of a piece whose print stopped: its lower part is kept, the rest is a piece to print. */
export interface Salvage {
  readonly change: PlanChange;
  /** keys of the parts that are printed, and of those that are to be */
  readonly lower: readonly string[];
  readonly upper: readonly string[];
}

/** Parts lower than this are not worth it, mm. */
const LEAST = 2;

/**
 * Parts a piece where its print stopped, square to the direction it was printed in, and notes that what is below is printed.
 * `height` above the bed, mm, what is filed off already taken away; `evaluateAgain` computes the plan with the seam. Throws
 * GephyraError `salvage.shared` for a piece that is made more than once or from another's file, `salvage.height` when nothing
 * worth it is left on one side, `salvage.refused` when the seam parts nothing.
 */
export function salvage(
  { plan, evaluation, kernel, shared }: PrintContext,
  print: PiecePrint,
  height: number,
  at: Date,
  evaluateAgain: (plan: Plan) => Evaluation,
): Salvage {
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
  const mesh = printMeshOf({ plan, evaluation, kernel, shared }, piece);
  const { map } = layDown(mesh.positions, leadPose(print));
  const up: Vec3 = normalize([map[8], map[9], map[10]]);
  const middle = vecOf((a) => (piece.box.min[a] + piece.box.max[a]) / 2);
  const rise = height - map[11] - dot(up, middle);
  const back = inverse(evaluation.map);
  const id = freeId('s', plan.seams);
  const seam = {
    id,
    kind: 'flat' as const,
    name: `${piece.code} from ${height.toFixed(0)} mm`,
    origin: [
      ...mapPoint(
        back,
        vecOf((a) => middle[a] + up[a] * rise),
      ),
    ] as [number, number, number],
    normal: [...normalize(mapNormal(back, up))] as [number, number, number],
    scope: [piece.key],
  };
  const parted: PlanChange = { do: 'addSeam', seam };
  const after = evaluateAgain(applyChange(plan, parted));
  const sideOf = (side: number): string[] =>
    after.pieces.filter((p) => p.solid.caps.some((c) => c.seam === id && c.side === side)).map((p) => p.key);
  const [lower, upper] = [sideOf(-1), sideOf(1)];
  if (lower.length === 0 || upper.length === 0) {
    throw new GephyraError('salvage.refused', `${piece.code} cannot be parted there. Try another height.`);
  }
  const places = plan.beds.flatMap((b) => b.pieces.filter((p) => p.piece === piece.key));
  const noted = happened(plan, {
    at: at.toISOString(),
    pieces: lower.map((key) => ({ piece: key, copy: 1 })),
    to: 'printed',
    note: `kept up to ${height.toFixed(0)} mm of ${piece.code}`,
  });
  return {
    change: {
      do: 'all',
      changes: [
        ...places.map((p): PlanChange => ({ do: 'placePiece', piece: p.piece, copy: p.copy, bed: null })),
        parted,
        { do: 'set', set: { anchors: [...after.anchors] } },
        noted,
      ],
    },
    lower,
    upper,
  };
}

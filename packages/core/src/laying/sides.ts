import type { PlanChange } from '../document/index.ts';
import { capFrame, type Piece, piecePrint } from '../evaluate/index.ts';
import { buildCap, partDiagonals } from '../joints/index.ts';
import { converted, type Joint, kindOf } from '../joints/kinds/index.ts';
import { dot, type Vec3 } from '../mesh/index.ts';
import { measurePose, type Pose, type PrintMesh, printRule, upInSource } from '../print/index.ts';
import { radians } from '../units.ts';
import type { PiecePrint } from './model.ts';
import { type PrintContext, printerOfPrint } from './prints.ts';

/** Pegs that keep a piece from resting on the face they stand on, and what would be saved with them elsewhere. */
export interface SpoiltRest {
  readonly piece: string;
  readonly seam: string;
  readonly joints: readonly string[];
  /** onto the neighbour; or, where that rests on the face, too, loose in both */
  readonly way: 'swap' | 'dowel';
  /** of the piece, mm³: as it is printed now, and resting on that face without its pegs */
  readonly before: number;
  readonly after: number;
  /** moves the joints, and lays the piece on its face */
  readonly change: PlanChange;
}

/** Less support than this is not worth moving joints for, mm³, nor less than this share of what there is. */
const LEAST = 1000;
const SHARE = 0.2;
/** A piece rests on a face that looks down this straight. */
const DOWN = Math.cos(radians(3));
/** Cells of the raster with which poses are compared, mm. */
const CELL = 2;

/**
 * Pieces that would need less support lying on a mating face, if no peg stood out of it. Looks at each face by itself: the
 * piece without the pegs of that face, laid on it, against the piece as it is printed now. Where the neighbour does not rest on
 * the face the pegs go over to it, else they become loose dowels. Poses set by hand, and pieces that share a file, are left
 * alone.
 */
export function spoiltRests(context: PrintContext, prints: readonly PiecePrint[]): SpoiltRest[] {
  const { evaluation, plan, shared } = context;
  const leads = new Set([...shared.values()].map((s) => s.of));
  const alone = (key: string): boolean => !shared.has(key) && !leads.has(key);
  return prints.flatMap((print) => {
    const piece = evaluation.pieces.find((p) => p.key === print.key);
    if (!piece || print.by === 'hand' || !alone(piece.key)) return [];
    const before = print.figures.supportVolume;
    if (before < LEAST) return [];
    const rule = printRule(printerOfPrint(plan, print));
    const found = piece.solid.caps.flatMap((_, c): SpoiltRest[] => {
      const pegs = pegsOn(context, piece, c);
      if (pegs.length === 0) return [];
      const face = evaluation.faces.find((f) => f.caps.includes(piece.solid.caps[c]));
      const bare = bareOn(context, piece, c);
      const down = bare && outOf(bare, piece, c);
      if (!face || !bare || !down) return [];
      const pose: Pose = { up: [-down[0], -down[1], -down[2]], spin: 0 };
      const { figures } = measurePose(bare, pose, rule, CELL);
      const after = figures.supportVolume;
      if (!figures.fits || figures.stand < 0 || before - after < Math.max(LEAST, SHARE * before)) return [];
      const other = face.pieces.find((key) => key !== piece.key)!;
      if (!alone(other)) return [];
      const resting = restsOn(prints.find((p) => p.key === other)?.pose, [-down[0], -down[1], -down[2]]);
      const moved = pegs.map((joint) => movedPeg(joint, resting));
      if (moved.some((m) => m === null)) return [];
      const name = plan.seams.find((s) => s.id === face.seam)?.name || `seam ${face.seam}`;
      const up = [...upInSource(pose.up, evaluation.map)] as [number, number, number];
      const lie: PlanChange = {
        do: 'setPiece',
        key: piece.key,
        set: { pose: { up, spin: figures.turn, by: 'search', why: `on its face at ${name}` } },
      };
      return [
        {
          piece: piece.key,
          seam: face.seam,
          joints: pegs.map((j) => j.id),
          way: resting ? 'dowel' : 'swap',
          before,
          after,
          change: { do: 'all', changes: [...(moved as PlanChange[]), lie] },
        },
      ];
    });
    return found.sort((a, b) => a.after - b.after).slice(0, 1);
  });
}

/** The joints whose male half stands out of a cap of a piece. */
function pegsOn({ plan }: PrintContext, piece: Piece, c: number): Joint[] {
  const ids = new Set(piece.caps[c].halves.filter((h) => h.kind === 'male').map((h) => h.joint));
  return plan.joints.filter((j) => ids.has(j.id));
}

/** The change that takes a peg off its piece; null where its kind does not allow that. */
function movedPeg(joint: Joint, loose: boolean): PlanChange | null {
  const kind = kindOf(joint);
  if (!loose) return { do: 'setJoint', id: joint.id, set: { male: joint.male === '+' ? '-' : '+' } };
  // what snaps cannot be a rod, and what follows the wall is none
  if (kind.catches || kind.follows !== 'place') return null;
  return { do: 'putJoint', joint: converted(joint, 'dowel') };
}

/** Whether a piece in a pose rests on a face whose outside is `out`. */
const restsOn = (pose: Pose | undefined, out: Vec3): boolean => pose !== undefined && dot(pose.up, out) < -DOWN;

/** The way that the outside of a piece's cap looks, unit. */
const outOf = (mesh: PrintMesh, { solid }: Piece, c: number): Vec3 | undefined =>
  mesh.caps.find((cap) => cap.seam === solid.caps[c].seam && cap.area === solid.caps[c].area)?.normal;

const bares = new WeakMap<Piece['caps'], Map<number, PrintMesh>>();

/** A piece for printing without the pegs of one of its caps; null when that cap is bent. */
function bareOn({ kernel, evaluation }: PrintContext, piece: Piece, c: number): PrintMesh | null {
  const known = bares.get(piece.caps) ?? new Map<number, PrintMesh>();
  bares.set(piece.caps, known);
  const kept = known.get(c);
  if (kept) return kept;
  const region = piece.solid.caps[c];
  const frame = capFrame(evaluation, region);
  if (!frame) return null;
  const halves = piece.caps[c].halves.filter((h) => h.kind !== 'male');
  const built = piece.caps.with(c, buildCap(region, frame, halves, evaluation.context.fallback));
  const mesh = piecePrint(kernel, { ...piece, caps: partDiagonals(piece.solid, built) }, evaluation);
  known.set(c, mesh);
  return mesh;
}

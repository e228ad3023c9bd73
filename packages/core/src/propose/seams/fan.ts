import { isClosed } from '../../body/index.ts';
import { makeFrame } from '../../cut/index.ts';
import { applyChange, type Plan, type PlanChange, type Printer, parsePlan, type Seam } from '../../document/index.ts';
import { type EvalContext, evaluateModel, type Piece } from '../../evaluate/index.ts';
import {
  buildBlocks,
  cross,
  dot,
  type IndexedMesh,
  inverse,
  mapVector,
  normalize,
  pointAlong,
  rayHits,
  type Vec3,
  vecOf,
} from '../../mesh/index.ts';
import { upInSource, usableSize, withinPosed } from '../../print/index.ts';
import { type Model, type TurnAxis, turnAxis } from '../../recipe/index.ts';
import { planeInSource } from '../../seams/index.ts';
import { figuresOf, type PartingFigures } from './figures.ts';
import type { Proposal, ProposeWish } from './proposal.ts';
import { isFree } from './rival.ts';
import { unlikeOf } from './targets.ts';

//        | /
//     ---+---      sectors round the axis, and levels across it
//      / |

/** Of its height along the axis at most this share may be solid there: else sectors would run to a point. */
const SOLID = 0.1;
/** Ways that are cut and looked at. */
const MOST_TRIES = 8;
/** What counts as square. */
const SQUARE = 1e-4;
/** Shares of a sector by which the first may be turned. */
const PHASES = [0, 0.5, 0.25] as const;

/**
 * Equal sectors about the axis of a body that is round and hollow there (a ring, a bell), with level seams where it is too
 * tall; proposed when that takes no more pieces than what was found, and is as sound: equal sectors are one file. Pieces
 * are laid with the axis up and turned on the bed where their boxes do not fit. Null when it is no such body, or seams, zones and
 * faces to be seen are to be heeded, or both sides would not be alike that are to be.
 */
export function fanRival(
  plan: Plan,
  model: Model,
  wish: ProposeWish,
  context: EvalContext,
  found: PartingFigures,
): Proposal | null {
  const [body] = model.bodies;
  if (!isFree(plan, wish) || model.bodies.length !== 1 || !isClosed(body) || found.pieces < 2) return null;
  const axis = turnAxis(body.mesh);
  if (!axis) return null;
  const reach = reachOf(body.mesh, axis);
  if (!isHollowAt(body.mesh, axis, reach)) return null;
  let best: Proposal | null = null;
  const ways = waysOf(axis, reach, wish.printers).filter((w) => w.sectors * w.levels <= found.pieces);
  for (const way of ways.slice(0, MOST_TRIES)) {
    if (best && way.sectors * way.levels > best.figures.pieces) break;
    for (const phase of PHASES) {
      const next = proposalOf(plan, model, axis, reach, { ...way, phase }, wish, context);
      if (!next || next.figures.pieces > found.pieces || next.figures.slivers > found.slivers) continue;
      if (!best || next.figures.seamArea < best.figures.seamArea * 0.99) best = next;
    }
  }
  return best;
}

interface Way {
  readonly sectors: number;
  readonly levels: number;
}

/** How far something reaches along an axis from its point, and away from it, mm. */
interface Reach {
  readonly low: number;
  readonly high: number;
  readonly far: number;
}

function reachOf({ positions: p }: IndexedMesh, { at, direction }: TurnAxis): Reach {
  let [low, high, far] = [Infinity, -Infinity, 0];
  for (let k = 0; k < p.length; k += 3) {
    const d: Vec3 = [p[k] - at[0], p[k + 1] - at[1], p[k + 2] - at[2]];
    const h = dot(d, direction);
    low = Math.min(low, h);
    high = Math.max(high, h);
    far = Math.max(far, dot(d, d) - h * h);
  }
  return { low, high, far: Math.sqrt(far) };
}

/** Sectors and levels whose longest chord may lie in a printer, fewest pieces first. */
function waysOf({ sectors }: TurnAxis, { low, high, far }: Reach, printers: readonly Printer[]): Way[] {
  const rooms = printers.map(usableSize);
  const least = Math.max(1, Math.ceil((high - low) / Math.max(...rooms.flat())));
  const couldFit = (w: Way): boolean => {
    const chord = 2 * far * Math.sin(Math.PI / w.sectors);
    return rooms.some((r) => Math.hypot(chord, (high - low) / w.levels) <= Math.hypot(...r));
  };
  return sectors
    .flatMap((n) => [least, least + 1].map((levels): Way => ({ sectors: n, levels })))
    .filter(couldFit)
    .sort((a, b) => a.sectors * a.levels - b.sectors * b.levels || a.levels - b.levels);
}

/** Whether hardly anything is solid along the axis, a little beside it: corners lie on it. */
function isHollowAt(mesh: IndexedMesh, { at, direction }: TurnAxis, { low, high, far }: Reach): boolean {
  const { u, v } = makeFrame(at, direction);
  const start = vecOf((k) => at[k] + (low - 1) * direction[k] + far * (0.004 * u[k] + 0.0027 * v[k]));
  const hits = rayHits(buildBlocks(mesh), start, direction).sort((a, b) => a - b);
  let solid = 0;
  for (let i = 0; i + 1 < hits.length; i += 2) solid += hits[i + 1] - hits[i];
  return hits.length % 2 === 0 && solid <= SOLID * (high - low);
}

/** A way as it comes out on the model; null when it is not sound. */
function proposalOf(
  plan: Plan,
  model: Model,
  axis: TurnAxis,
  { low, high }: Reach,
  { sectors, levels, phase }: Way & { readonly phase: number },
  { printers, mirror }: ProposeWish,
  context: EvalContext,
): Proposal | null {
  const reasons: Seam['reasons'] = [{ kind: 'sectors', count: sectors }];
  const placed = (along: number) =>
    planeInSource({ origin: [...pointAlong(axis.at, axis.direction, along)], normal: [...axis.direction] }, model.map);
  const level = Array.from({ length: levels - 1 }, (_, i) => ({
    id: `s${i + 2}`,
    kind: 'flat' as const,
    ...placed(low + ((high - low) * (i + 1)) / levels),
    reasons,
  }));
  // one of the half-planes lies in the mirror plane, or the middle of a sector
  const along =
    mirror && Math.abs(dot(mirror.normal, axis.direction)) < SQUARE ? cross(axis.direction, mirror.normal) : null;
  const up = along && { up: [...normalize(mapVector(inverse(model.map), along))] as [number, number, number] };
  const fan = {
    id: 's1',
    kind: 'fan' as const,
    ...placed(0),
    ...up,
    count: sectors,
    phase: (phase * 2 * Math.PI) / sectors,
    reasons,
  };
  const { seams } = parsePlan({ version: plan.version, printer: plan.printer, seams: [fan, ...level] });
  const parted: Plan = { ...plan, seams, joints: [], anchors: [] };
  const first = evaluateModel(parted, model, context);
  const laid = first.pieces.flatMap((p) => (p.build.within ? [] : [{ key: p.key, up: upOf(p, axis, printers) }]));
  const changes = laid.flatMap(({ key, up }): PlanChange[] => {
    const pose = up && {
      up: [...upInSource(up, model.map)] as [number, number, number],
      spin: 0,
      by: 'search' as const,
      why: 'a sector, turned on the bed so that it fits',
    };
    return pose ? [{ do: 'setPiece', key, set: { pose } }] : [];
  });
  if (changes.length < laid.length) return null;
  const posed = changes.reduce(applyChange, parted);
  const evaluation = laid.length > 0 ? evaluateModel(posed, model, context) : first;
  const figures = figuresOf(evaluation);
  if (figures.fits < figures.pieces || figures.closed < figures.pieces) return null;
  const unlike = mirror ? unlikeOf(evaluation.pieces, mirror) : null;
  if (unlike) return null;
  return { plan: { ...posed, anchors: [...evaluation.anchors] }, seams, figures, unlike, evaluation };
}

/** With the axis, the way out from it or the way round it up, a sector is turned on the bed; the first of these in which it fits. */
function upOf({ solid, box }: Piece, { at, direction }: TurnAxis, printers: readonly Printer[]): Vec3 | null {
  const d = vecOf((k) => (box.min[k] + box.max[k]) / 2 - at[k]);
  const out = normalize(pointAlong(d, direction, -dot(d, direction)));
  const ups = [direction, out, cross(direction, out)];
  return ups.find((up) => printers.some((p) => withinPosed(p, [solid.positions], { up, spin: 0 }).within)) ?? null;
}

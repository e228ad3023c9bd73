import type { Plan, Printer, Seam } from '../../document/index.ts';
import { type EvalContext, evaluateModel } from '../../evaluate/index.ts';
import { axisVector, type Box, buildBlocks, sizeOf } from '../../mesh/index.ts';
import { type Model, modelBox } from '../../recipe/index.ts';
import { planeInSource } from '../../seams/index.ts';
import { gridFor } from '../seek/index.ts';
import { figuresOf, type PartingFigures } from './figures.ts';
import type { Proposal, ProposeWish } from './proposal.ts';
import { unlikeOf } from './targets.ts';

/** Longer models have so many cells that a grid takes longer to find than seams by search, in lengths of the printer. */
const MOST_LENGTHS = 12;

/** Whether the whole model is parted anew, with nothing that is to be heeded. */
export const isFree = ({ seams, zones, show }: Plan, { keep, only, whole, still }: ProposeWish): boolean =>
  !seams.some((s) => keep === 'all' || s.locked) &&
  !only &&
  !whole?.length &&
  !still?.length &&
  zones.length === 0 &&
  show.length === 0;

/**
 * A grid of planes that does with fewer pieces than what was found, and is no worse in any other way that tells; null
 * otherwise. Asked for only where the whole model is parted anew and nothing is to be kept clear: a grid heeds nothing.
 */
export function gridRival(
  plan: Plan,
  model: Model,
  wish: ProposeWish,
  context: EvalContext,
  found: PartingFigures,
): Proposal | null {
  if (!isFree(plan, wish) || wish.wishes.hidden > 1) return null;
  const box = modelBox(model.bodies);
  const [printer] = [...wish.printers].sort((a, b) => roomOf(b) - roomOf(a));
  if (Math.max(...sizeOf(box)) > MOST_LENGTHS * Math.min(...printer.size)) return null;
  const { planes, over } = gridFor(
    model.bodies.map((b) => buildBlocks(b.mesh)),
    box,
    { printer, axes: [0, 1, 2], spacing: 'even', jointRoom: wish.jointRoom, clear: [[], [], []] },
  );
  if (over > 0) return null;
  const places = planes.flatMap((list, axis) => list.map((at) => ({ axis, at })));
  const seams = places.map(({ axis, at }, i) => levelSeam(`s${i + 1}`, axis, at, box, model));
  const parted: Plan = { ...plan, seams, joints: [], anchors: [] };
  const evaluation = evaluateModel(parted, model, context);
  const figures = figuresOf(evaluation);
  const unlike = wish.mirror ? unlikeOf(evaluation.pieces, wish.mirror) : null;
  const sound = figures.fits === figures.pieces && figures.closed === figures.pieces && !unlike;
  if (!sound || figures.pieces >= found.pieces || figures.slivers > found.slivers) return null;
  return { plan: { ...parted, anchors: [...evaluation.anchors] }, seams, figures, unlike, evaluation };
}

/** mm³ */
const roomOf = ({ size }: Printer): number => size[0] * size[1] * size[2];

function levelSeam(id: string, axis: number, at: number, box: Box, { map }: Model): Seam {
  const origin = box.min.map((x, k) => (k === axis ? at : (x + box.max[k]) / 2)) as [number, number, number];
  const plane = planeInSource({ origin, normal: [...axisVector(axis)] }, map);
  return {
    id,
    kind: 'flat',
    name: '',
    enabled: true,
    origin: plane.origin.map((x) => Number(x.toFixed(4))) as [number, number, number],
    normal: plane.normal,
    reasons: [{ kind: 'grid' }],
  };
}

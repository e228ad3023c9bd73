import { isClosed } from '../body/index.ts';
import { inRegion, insidePoint, type Solid } from '../cut/index.ts';
import type { Finding, Plan, Seam } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import { type Affine, type Box, uniteBoxes } from '../mesh/index.ts';
import type { Model } from '../recipe/index.ts';
import { type ShownBody, showFaces } from '../show/index.ts';
import { edgedCells, isCrumb, isTrimmed } from './edges.ts';
import { matingFaces } from './faces.ts';
import { isFilm, keySolids } from './keys.ts';
import { seamOfPlane } from './kinds/index.ts';
import type { Anchor, MatingFace, PartedBody, PartedModel, SizedBody, Stage } from './model.ts';
import { type CutContext, cutBody, isOfBody, MOST_PIECES, type PlacedSeam, placeSeam } from './part-body.ts';
import { sizedBody } from './parting-cache.ts';
import { type SeamReport, seamFindings } from './seam-findings.ts';

type Places = Map<string, [number, number][]>;

const ROUNDS = 6;

/**
 * Cuts all bodies by the plan's seams. A region that turns out to part nothing (both its sides belong to one piece) is left
 * whole, and everything is cut again: it is only known at the end, as two seams may part something together.
 */
export function partModel(plan: Plan, model: Model, context: Omit<CutContext, 'plan' | 'map'>): PartedModel {
  const { map } = model;
  const enabled = plan.seams.filter((s) => s.enabled);
  const sized = model.bodies.map((body) => sizedBody(body, context.cache));
  const box = sized.map((b) => b.box).reduce(uniteBoxes);
  const slits: Places = new Map();
  for (let round = 0; ; round++) {
    const parted = partOnce(plan, enabled, sized, map, box, slits, context);
    const found = slitsOf(enabled, parted);
    if (found.size > 0 && round < ROUNDS) {
      for (const [seam, places] of found) slits.set(seam, [...(slits.get(seam) ?? []), ...places]);
      continue;
    }
    const reports = enabled.map((seam, i): SeamReport => {
      const own = parted.bodies.flatMap((b) => (b.stages.length > i + 1 ? [b.stages[i + 1]] : []));
      return {
        seam,
        cuts: own.some((s) => s.cuts),
        film: own.some((s) => s.film && s.cuts),
        gone: (seam.scope ?? []).filter(
          (key) => own.some((s) => s.gone.includes(key)) || !sized.some((b) => isOfBody(key, b.body.id)),
        ),
        astray: own.length > 0 ? Math.min(...own.map((s) => s.astray)) : 0,
        lost: [...new Set(own.flatMap((s) => s.lost))],
        refused: own.find((s) => s.refused !== '')?.refused ?? '',
        left: leftOf(parted.areas.get(seam.id)),
        ungrooved: parted.ungrooved.has(seam.id),
        slits: slits.get(seam.id)?.length ?? 0,
        slitsLeft: parted.faces.filter((f) => f.seam === seam.id && f.pieces[0] === f.pieces[1]).length,
      };
    });
    return {
      bodies: parted.bodies,
      faces: parted.faces.filter((f) => f.pieces[0] !== f.pieces[1]),
      anchors: parted.anchors,
      places: new Map(parted.placed.flatMap((s) => [...s.places()])),
      findings: [...seamFindings(reports), ...parted.tooMany],
    };
  }
}

function partOnce(
  plan: Plan,
  enabled: readonly Seam[],
  sized: readonly SizedBody[],
  map: Affine,
  box: Box,
  slits: Places,
  context: Omit<CutContext, 'plan' | 'map'>,
) {
  const full: CutContext = { ...context, plan, map };
  const placed: PlacedSeam[] = enabled.map((seam) =>
    placeSeam(seam, map, box, slits.get(seam.id) ?? [], context.fallback),
  );
  const order = enabled.map((s) => s.id);
  const faces: MatingFace[] = [];
  const anchors = new Map<string, Anchor>();
  const tooMany: Finding[] = [];
  const areas: Areas = new Map();
  const ungrooved = new Set<string>();
  const shown = enabled.some((s) => s.edge?.clear)
    ? showFaces(
        plan.show,
        map,
        sized.map(({ body, mesh }) => ({ id: body.id, mesh })),
      )
    : null;
  const bodies = sized.map((one): PartedBody => {
    const { id } = one.body;
    const closed = isClosed(one.body);
    const piecesAfter = ({ cells, frames }: Stage): Solid[] =>
      cells.flatMap((cell) => context.cache.solidsOf(cell, frames, context.fallback)).filter((s) => !isFilm(s, frames));
    let stages = cutBody(one, closed ? placed : [], full);
    let last = stages[stages.length - 1];
    let solids = piecesAfter(last);
    if (solids.length > MOST_PIECES) {
      tooMany.push({
        code: 'body.pieces',
        severity: 'stop',
        where: { body: id },
        message: `The seams part ${one.body.name} into ${solids.length} pieces; at most ${MOST_PIECES} are computed. It is kept whole: take some seams away.`,
        value: solids.length,
        limit: MOST_PIECES,
      });
      stages = stages.slice(0, 1);
      [last] = stages;
      solids = piecesAfter(last);
    }
    if (solids.length <= MOST_PIECES && enabled.some(isTrimmed)) {
      addAreas(areas, solids, 0);
      const made = edged(last, enabled, shown?.bodies.get(id) ?? null, full);
      solids = made.solids;
      for (const seam of made.failed) ungrooved.add(seam);
      addAreas(areas, solids, 1);
    }
    const { keyed, anchors: kept } = keySolids(id, solids, plan, order, map);
    for (const anchor of [...stages.flatMap((s) => s.anchors), ...kept]) anchors.set(anchor.key, anchor);
    faces.push(...matingFaces(id, keyed, last.frames));
    return { sized: one, keyed, solids: new Map(keyed.map((k) => [k.key, k.solid])), closed, stages };
  });
  return { placed, bodies, faces, anchors: [...anchors.values()], tooMany, areas, ungrooved };
}

/** By seam: mm² of its flat faces before and after their rims were bevelled. */
type Areas = Map<string, [number, number]>;

function addAreas(areas: Areas, solids: readonly Solid[], when: 0 | 1): void {
  for (const cap of solids.flatMap((s) => s.caps)) {
    const { seam } = seamOfPlane(cap.seam);
    const sums = areas.get(seam) ?? [0, 0];
    sums[when] += cap.area;
    areas.set(seam, sums);
  }
}

const leftOf = (areas: readonly [number, number] | undefined): number =>
  areas && areas[0] > 0 ? areas[1] / areas[0] : 1;

/** The pieces of a body with the rims of their faces bevelled, where seams want it. */
function edged(
  { cells, frames }: Stage,
  seams: readonly Seam[],
  shown: ShownBody | null,
  { cache, fallback, kernel, breath }: Pick<CutContext, 'cache' | 'fallback' | 'kernel' | 'breath'>,
): { solids: Solid[]; failed: readonly string[] } {
  if (!kernel) throw new GephyraError('plan.kernel', 'Grooves along a seam need the solid kernel.');
  const edged = edgedCells(cells, frames, seams, shown, kernel, fallback, breath);
  const solids = edged.cells.flatMap((cell, i) =>
    cache
      .solidsOf(cell, frames, fallback)
      .filter((s) => !isFilm(s, frames) && (cell === cells[i] || !isCrumb(s, seams))),
  );
  return { solids, failed: edged.failed };
}

/** Places in regions of limited seams that only slit a piece. A region that parts something elsewhere stays cut. */
function slitsOf(
  enabled: readonly Seam[],
  { bodies, faces }: { bodies: readonly PartedBody[]; faces: readonly MatingFace[] },
): Places {
  const out: Places = new Map();
  for (const face of faces) {
    if (face.pieces[0] !== face.pieces[1]) continue;
    const depth = enabled.findIndex((s) => s.id === face.seam);
    const body = bodies.find((b) => b.sized.body.id === face.bodies[0])!;
    const at = insidePoint(face.region);
    const region = body.stages[depth + 1].regions.find((r) => inRegion(r, ...at));
    if (!region) continue;
    const parts = faces.some(
      (f) =>
        f.plane === face.plane &&
        f.bodies[0] === face.bodies[0] &&
        f.pieces[0] !== f.pieces[1] &&
        inRegion(region, ...insidePoint(f.region)),
    );
    if (!parts) out.set(face.seam, [...(out.get(face.seam) ?? []), at]);
  }
  return out;
}

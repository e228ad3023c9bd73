import {
  atOffset,
  type Cell,
  cellOf,
  clearFan,
  closedMesh,
  cutCells,
  effectivePlane,
  type Fan,
  type FlatRegion,
  type Frame,
  fanCut,
  inRegion,
  insidePoint,
  limitedCut,
  type Region,
  regionsOfLoops,
  sectionLoops,
  type Triangulator,
} from '../cut/index.ts';
import type { Plan, Seam, SeamRegions } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import { type Affine, type Box, boxOf, meetsBox, nearestOnLoop, vecOf } from '../mesh/index.ts';
import type { Kernel } from '../solid/index.ts';
import { carveCell, wallTag } from './carve-cell.ts';
import { type Cutter, cutterOf } from './cutter.ts';
import { flatPlanes } from './flats.ts';
import { isFilm, keySolids } from './keys.ts';
import { planeId, type SeamPlace, seamKind, seamPlace } from './kinds/index.ts';
import type { Anchor, SizedBody, Stage } from './model.ts';
import type { PartingCache } from './parting-cache.ts';

/** A seam as it cuts the model. */
export type PlacedSeam = {
  readonly id: string;
  readonly scope?: readonly string[];
  /** tells the same geometry again */
  readonly print: string;
  /** the places of its planes by their ids */
  readonly places: () => readonly (readonly [string, SeamPlace])[];
} & (
  | { readonly way: 'plane'; readonly frame: Frame; readonly limit?: Limit }
  | { readonly way: 'fan'; readonly fan: Fan }
  | { readonly way: 'solid'; readonly cutter: (kernel: Kernel) => Cutter }
);

/** Which regions of a flat seam's section are cut. Seeds and slits are (u, v) in its frame. */
interface Limit {
  readonly mode: SeamRegions['mode'];
  /** whether the section is that of the pieces in the seam's scope; else of the body */
  readonly ofPieces: boolean;
  readonly seeds: readonly (readonly [number, number])[];
  /** regions with one of these in them are left whole, because they would part nothing */
  readonly slits: readonly (readonly [number, number])[];
}

/** What cutting needs beside the geometry. */
export interface CutContext {
  readonly cache: PartingCache;
  readonly fallback: Triangulator;
  readonly kernel?: Kernel;
  /** called after each piece of work by the kernel that is kept; it may throw */
  readonly breath?: () => void;
  readonly plan: Plan;
  readonly map: Affine;
}

/** Puts a seam onto the model. `slits`: places in regions that it must leave whole. `box`: of all bodies. */
export function placeSeam(
  seam: Seam,
  map: Affine,
  box: Box,
  slits: readonly (readonly [number, number])[],
  fallback: Triangulator,
): PlacedSeam {
  const { scope, id } = seam;
  const common = { id, ...(scope && { scope }) };
  const kind = seamKind(seam);
  const way = kind.way(seam);
  const planes = () =>
    Array.from({ length: kind.planes(seam) }, (_, part) => kind.planeAt(seam, part, map)).flatMap((place, part) =>
      place ? [[planeId(id, part), place] as const] : [],
    );
  if (way === 'solid') {
    const { name: _, enabled: __, ...shape } = seam;
    const print = `${id}:${JSON.stringify(shape)}:${map.join()}:${box.min.join()}:${box.max.join()}`;
    let made: Cutter | undefined;
    const cutter = (kernel: Kernel): Cutter => {
      made ??= cutterOf(seam, map, box, fallback, kernel);
      return made;
    };
    const places = () => [...planes(), ...flatPlanes(seam, map).map(({ plane, place }) => [plane, place] as const)];
    return { ...common, way, cutter, print, places };
  }
  if (way === 'fan') {
    const fan = kind.fan!(seam, map);
    const print = `${id}:${fan.origin}:${fan.axis}:${fan.blades.map((b) => b.frame.normal)}`;
    return { ...common, way, fan, print, places: planes };
  }
  const place = seamPlace(seam, map);
  const { frame } = place;
  const places = () => [[id, place] as const];
  const plain = `${id}:${frame.origin}:${frame.normal}:${frame.v}`;
  const regions = 'regions' in seam ? seam.regions : undefined;
  const mode = regions?.mode ?? 'all';
  if (mode === 'all' && slits.length === 0) return { ...common, way, frame, print: plain, places };
  const ofPieces = scope !== undefined && (regions?.of ?? 'pieces') === 'pieces';
  const limit: Limit = { mode, ofPieces, seeds: (regions?.seeds ?? []).map(place.toModel), slits };
  const print = `${plain}:${mode}${ofPieces ? '*' : ''}:${limit.seeds.join(';')}:${slits.join(';')}`;
  return { ...common, way, frame, limit, print, places };
}

/** Cuts a body by the seams in order: the whole body first, then the state after each seam, all kept. */
export function cutBody(sized: SizedBody, seams: readonly PlacedSeam[], context: CutContext): Stage[] {
  const { cache, plan } = context;
  const uncut = (): Stage => ({ ...blank, key: sized.key, cells: [cellOf(sized.mesh)], frames: new Map() });
  let stage = cache.stages.get(sized.key, uncut, () => 100);
  const stages = [stage];
  seams.forEach((seam, depth) => {
    const before = stage;
    // keys of pieces depend on the body's id and on the plan's anchors
    const scope = seam.scope
      ? `@${sized.body.id}:${seam.scope.join()}:${JSON.stringify(anchorsOf(seam.scope, plan))}`
      : '';
    const key = `${before.key}|${seam.print}${scope}`;
    stage = cache.stages.get(
      key,
      () => ({ ...nextStage(before, sized, seam, seams.slice(0, depth), context), key }),
      (made) => freshBytes(made, before),
    );
    stages.push(stage);
  });
  return stages;
}

const blank = { cuts: false, film: false, gone: [], astray: 0, regions: [], refused: '', anchors: [], lost: [] };

/** A model in more pieces than this is not computed: nobody could put it together. */
export const MOST_PIECES = 2000;

/** Faults of one seam that must not keep the others from cutting. */
const REFUSALS: ReadonlySet<string> = new Set(['seam.tangled', 'seam.far', 'solid.refused']);

const grown = ({ min, max }: Box, by: number): Box => ({
  min: vecOf((k) => min[k] - by),
  max: vecOf((k) => max[k] + by),
});

/** By cell: what a seam that is no plane made of it last. */
const carved = new WeakMap<Cell, { readonly made: string; readonly parts: readonly Cell[] }>();

function nextStage(
  before: Stage,
  sized: SizedBody,
  seam: PlacedSeam,
  earlier: readonly PlacedSeam[],
  context: CutContext,
): Omit<Stage, 'key'> {
  const { own, meant, others, gone, anchors } = inScope(before, sized, seam, earlier, context);
  const result = (
    cells: readonly Cell[],
    frames: ReadonlyMap<string, Frame>,
    more: Partial<Stage>,
  ): Omit<Stage, 'key'> => {
    if (others.length + cells.length > MOST_PIECES) {
      const refused = `With this seam the model would fall into more than ${MOST_PIECES} pieces, so it is not cut.`;
      return { ...blank, cells: before.cells, frames: before.frames, gone, anchors, refused };
    }
    return { ...blank, cells: [...others, ...cells], frames, gone, anchors, ...more };
  };
  if (own.length === 0) {
    const astray = seam.way === 'plane' && seam.limit?.ofPieces ? seam.limit.seeds.length : 0;
    return result([], before.frames, { astray });
  }
  const frames = new Map(before.frames);
  if (seam.way === 'fan') {
    const fan = clearFan(seam.fan, own, sized.window);
    for (const { seam: id, frame } of fan.blades) frames.set(id, frame);
    const parts = own.map((cell) => fanCut(cell, fan, frames, sized.window).filter((c) => c !== null));
    return result(parts.flat(), frames, { cuts: parts.some((p) => p.length > 1) });
  }
  if (seam.way === 'solid') {
    if (!context.kernel) throw new GephyraError('plan.kernel', 'This kind of seam needs the solid kernel.');
    const { kernel } = context;
    try {
      const cutter = seam.cutter(kernel);
      const wall = (side: 1 | -1): number => wallTag(earlier.length, side);
      for (const facet of cutter.facets) if (facet) frames.set(facet.plane, facet.place.frame);
      const parts = own.map((cell): readonly Cell[] => {
        if (!meetsBox(cutter.mesh, grown(boxOf(cell.positions), sized.window))) return [cell];
        const made = `${earlier.length} ${seam.print}`;
        const known = carved.get(cell);
        if (known?.made === made) return known.parts;
        const { inside, outside } = carveCell(cell, frames, cutter, wall, kernel, context.fallback);
        // what the kernel need not cut stays as it was, to the last digit
        const parts = inside && outside ? [outside, inside] : [cell];
        carved.set(cell, { made, parts });
        context.breath?.();
        return parts;
      });
      return result(parts.flat(), frames, { cuts: parts.some((p) => p.length > 1), lost: cutter.lost });
    } catch (error) {
      if (!(error instanceof GephyraError) || !REFUSALS.has(error.code)) throw error;
      return result(own, before.frames, { refused: error.message });
    }
  }
  const normals = new Map([...before.frames].map(([s, f]) => [s, f.normal]));
  if (!seam.limit) {
    const { parts, plane, film } = cutCells(own, seam.id, seam.frame, sized.window, normals);
    frames.set(seam.id, plane);
    const cells = parts.flatMap(({ above, below }) => [below, above].filter((c) => c !== null));
    return result(cells, frames, { film, cuts: parts.some((p) => p.above !== null && p.below !== null) });
  }
  const { offset, film } = effectivePlane(seam.frame, own, sized.window);
  const plane = atOffset(seam.frame, offset);
  frames.set(seam.id, plane);
  const loops = seam.limit.ofPieces
    ? meant.flatMap((solid) =>
        sectionLoops(
          closedMesh(solid, () => 0),
          plane,
        ),
      )
    : sectionLoops(sized.mesh, plane, sized.blocks());
  const { on, astray } = chosenRegions(regionsOfLoops(loops), seam.limit);
  const parts = own.map((cell) =>
    limitedCut(cell, plane, { seam: seam.id, normal: plane.normal, offset, window: sized.window }, normals, on),
  );
  const regions = parts.flatMap((p) => p.regions.filter((r) => r.cut).map((r) => r.region));
  return result(
    parts.map((p) => p.cell),
    frames,
    { film, cuts: regions.length > 0, astray, regions },
  );
}

/** The cells that a seam may cut, and those it leaves alone: split into solids where only some pieces are meant. */
function inScope(
  before: Stage,
  sized: SizedBody,
  seam: PlacedSeam,
  earlier: readonly PlacedSeam[],
  { cache, fallback, plan, map }: CutContext,
) {
  if (!seam.scope) return { own: before.cells, meant: [], others: [], gone: [], anchors: [] };
  const solids = before.cells.flatMap((cell) => cache.solidsOf(cell, before.frames, fallback));
  const { scope } = seam;
  const order = earlier.map((s) => s.id);
  const known = anchorsOf(scope, plan);
  const { keyed, anchors: all } = keySolids(sized.body.id, solids, { ...plan, anchors: known }, order, map);
  const meantFor = new Set(scope.map(unnumbered));
  const anchors = all.filter((a) => meantFor.has(unnumbered(a.key)));
  const meant = keyed.filter((k) => scope.includes(k.key)).map((k) => k.solid);
  const others = keyed.filter((k) => !scope.includes(k.key)).map((k) => cache.cellOf(k.solid));
  const gone = seam.scope.filter((key) => isOfBody(key, sized.body.id) && !keyed.some((k) => k.key === key));
  return { own: meant.map((solid) => cache.cellOf(solid)), meant, others, gone, anchors };
}

/** A key without the number that tells pieces between the same seams apart. */
const unnumbered = (key: string): string => key.replace(/#\d+$/, '');

/** The anchors that can decide which pieces are in a scope. */
function anchorsOf(scope: readonly string[], plan: Plan): Anchor[] {
  const keys = new Set(scope.map(unnumbered));
  return plan.anchors.filter((a) => keys.has(unnumbered(a.key)));
}

/** The pieces of a body after all seams, without what lies between them. */
export function piecesOfBody(sized: SizedBody, seams: readonly PlacedSeam[], context: CutContext) {
  const stages = cutBody(sized, seams, context);
  const { cells, frames } = stages[stages.length - 1];
  const solids = cells
    .flatMap((cell) => context.cache.solidsOf(cell, frames, context.fallback))
    .filter((s) => !isFilm(s, frames));
  const order = seams.map((s) => s.id);
  const { keyed, anchors } = keySolids(sized.body.id, solids, context.plan, order, context.map);
  return { keyed, anchors: [...stages.flatMap((s) => s.anchors), ...anchors] };
}

/** Whether a piece's key is one of a body. */
export const isOfBody = (key: string, body: string): boolean =>
  key === body || (/^[/#]/.test(key.slice(body.length)) && key.startsWith(body));

/** A seed outside every region takes the nearest within this, mm. */
const REACH = 2;

/** Which regions of a cell are cut: those that lie in the chosen regions of a section of all that the seam may cut. */
function chosenRegions(whole: readonly FlatRegion[], { mode, seeds, slits }: Limit) {
  let astray = 0;
  const picked = new Set<FlatRegion>();
  for (const [u, v] of seeds) {
    const found = nearestRegion(whole, u, v, REACH);
    if (found) picked.add(found);
    else astray++;
  }
  const on = (region: Region): boolean => {
    if (slits.some(([u, v]) => inRegion(region, u, v))) return false;
    if (mode === 'all') return true;
    const home = nearestRegion(whole, ...insidePoint(region), Infinity);
    return picked.has(home!) === (mode === 'only');
  };
  return { on, astray };
}

/** The region that holds a point, or the nearest within `reach`. */
export function nearestRegion<R extends FlatRegion>(
  regions: readonly R[],
  u: number,
  v: number,
  reach: number,
): R | null {
  const home = regions.find((r) => inRegion(r, u, v));
  if (home) return home;
  let best: R | null = null;
  let least = reach;
  for (const r of regions) {
    const { distance } = nearestOnLoop(r.outer2, u, v);
    if (distance >= least) continue;
    least = distance;
    best = r;
  }
  return best;
}

function freshBytes(stage: Stage, before: Stage): number {
  const known = new Set(before.cells);
  let sum = 100;
  for (const c of stage.cells) {
    if (!known.has(c)) sum += c.positions.byteLength + c.triangles.byteLength + c.tags.byteLength;
  }
  return sum;
}

// What the page asks of the model: everything that is computed for the live view, away from the page's own thread.
import {
  type Assembly,
  type CouponWish,
  changedFiles,
  concatenate,
  type Done,
  type Flat,
  type Frame,
  findFlats,
  fromFrame,
  type GridPlan,
  type GridWish,
  type Joint,
  loadKernel,
  loadSimplifier,
  mirroredJoint,
  mirrorOf,
  modelBox,
  type Order,
  type Piece,
  type PlanChange,
  type Pose,
  type Preparation,
  parsePlan,
  picture,
  proxy,
  type Refit,
  refitJoints,
  type SalvageJoin,
  type Seating,
  type Shaded,
  type Swing,
  sectionAt,
  shaded,
  sparing,
  type TakenMeasure,
  takeMeasure,
  triangulate,
  unpackModel,
  type Weighed,
  type Wish,
} from '@gephyra/core';
import * as Comlink from 'comlink';
import { zipSync } from 'fflate';
import wasmUrl from 'manifold-3d/manifold.wasm?url';
import { assemblyOf, orderOf, swingFound } from './assembling.ts';
import { evaluationView } from './evaluation-view.ts';
import { HeldModel } from './held-model.ts';
import {
  checkJoint,
  couponFile,
  type FaceHelp,
  helpFor,
  type MadeFile,
  rehearsalFile,
  type SeatRequest,
  seatOn,
  wallPlaces,
} from './joints.ts';
import { prepareOn } from './preparing.ts';
import {
  bedsOf,
  choicesOf,
  type LyingView,
  lyingOf,
  type PrintsView,
  posingOf,
  printsOf,
  type SharedFiles,
  salvageOf,
} from './prints.ts';
import { type MirrorView, type PickView, type ProbeView, pick, probe, through } from './probe.ts';
import { type ProposalRequest, type ProposalView, proposalOf, weighed } from './proposals.ts';
import { piecesBefore, type RegionView, regionsAt, regionsOfSeam, targetsOf, wholeModel } from './seam-scope.ts';
import {
  type AlikeView,
  type AlongView,
  alikeOf,
  along,
  axisAt,
  type ColourLineView,
  colourLinesOf,
  gridOf,
  limbAt,
  type SeamSides,
  sidesOf,
  type WallView,
  wallsOf,
} from './seams.ts';
import type { Tell } from './tell.ts';
import type { EvaluationView, ModelView, SectionView, Triple } from './types.ts';

const PROXY_TRIANGLES = 40_000;

const held = new HeldModel();
const pictures = new WeakMap<object, { readonly colour: string; readonly pixels: Uint8ClampedArray }>();

/** Lets others have their turn in the worker. */
const turn = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));

/** Evaluations asked for so far, and the last of those that nobody waits for any more. */
let evaluations = 0;
let superseded = 0;

let indexing: ReturnType<typeof setTimeout> | undefined;

/** Has bodies indexed once the maker pauses: a model that changes from one moment to the next would be indexed for nothing. */
function indexSoon(): void {
  clearTimeout(indexing);
  indexing = setTimeout(() => {
    for (const body of held.bodies()) body.blocks();
  }, 300);
}

export const engine = {
  /** Several files as one archive, packed only. */
  async packFiles(files: readonly File[]): Promise<Blob> {
    const entries: Record<string, Uint8Array> = {};
    for (const f of files) entries[f.name] = new Uint8Array(await f.arrayBuffer());
    return new Blob([zipSync(entries, { level: 0 })]);
  },

  /** Fetches the model that a recipe's heavy steps made. Throws a plain message when it cannot be had. */
  async load(url: string): Promise<ModelView> {
    const [response, kernel] = await Promise.all([fetch(url), loadKernel(wasmUrl), loadSimplifier()]);
    if (!response.ok) throw new Error('The model cannot be fetched from the server. Load the page again.');
    const packed = unpackModel(new Uint8Array(await response.arrayBuffer()));
    held.open(packed, kernel);
    const { bodies } = packed;
    return {
      box: modelBox(bodies),
      triangles: bodies.reduce((n, b) => n + b.mesh.tags.length, 0),
      unit: packed.unit,
      reports: packed.reports,
      map: packed.map,
      openEdges: Float32Array.from(
        bodies.flatMap((b) =>
          [...b.topology.openEdgeVertices].flatMap((v) => [...b.mesh.positions.subarray(v * 3, v * 3 + 3)]),
        ),
      ),
    };
  },

  /** Computes the plan; geometry whose id is in `have` is not sent again. Throws when it is superseded meanwhile. */
  async evaluate(document: unknown, have: readonly number[]): Promise<EvaluationView> {
    const start = performance.now();
    const own = ++evaluations;
    const shown = evaluationView(held, await held.evaluationInTurns(document, () => own > superseded), have);
    const view: EvaluationView = { ...shown, milliseconds: performance.now() - start };
    // the first seam, and whatever is picked, asks for these: they are made while the view is looked at
    indexSoon();
    return Comlink.transfer(
      view,
      view.fresh.flatMap((g) => [g.positions.buffer, g.normals.buffer, g.index.buffer] as ArrayBuffer[]),
    );
  },

  /** Lets go of the evaluation that is under way: a newer one is wanted. */
  supersede(): void {
    superseded = evaluations;
  },

  /** The model's cross-section in a plane, all bodies together. */
  section(frame: Frame): SectionView {
    const found = held.bodies().map((b) => sectionAt(b.mesh, frame, b.blocks()));
    return {
      loops: found.flatMap((s) => s.loops),
      area: found.reduce((sum, s) => sum + s.area, 0),
      frame,
    };
  },

  /**
   * The regions of a plane's section; with `walls` how thick they are along their outlines. `of`: a seam of a plan that cuts
   * some pieces only, or in a box.
   */
  regions(
    frame: Frame,
    walls: boolean,
    of?: { document: unknown; seam: string },
  ): { regions: RegionView[]; walls: WallView | null } {
    const regions = of
      ? regionsOfSeam(held, held.posed(of.document), of.seam, frame)
      : regionsAt(wholeModel(held), frame);
    return { regions, walls: walls ? wallsOf(regions) : null };
  },

  /** A section filled, for a view that is clipped there. */
  filled(frame: Frame): { positions: Float32Array; index: Uint32Array } {
    const positions: number[] = [];
    const index: number[] = [];
    for (const { outer2, holes2 } of regionsAt(wholeModel(held), frame)) {
      const start = positions.length / 3;
      for (const i of triangulate(outer2, holes2, held.fallback)) index.push(start + i);
      for (const l of [outer2, ...holes2]) {
        for (let i = 0; i < l.length; i += 2) positions.push(...fromFrame(frame, l[i], l[i + 1]));
      }
    }
    return { positions: Float32Array.from(positions), index: Uint32Array.from(index) };
  },

  /** Sections along a seam of a plan with landmarks and bands; `others`: places of other seams that part what it cuts. */
  along(document: unknown, seam: string, frame: Frame, others: readonly number[]): AlongView {
    const plan = held.posed(document);
    const meshes = targetsOf(held, plan, seam).map((t) => t.mesh);
    return along(plan, held.model.map, meshes, frame, others, held.knownMirror());
  },

  /** What a seam leaves on its sides. */
  sides(document: unknown, seam: string): SeamSides {
    const { e } = held.evaluation(document);
    return sidesOf(e, held.bodies(), seam);
  },

  /** Equal pieces, mirror twins and declared copies. */
  async alike(document: unknown): Promise<AlikeView> {
    const { plan, e } = held.evaluation(document);
    return await alikeOf(plan, e, turn);
  },

  /** The pieces as they stand before a seam. */
  piecesBefore(document: unknown, seam: string): { key: string; code: string; name: string }[] {
    return piecesBefore(held, parsePlan(document), seam).map(({ key, code, name }) => ({ key, code, name }));
  },

  /** A joint as it would be, measured beside the others. */
  checkJoint(document: unknown, joint: Joint) {
    return checkJoint(held.evaluation(document).e, joint);
  },

  /** Room, axis and middle of the wall of a face; null when it is gone. */
  faceHelp(document: unknown, face: string): FaceHelp | null {
    const found = held.evaluation(document).e.faces.find((f) => f.id === face);
    return found ? helpFor(found) : null;
  },

  wallPlaces(document: unknown, face: string, n: number, joint: Joint): [number, number][] {
    return wallPlaces(held.evaluation(document).e, face, n, joint);
  },

  /** Joints for faces, seated by themselves. The model's mirror plane is looked for first. */
  async seat(document: unknown, wish: SeatRequest, tell: Tell): Promise<Seating> {
    held.posed(document);
    const mirror = await held.mirrorPlane(tell);
    const { plan, e } = held.evaluation(document);
    return seatOn(plan, e, wish, mirror, tell);
  },

  /** Places for flats on a bent seam, beside those it has. */
  findFlats(document: unknown, id: string): Flat[] {
    const { plan, e } = held.evaluation(document);
    const seam = plan.seams.find((s) => s.id === id);
    return seam ? findFlats(e, seam) : [];
  },

  /** A joint's mirror image in the model's mirror plane; null where the model has none, or no face lies there. */
  async mirroredJoint(document: unknown, id: string, tell: Tell): Promise<Joint | null> {
    held.posed(document);
    const mirror = await held.mirrorPlane(tell);
    const { plan, e } = held.evaluation(document);
    const joint = plan.joints.find((j) => j.id === id);
    return mirror && joint ? mirroredJoint(joint, e, mirror) : null;
  },

  /** Joints that no longer hold made smaller, as one change. */
  refit(document: unknown): Refit {
    const { plan, e } = held.evaluation(document);
    return refitJoints(plan, e);
  },

  coupon(wish: CouponWish, name: string) {
    return couponFile(wish, name, held.fallback);
  },

  rehearsal(document: unknown, face: string, thickness: number, joint: string | null): MadeFile {
    return rehearsalFile(held.evaluation(document).e, face, thickness, joint, held.fallback);
  },

  limb: (body: string, at: Triple, normal: Triple) => limbAt(held.bodies(), body, at, normal),

  round: (body: string, at: Triple, normal: Triple) => axisAt(held.bodies(), body, at, normal),

  /** Lines between colours, with the planes that follow them. */
  colourLines: (document: unknown): ColourLineView[] => colourLinesOf(held, document),

  grid(document: unknown, wish: Pick<GridWish, 'axes' | 'spacing' | 'jointRoom'>, tell: Tell): GridPlan {
    const plan = held.posed(document);
    return gridOf(plan, held.model.map, held.bodies(), wish, tell);
  },

  /** Seams after which everything fits, with a picture in a size in pixels. */
  async propose(
    document: unknown,
    request: ProposalRequest,
    size: readonly [number, number],
    tell: Tell,
  ): Promise<ProposalView> {
    held.posed(document);
    const mirror = request.alike ? mirrorOf(await held.mirror(tell)) : null;
    return proposalOf(held, document, request, mirror, size, tell);
  },

  /** What a plan comes to with a proposal taken, jointed and laid. */
  weigh: (document: unknown, changes: readonly PlanChange[], tell: Tell): Weighed =>
    weighed(held, document, changes, tell),

  /** One step of a plan towards beds. */
  prepare: (document: unknown, step: Preparation, tell: Tell): Done => prepareOn(held, document, step, tell),

  /** Of some pieces those that are another file, or gone, in the second plan. */
  changedFiles(before: unknown, after: unknown, keys: readonly string[]): string[] {
    const { e } = held.evaluation(before);
    return changedFiles(e, held.evaluate(parsePlan(after)), keys);
  },

  /** What of a change leaves some pieces as they are; null when nothing does. */
  sparing(document: unknown, change: PlanChange, keys: readonly string[]): PlanChange | null {
    const { plan } = held.evaluation(document);
    return sparing(plan, change, keys, (p) => held.evaluate(p));
  },

  /** What parting a piece where its print stopped would change. */
  salvage: (document: unknown, key: string, height: number, join: SalvageJoin, shared: SharedFiles) =>
    salvageOf(held, document, key, height, join, shared),

  /** How far what hangs on a joint can be swung; null where it does not swing. */
  swing: (document: unknown, joint: string, tell: Tell): Promise<Swing | null> =>
    swingFound(held, document, joint, tell),
  /** The order of joining, checked. */
  assembly: (document: unknown): Promise<Assembly> => assemblyOf(held, document),

  /** An order of joining for all pieces, as a proposal. */
  order: (document: unknown, tell: Tell): Promise<Order> => orderOf(held, document, tell),

  /** A light stand-in of the whole model, as the heavy steps left it. */
  proxy(): Shaded {
    const { positions, triangles } = proxy(concatenate(held.base.bodies.map((b) => b.mesh)), PROXY_TRIANGLES);
    const stand = shaded(positions, triangles);
    return Comlink.transfer(stand, [stand.positions.buffer, stand.normals.buffer, stand.index.buffer] as ArrayBuffer[]);
  },

  /** A measure of the model as it stands, mm. Places in the source's coordinates. */
  measure(taken: TakenMeasure): number {
    return takeMeasure(taken, held.model.bodies, held.model.map);
  },

  /** The first place that a ray meets on the bodies that are shown. */
  pick(origin: Triple, direction: Triple, hidden: readonly string[]): PickView | null {
    const shown = held.model.bodies.filter((b) => !hidden.includes(b.id));
    return pick(
      shown.map((b) => ({ id: b.id, blocks: held.sized(b).blocks() })),
      origin,
      direction,
    );
  },

  /** What lies at a picked place: its normal, and how thick the wall is there. Places in the model as shown. */
  probe(at: Triple, normal: Triple): ProbeView {
    return probe(
      held.bodies().map((b) => ({ blocks: b.blocks() })),
      at,
      normal,
    );
  },

  /** Where a straight line into the model leaves it for good. */
  through(at: Triple, normal: Triple): Triple | null {
    return through(
      held.bodies().map((b) => ({ blocks: b.blocks() })),
      at,
      normal,
    );
  },

  /** The plane in which the model comes nearest to its own mirror image; null when there is none worth the name. */
  mirror(document: unknown, tell?: Tell): Promise<MirrorView | null> {
    held.posed(document);
    return held.mirror(tell);
  },

  /** How all pieces are printed. `shared`: those that are made from another's file. */
  prints(document: unknown, shared: SharedFiles): Promise<PrintsView> {
    return printsOf(held, document, shared);
  },

  /** Poses of a piece to choose from, with pictures of a size in pixels. */
  choices(document: unknown, key: string, wish: Wish, colour: string, size: readonly [number, number]) {
    return choicesOf(held, document, key, wish, colour, size);
  },

  /** A piece in a pose (on the model) as it lies on the bed; null when there is no such piece, or it is open. */
  lying(document: unknown, key: string, pose: Pose): LyingView | null {
    return lyingOf(held, document, key, pose);
  },

  /** The best pose of every piece, as a proposal. */
  poseAll: (document: unknown, wish: Wish, shared: SharedFiles, tell: Tell) =>
    posingOf(held, document, wish, shared, tell),

  /** Beds filled with all pieces, as a proposal. */
  fillBeds: (document: unknown, shared: SharedFiles, tell: Tell) => bedsOf(held, document, shared, tell),

  /** Small pictures of pieces by geometry id of their skin, RGBA; only those asked for. */
  async pictures(document: unknown, wanted: readonly { key: string; colour: string }[], width: number, height: number) {
    const { e } = held.evaluation(document);
    const made: { key: string; pixels: Uint8ClampedArray }[] = [];
    for (const { key, colour } of wanted) {
      const piece = e.pieces.find((p) => p.key === key);
      if (!piece) continue;
      made.push({ key, pixels: pictureOf(piece.solid, colour, width, height) });
      await turn();
    }
    return made;
  },
};

/** A small picture of a piece, RGBA; drawn anew when its colour is another. */
function pictureOf(solid: Piece['solid'], colour: string, width: number, height: number): Uint8ClampedArray {
  const known = pictures.get(solid);
  if (known?.colour === colour) return known.pixels.slice();
  const light = proxy({ ...solid }, 24_000);
  const caps = solid.caps.map((c) => ({ positions: solid.positions, triangles: c.triangles, colour }));
  const pixels = picture([{ positions: light.positions, triangles: light.triangles, colour }, ...caps], width, height);
  pictures.set(solid, { colour, pixels });
  return pixels.slice();
}

export type Engine = typeof engine;

// What the page asks of the model: everything that is computed for the live view, away from the page's own thread.
import {
  type CouponWish,
  concatenate,
  type Frame,
  fromFrame,
  type GridPlan,
  type GridWish,
  type Joint,
  loadKernel,
  mirroredJoint,
  modelBox,
  parsePlan,
  picture,
  proxy,
  type Refit,
  refitJoints,
  type Seating,
  type Shaded,
  sectionAt,
  shaded,
  type TakenMeasure,
  takeMeasure,
  triangulate,
  unpackModel,
} from '@gephyra/core';
import * as Comlink from 'comlink';
import { zipSync } from 'fflate';
import wasmUrl from 'manifold-3d/manifold.wasm?url';
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
import { type MirrorView, type PickView, type ProbeView, pick, probe } from './probe.ts';
import {
  type AlikeView,
  type AlongView,
  alikeOf,
  along,
  axisAt,
  gridOf,
  limbAt,
  type RegionView,
  regionsAt,
  type SeamSides,
  sidesOf,
  type WallView,
  wallsOf,
} from './seams.ts';
import type { EvaluationView, ModelView, SectionView, Triple } from './types.ts';

const PROXY_TRIANGLES = 40_000;

const held = new HeldModel();
const pictures = new WeakMap<object, Uint8ClampedArray>();

export const engine = {
  /** Several files as one archive, packed only. */
  async packFiles(files: readonly File[]): Promise<Blob> {
    const entries: Record<string, Uint8Array> = {};
    for (const f of files) entries[f.name] = new Uint8Array(await f.arrayBuffer());
    return new Blob([zipSync(entries, { level: 0 })]);
  },

  /** Fetches the model that a recipe's heavy steps made. Throws a plain message when it cannot be had. */
  async load(url: string): Promise<ModelView> {
    const [response, kernel] = await Promise.all([fetch(url), loadKernel(wasmUrl)]);
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

  /** Computes the plan; geometry whose id is in `have` is not sent again. */
  evaluate(document: unknown, have: readonly number[]): EvaluationView {
    const start = performance.now();
    const shown = evaluationView(held, held.evaluation(document), have);
    const view: EvaluationView = { ...shown, milliseconds: performance.now() - start };
    return Comlink.transfer(
      view,
      view.fresh.flatMap((g) => [g.positions.buffer, g.normals.buffer, g.index.buffer] as ArrayBuffer[]),
    );
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

  /** The regions of a plane's section; with `walls` how thick they are along their outlines. */
  regions(frame: Frame, walls: boolean): { regions: RegionView[]; walls: WallView | null } {
    const regions = regionsAt(held.bodies(), frame);
    return { regions, walls: walls ? wallsOf(regions) : null };
  },

  /** A section filled, for a view that is clipped there. */
  filled(frame: Frame): { positions: Float32Array; index: Uint32Array } {
    const positions: number[] = [];
    const index: number[] = [];
    for (const { outer2, holes2 } of regionsAt(held.bodies(), frame)) {
      const start = positions.length / 3;
      for (const i of triangulate(outer2, holes2, held.fallback)) index.push(start + i);
      for (const l of [outer2, ...holes2]) {
        for (let i = 0; i < l.length; i += 2) positions.push(...fromFrame(frame, l[i], l[i + 1]));
      }
    }
    return { positions: Float32Array.from(positions), index: Uint32Array.from(index) };
  },

  /** Sections along a direction with landmarks and bands; `others`: places of other seams of this direction. */
  along(document: unknown, frame: Frame, others: readonly number[]): AlongView {
    const plan = parsePlan(document);
    return along(plan, held.model.map, held.bodies(), frame, others, held.knownMirror());
  },

  /** What a seam leaves on its sides. */
  sides(document: unknown, seam: string): SeamSides {
    const { e } = held.evaluation(document);
    return sidesOf(e, held.bodies(), seam);
  },

  /** Equal pieces, mirror twins and declared copies. */
  alike(document: unknown): AlikeView {
    const { plan, e } = held.evaluation(document);
    return alikeOf(plan, e);
  },

  /** The pieces as they stand before a seam. */
  piecesBefore(document: unknown, seam: string): { key: string; code: string; name: string }[] {
    const plan = parsePlan(document);
    const at = plan.seams.findIndex((s) => s.id === seam);
    const before = { ...plan, seams: plan.seams.slice(0, at), joints: [] };
    const e = held.evaluate(before);
    return e.pieces.map(({ key, code, name }) => ({ key, code, name }));
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
  async seat(document: unknown, wish: SeatRequest): Promise<Seating> {
    const mirror = await held.mirrorPlane();
    const { plan, e } = held.evaluation(document);
    return seatOn(plan, e, wish, mirror);
  },

  /** A joint's mirror image in the model's mirror plane; null where the model has none, or no face lies there. */
  async mirroredJoint(document: unknown, id: string): Promise<Joint | null> {
    const mirror = await held.mirrorPlane();
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

  grid(document: unknown, wish: Pick<GridWish, 'axes' | 'spacing' | 'jointRoom'>): GridPlan {
    return gridOf(parsePlan(document), held.model.map, held.bodies(), wish);
  },

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

  /** The plane in which the model comes nearest to its own mirror image; null when there is none worth the name. */
  mirror: (): Promise<MirrorView | null> => held.mirror(),

  /** Small pictures of pieces by geometry id of their skin, RGBA; only those asked for. */
  pictures(document: unknown, wanted: readonly { key: string; colour: string }[], width: number, height: number) {
    const { e } = held.evaluation(document);
    return wanted.flatMap(({ key, colour }) => {
      const piece = e.pieces.find((p) => p.key === key);
      if (!piece) return [];
      let pixels = pictures.get(piece.solid);
      if (!pixels) {
        const light = proxy({ ...piece.solid }, 6000);
        const caps = piece.solid.caps.map((c) => ({
          positions: piece.solid.positions,
          triangles: c.triangles,
          colour,
        }));
        pixels = picture([{ positions: light.positions, triangles: light.triangles, colour }, ...caps], width, height);
        pictures.set(piece.solid, pixels);
      }
      return [{ key, pixels: pixels.slice() }];
    });
  },
};

export type Engine = typeof engine;

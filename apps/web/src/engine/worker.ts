// Holds the model and computes for the live view, away from the page's own thread.
import {
  applyRecipe,
  type Body,
  type BuiltCap,
  type CouponWish,
  concatenate,
  EvalCache,
  type Evaluation,
  evaluateModel,
  type Frame,
  findingsOf,
  fromFrame,
  type GridPlan,
  type GridWish,
  isClosed,
  type Joint,
  type Kernel,
  kernelTriangulator,
  loadKernel,
  type Mirror,
  type Model,
  mirroredJoint,
  mirrorSearch,
  modelBox,
  type Plan,
  parsePlan,
  picture,
  poleOf,
  proxy,
  type Refit,
  refitJoints,
  type Seating,
  type Shaded,
  type Solid,
  sectionAt,
  shaded,
  shells,
  sizedBody,
  splitRecipe,
  stopsOf,
  type TakenMeasure,
  type Triangulator,
  takeMeasure,
  triangulate,
  unpackModel,
} from '@gephyra/core';
import * as Comlink from 'comlink';
import { zipSync } from 'fflate';
import wasmUrl from 'manifold-3d/manifold.wasm?url';
import {
  checkJoint,
  couponFile,
  type FaceHelp,
  helpFor,
  jointView,
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
  waysApart,
} from './seams.ts';
import type { BodyView, Drawable, EvaluationView, ModelView, PieceView, SectionView, Triple } from './types.ts';

const PROXY_TRIANGLES = 40_000;

const NOTHING: Model = { bodies: [], map: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0], palette: [], unit: null };

/** What the heavy steps made, and that after the light ones of the last plan. */
let base: Model = NOTHING;
let model: Model = NOTHING;
const cache = new EvalCache();
let fallback: Triangulator = () => new Uint32Array(0);
let solids: Kernel | undefined;
let mirrored: { key: string; plane: MirrorView | null } | null = null;
let last: { key: string; e: Evaluation } | null = null;
const pictures = new WeakMap<object, Uint8ClampedArray>();
const bodyViews = new WeakMap<Body['mesh'], BodyView>();

/** The bodies as they stand, with their index, as evaluation keeps them. */
const sizedBodies = () => model.bodies.map((b) => sizedBody(b, cache));

/** Does the light steps of a plan. */
function poseFor(plan: Plan): Model {
  model = applyRecipe(splitRecipe(plan.recipe).light, base, { map: (mesh, m) => cache.mapped(mesh, m) });
  return model;
}

/** What evaluation needs beside plan and model. */
const tools = () => ({ fallback, cache, ...(solids && { kernel: solids }) });

/** The evaluation of a plan, the last one kept. */
function evaluation(document: unknown): { plan: Plan; e: Evaluation } {
  const plan = parsePlan(document);
  const posed = poseFor(plan);
  const key = `${modelKey()} ${JSON.stringify(plan)}`;
  if (last?.key !== key) {
    last = { key, e: evaluateModel(plan, posed, tools()) };
  }
  return { plan, e: last.e };
}

/** Tells the model as it stands again, by its meshes. */
const modelKey = (): string => model.bodies.map((b) => cache.idOf(b.mesh)).join();

/** The mirror plane as far as it is known: looking for it takes a while. */
const knownMirror = (): MirrorView | null => (mirrored?.key === modelKey() ? mirrored.plane : null);

function bodyView(b: Body): BodyView {
  const known = bodyViews.get(b.mesh);
  if (known?.id === b.id && known.name === b.name) return known;
  const votes = new Map<number, number>();
  for (const t of b.mesh.tags) votes.set(t, (votes.get(t) ?? 0) + 1);
  const paint = [...votes].sort((x, y) => y[1] - x[1])[0]?.[0] ?? 0;
  const view: BodyView = {
    id: b.id,
    name: b.name,
    box: modelBox([b]),
    triangles: b.mesh.tags.length,
    volume: b.volume,
    closed: isClosed(b),
    openEdges: b.topology.openEdges,
    shells: shells(b.mesh).count,
    colour: base.palette[paint]?.colour ?? '',
  };
  bodyViews.set(b.mesh, view);
  return view;
}

/** The model's mirror plane as seating takes it. */
async function modelMirror(): Promise<Mirror | null> {
  const plane = await engine.mirror();
  return plane && { normal: plane.normal, offset: plane.at.reduce((s, x, a) => s + x * plane.normal[a], 0) };
}

const engine = {
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
    fallback = kernelTriangulator(kernel);
    solids = kernel;
    last = null;
    const packed = unpackModel(new Uint8Array(await response.arrayBuffer()));
    base = packed;
    model = packed;
    cache.forget();
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
    const { plan, e } = evaluation(document);
    const known = new Set(have);
    const fresh: Drawable[] = [];
    const send = (thing: object, make: () => Omit<Drawable, 'id'>): number => {
      const id = cache.idOf(thing);
      if (!known.has(id)) {
        known.add(id);
        fresh.push({ id, ...make() });
      }
      return id;
    };
    const apart = waysApart(plan, e);
    const bodies = model.bodies.map(bodyView);
    const pieces = e.pieces.map((p): PieceView => {
      return {
        key: p.key,
        code: p.code,
        name: p.name,
        body: p.body,
        size: p.size,
        box: p.box,
        volume: p.volume,
        triangles: p.triangles,
        closed: p.closed,
        build: p.build,
        joints: p.joints,
        colour: bodies.find((b) => b.id === p.body)?.colour ?? '',
        skin: send(p.solid, () => ({ ...shaded(p.solid.positions, p.solid.triangles), flat: 0 })),
        caps: p.caps.map((c) => send(c, () => capGeometry(p.solid, c))),
        apart: apart.get(p.key) ?? [0, 0, 0],
        aside: p.aside,
        stops: stopsOf(p, e),
        findings: findingsOf(p, e).length,
      };
    });
    const view: EvaluationView = {
      map: e.map,
      box: e.box,
      bodies,
      pieces,
      faces: e.faces.map((f) => ({
        id: f.id,
        seam: f.seam,
        contact: f.contact,
        ...(f.part !== undefined && { part: f.part }),
        plane: f.plane,
        pieces: f.pieces,
        area: f.area,
        outer: f.region.outer2,
        holes: f.region.holes2,
        pole: poleOf(f.region),
        frame: f.frame,
      })),
      joints: e.joints.map(jointView),
      ways: e.ways.map(({ step, out }) => ({ groups: step.groups, faces: step.faces.map((f) => f.id), out })),
      loose: e.loose.map(({ mesh, ...part }) => ({ ...part, printed: mesh !== null })),
      contacts: e.contacts,
      findings: e.findings,
      anchors: e.anchors.map((a) => ({ key: a.key, at: [...a.at] as [number, number, number] })),
      fresh,
      milliseconds: performance.now() - start,
    };
    return Comlink.transfer(
      view,
      fresh.flatMap((g) => [g.positions.buffer, g.normals.buffer, g.index.buffer] as ArrayBuffer[]),
    );
  },

  /** The model's cross-section in a plane, all bodies together. */
  section(frame: Frame): SectionView {
    const found = sizedBodies().map((b) => sectionAt(b.mesh, frame, b.blocks()));
    return {
      loops: found.flatMap((s) => s.loops),
      area: found.reduce((sum, s) => sum + s.area, 0),
      frame,
    };
  },

  /** The regions of a plane's section; with `walls` how thick they are along their outlines. */
  regions(frame: Frame, walls: boolean): { regions: RegionView[]; walls: WallView | null } {
    const regions = regionsAt(sizedBodies(), frame);
    return { regions, walls: walls ? wallsOf(regions) : null };
  },

  /** A section filled, for a view that is clipped there. */
  filled(frame: Frame): { positions: Float32Array; index: Uint32Array } {
    const positions: number[] = [];
    const index: number[] = [];
    for (const { outer2, holes2 } of regionsAt(sizedBodies(), frame)) {
      const start = positions.length / 3;
      for (const i of triangulate(outer2, holes2, fallback)) index.push(start + i);
      for (const l of [outer2, ...holes2]) {
        for (let i = 0; i < l.length; i += 2) positions.push(...fromFrame(frame, l[i], l[i + 1]));
      }
    }
    return { positions: Float32Array.from(positions), index: Uint32Array.from(index) };
  },

  /** Sections along a direction with landmarks and bands; `others`: places of other seams of this direction. */
  along(document: unknown, frame: Frame, others: readonly number[]): AlongView {
    const plan = parsePlan(document);
    return along(plan, model.map, sizedBodies(), frame, others, knownMirror());
  },

  /** What a seam leaves on its sides. */
  sides(document: unknown, seam: string): SeamSides {
    const { e } = evaluation(document);
    return sidesOf(e, sizedBodies(), seam);
  },

  /** Equal pieces, mirror twins and declared copies. */
  alike(document: unknown): AlikeView {
    const { plan, e } = evaluation(document);
    return alikeOf(plan, e);
  },

  /** The pieces as they stand before a seam. */
  piecesBefore(document: unknown, seam: string): { key: string; code: string; name: string }[] {
    const plan = parsePlan(document);
    const at = plan.seams.findIndex((s) => s.id === seam);
    const before = { ...plan, seams: plan.seams.slice(0, at), joints: [] };
    const e = evaluateModel(before, poseFor(plan), tools());
    return e.pieces.map(({ key, code, name }) => ({ key, code, name }));
  },

  /** A joint as it would be, measured beside the others. */
  checkJoint(document: unknown, joint: Joint) {
    return checkJoint(evaluation(document).e, joint);
  },

  /** Room, axis and middle of the wall of a face; null when it is gone. */
  faceHelp(document: unknown, face: string): FaceHelp | null {
    const found = evaluation(document).e.faces.find((f) => f.id === face);
    return found ? helpFor(found) : null;
  },

  wallPlaces(document: unknown, face: string, n: number, joint: Joint): [number, number][] {
    return wallPlaces(evaluation(document).e, face, n, joint);
  },

  /** Joints for faces, seated by themselves. The model's mirror plane is looked for first. */
  async seat(document: unknown, wish: SeatRequest): Promise<Seating> {
    const mirror = await modelMirror();
    const { plan, e } = evaluation(document);
    return seatOn(plan, e, wish, mirror);
  },

  /** A joint's mirror image in the model's mirror plane; null where the model has none, or no face lies there. */
  async mirroredJoint(document: unknown, id: string): Promise<Joint | null> {
    const mirror = await modelMirror();
    const { plan, e } = evaluation(document);
    const joint = plan.joints.find((j) => j.id === id);
    return mirror && joint ? mirroredJoint(joint, e, mirror) : null;
  },

  /** Joints that no longer hold made smaller, as one change. */
  refit(document: unknown): Refit {
    const { plan, e } = evaluation(document);
    return refitJoints(plan, e);
  },

  coupon(wish: CouponWish, name: string) {
    return couponFile(wish, name, fallback);
  },

  rehearsal(document: unknown, face: string, thickness: number, joint: string | null): MadeFile {
    return rehearsalFile(evaluation(document).e, face, thickness, joint, fallback);
  },

  limb: (body: string, at: Triple, normal: Triple) => limbAt(sizedBodies(), body, at, normal),

  round: (body: string, at: Triple, normal: Triple) => axisAt(sizedBodies(), body, at, normal),

  grid(document: unknown, wish: Pick<GridWish, 'axes' | 'spacing' | 'jointRoom'>): GridPlan {
    return gridOf(parsePlan(document), model.map, sizedBodies(), wish);
  },

  /** A light stand-in of the whole model, as the heavy steps left it. */
  proxy(): Shaded {
    const { positions, triangles } = proxy(concatenate(base.bodies.map((b) => b.mesh)), PROXY_TRIANGLES);
    const stand = shaded(positions, triangles);
    return Comlink.transfer(stand, [stand.positions.buffer, stand.normals.buffer, stand.index.buffer] as ArrayBuffer[]);
  },

  /** A measure of the model as it stands, mm. Places in the source's coordinates. */
  measure(taken: TakenMeasure): number {
    return takeMeasure(taken, model.bodies, model.map);
  },

  /** The first place that a ray meets on the bodies that are shown. */
  pick(origin: Triple, direction: Triple, hidden: readonly string[]): PickView | null {
    const shown = model.bodies.filter((b) => !hidden.includes(b.id));
    return pick(
      shown.map((b) => ({ id: b.id, blocks: sizedBody(b, cache).blocks() })),
      origin,
      direction,
    );
  },

  /** What lies at a picked place: its normal, and how thick the wall is there. Places in the model as shown. */
  probe(at: Triple, normal: Triple): ProbeView {
    return probe(
      sizedBodies().map((b) => ({ blocks: b.blocks() })),
      at,
      normal,
    );
  },

  /** The plane in which the model comes nearest to its own mirror image; null when there is none worth the name. */
  async mirror(): Promise<MirrorView | null> {
    const key = modelKey();
    const search = mirrorSearch(model.bodies.map((b) => b.mesh));
    while (mirrored?.key !== key) {
      const step = search.next();
      if (step.done) mirrored = { key, plane: step.value };
      // others get their turn
      else await new Promise((resolve) => setTimeout(resolve));
    }
    return mirrored.plane;
  },

  /** Small pictures of pieces by geometry id of their skin, RGBA; only those asked for. */
  pictures(document: unknown, wanted: readonly { key: string; colour: string }[], width: number, height: number) {
    const { e } = evaluation(document);
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

/** A cap with its joints: the face first, then the joints. */
function capGeometry(solid: Solid, cap: BuiltCap): Omit<Drawable, 'id'> {
  const positions = new Float64Array(cap.ids.length * 3 + cap.extra.length);
  for (let i = 0; i < cap.ids.length; i++) {
    for (let a = 0; a < 3; a++) positions[i * 3 + a] = solid.positions[cap.ids[i] * 3 + a];
  }
  positions.set(cap.extra, cap.ids.length * 3);
  const joints = cap.owners.findIndex((owner) => owner >= 0);
  return { ...shaded(positions, cap.triangles), flat: (joints < 0 ? cap.owners.length : joints) * 3 };
}

export type Engine = typeof engine;
Comlink.expose(engine);

// Holds the model and computes for the live view, away from the page's own thread.
import {
  applyRecipe,
  type Body,
  type BuiltCap,
  dot,
  EvalCache,
  evaluateModel,
  type Frame,
  isClosed,
  kernelTriangulator,
  loadKernel,
  type Model,
  modelBox,
  type Plan,
  parsePlan,
  picture,
  poleOf,
  proxy,
  type Shaded,
  type Solid,
  seamPlace,
  sectionAt,
  sectionProfile,
  shaded,
  shells,
  sizedBody,
  splitRecipe,
  stopsOf,
  type TakenMeasure,
  type Triangulator,
  takeMeasure,
  unpackModel,
} from '@gephyra/core';
import * as Comlink from 'comlink';
import { zipSync } from 'fflate';
import wasmUrl from 'manifold-3d/manifold.wasm?url';
import { findMirror, type MirrorView, type PickView, type ProbeView, pick, probe } from './probe.ts';
import type {
  BodyView,
  Drawable,
  EvaluationView,
  ModelView,
  PieceView,
  ProfileView,
  SectionView,
  Triple,
} from './types.ts';

const PROXY_TRIANGLES = 40_000;

const NOTHING: Model = { bodies: [], map: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0], palette: [], unit: null };

/** What the heavy steps made, and that after the light ones of the last plan. */
let base: Model = NOTHING;
let model: Model = NOTHING;
const cache = new EvalCache();
let fallback: Triangulator = () => new Uint32Array(0);
const pictures = new WeakMap<object, Uint8ClampedArray>();
const bodyViews = new WeakMap<Body['mesh'], BodyView>();

/** The bodies as they stand, with their index, as evaluation keeps them. */
const sizedBodies = () =>
  model.bodies.map((b) => {
    const sized = sizedBody(b, cache);
    return { mesh: sized.mesh, blocks: sized.blocks() };
  });

/** Does the light steps of a plan. */
function poseFor(plan: Plan): Model {
  model = applyRecipe(splitRecipe(plan.recipe).light, base, { map: (mesh, m) => cache.mapped(mesh, m) });
  return model;
}

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
    const plan = parsePlan(document);
    const e = evaluateModel(plan, poseFor(plan), { fallback, cache });
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
    const frames = plan.seams.filter((s) => s.enabled).map((s) => seamPlace(s, e.map).frame);
    const bodies = model.bodies.map(bodyView);
    const pieces = e.pieces.map((p): PieceView => {
      const apart: [number, number, number] = [0, 0, 0];
      const middle = p.box.min.map((x, a) => (x + p.box.max[a]) / 2) as unknown as Triple;
      for (const f of frames) {
        const side = Math.sign(dot(f.normal, middle) - f.offset);
        for (let a = 0; a < 3; a++) apart[a] += f.normal[a] * side;
      }
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
        fit: p.fit,
        joints: p.joints,
        colour: bodies.find((b) => b.id === p.body)?.colour ?? '',
        skin: send(p.solid, () => ({ ...shaded(p.solid.positions, p.solid.triangles), flat: 0 })),
        caps: p.caps.map((c) => send(c, () => capGeometry(p.solid, c))),
        apart,
        stops: stopsOf(p, e),
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
        pieces: f.pieces,
        area: f.area,
        outer: f.region.outer2,
        holes: f.region.holes2,
        pole: poleOf(f.region),
        frame: f.frame,
      })),
      joints: e.joints.map((j) => ({
        id: j.id,
        face: j.face,
        u: j.u,
        v: j.v,
        male: j.male,
        socket: j.socket,
        edge: j.edge,
        wall: j.wall,
        root: j.root,
        apart: j.apart,
        built: j.built,
        socketDepth: j.pin.socketDepth,
        maleLoop: j.form.male[0].loop,
        socketLoop: j.form.socket[0].loop,
      })),
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
    const found = sizedBodies().map(({ mesh, blocks }) => sectionAt(mesh, frame, blocks));
    return {
      loops: found.flatMap((s) => s.loops),
      area: found.reduce((sum, s) => sum + s.area, 0),
      frame,
    };
  },

  /** Cross-section areas along a plane's normal. */
  profile(frame: Frame, stations: number): ProfileView {
    const all = sizedBodies();
    let from = Infinity;
    let to = -Infinity;
    const parts = all.map(({ mesh, blocks }) => sectionProfile(mesh, frame, stations, blocks));
    for (const p of parts) {
      from = Math.min(from, p.from);
      to = Math.max(to, p.to);
    }
    if (parts.length === 1) return { at: parts[0].at, area: parts[0].area, from, to };
    const at = new Float64Array(stations);
    const area = new Float64Array(stations);
    for (let i = 0; i < stations; i++) {
      at[i] = from + ((to - from) * (i + 0.5)) / stations;
      for (const p of parts) {
        const k = Math.round(((at[i] - p.from) / (p.to - p.from)) * stations - 0.5);
        if (k >= 0 && k < stations) area[i] += p.area[k];
      }
    }
    return { at, area, from, to };
  },

  /** A light stand-in of the whole model, as the heavy steps left it. */
  proxy(): Shaded {
    const share = PROXY_TRIANGLES / Math.max(1, base.bodies.length);
    const parts = base.bodies.map((b) => proxy(b.mesh, share));
    const positions = new Float64Array(parts.reduce((n, p) => n + p.positions.length, 0));
    const triangles = new Uint32Array(parts.reduce((n, p) => n + p.triangles.length, 0));
    let v = 0;
    let t = 0;
    for (const p of parts) {
      positions.set(p.positions, v * 3);
      triangles.set(
        p.triangles.map((x) => x + v),
        t,
      );
      v += p.positions.length / 3;
      t += p.triangles.length;
    }
    const out = shaded(positions, triangles);
    return Comlink.transfer(out, [out.positions.buffer, out.normals.buffer, out.index.buffer] as ArrayBuffer[]);
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
    return probe(sizedBodies(), at, normal);
  },

  /** The plane in which the model comes nearest to its own mirror image; null when there is none worth the name. */
  mirror(): MirrorView | null {
    return findMirror(model.bodies.map((b) => b.mesh));
  },

  /** Small pictures of pieces by geometry id of their skin, RGBA; only those asked for. */
  pictures(document: unknown, wanted: readonly { key: string; colour: string }[], width: number, height: number) {
    const plan = parsePlan(document);
    const e = evaluateModel(plan, poseFor(plan), { fallback, cache });
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

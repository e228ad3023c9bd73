// Holds the bodies and computes for the live view, away from the page's own thread.
import {
  type Body,
  type BuiltCap,
  bodiesOf,
  dot,
  EvalCache,
  evaluate,
  kernelTriangulator,
  loadKernel,
  parsePlan,
  picture,
  poleOf,
  proxy,
  readStl,
  type Seam,
  type Shaded,
  type Solid,
  seamFrame,
  sectionAt,
  sectionProfile,
  shaded,
  sizedBody,
  sourceBox,
  stopsOf,
  type Triangulator,
} from '@gephyra/core';
import * as Comlink from 'comlink';
import wasmUrl from 'manifold-3d/manifold.wasm?url';
import type { Drawable, EvaluationView, ModelView, PieceView, ProfileView, SectionView, Triple } from './types.ts';

const PROXY_TRIANGLES = 40_000;

let bodies: readonly Body[] = [];
let cache = new EvalCache();
let fallback: Triangulator = () => new Uint32Array(0);
const pictures = new WeakMap<object, Uint8ClampedArray>();

/** The bodies at the plan's size, with their index, as evaluation keeps them. */
const sizedBodies = (factor: number) =>
  bodies.map((b) => {
    const sized = sizedBody(b, factor, cache);
    return { mesh: sized.mesh, blocks: sized.blocks() };
  });

const engine = {
  /** Fetches and reads the source model. Throws a plain message when it cannot be read. */
  async load(url: string, fileName: string, allowTruncated: boolean): Promise<ModelView> {
    const [response, kernel] = await Promise.all([fetch(url), loadKernel(wasmUrl)]);
    if (!response.ok) throw new Error('The model’s file cannot be fetched from the server.');
    fallback = kernelTriangulator(kernel);
    const raw = readStl(new Uint8Array(await response.arrayBuffer()), { name: fileName, allowTruncated });
    const found = bodiesOf(raw, fileName.replace(/\.[^.]*$/, ''));
    bodies = found.bodies;
    cache = new EvalCache();
    return {
      box: sourceBox(bodies),
      triangles: bodies.reduce((n, b) => n + b.mesh.tags.length, 0),
      notes: found.notes,
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
    const e = evaluate(plan, bodies, { fallback, cache });
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
    const frames = plan.seams.filter((s) => s.enabled).map((s) => seamFrame(s, e.factor));
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
        skin: send(p.solid, () => ({ ...shaded(p.solid.positions, p.solid.triangles), flat: 0 })),
        caps: p.caps.map((c) => send(c, () => capGeometry(p.solid, c))),
        apart,
        stops: stopsOf(p, e),
      };
    });
    const view: EvaluationView = {
      factor: e.factor,
      box: e.box,
      pieces,
      faces: e.faces.map((f) => ({
        id: f.id,
        seam: f.seam,
        pieces: f.pieces,
        area: f.area,
        outer: f.caps[0].outer2,
        holes: f.caps[0].holes2,
        pole: poleOf(f.caps[0]),
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

  /** The model's cross-section in a seam's plane, all bodies together. */
  section(seam: Seam, factor: number): SectionView {
    const frame = seamFrame(seam, factor);
    const found = sizedBodies(factor).map(({ mesh, blocks }) => sectionAt(mesh, frame, blocks));
    return {
      loops: found.flatMap((s) => s.loops),
      area: found.reduce((sum, s) => sum + s.area, 0),
      frame,
    };
  },

  /** Cross-section areas along a seam's direction. */
  profile(seam: Seam, factor: number, stations: number): ProfileView {
    const frame = seamFrame(seam, factor);
    const all = sizedBodies(factor);
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

  /** A light stand-in of the whole model, in the source's size. */
  proxy(): Shaded {
    const share = PROXY_TRIANGLES / Math.max(1, bodies.length);
    const parts = bodies.map((b) => proxy(b.mesh, share));
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

  /** Small pictures of pieces by geometry id of their skin, RGBA; only those asked for. */
  pictures(document: unknown, wanted: readonly { key: string; colour: string }[], width: number, height: number) {
    const e = evaluate(parsePlan(document), bodies, { fallback, cache });
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

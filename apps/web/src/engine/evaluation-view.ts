// What the interface shows of an evaluation.
import {
  type Body,
  type BuiltCap,
  type Cells,
  clustered,
  colourPieces,
  type Evaluation,
  findingsOf,
  fittingsOf,
  type IndexedMesh,
  isClosed,
  isWall,
  labelled,
  type Model,
  modelBox,
  type Plan,
  pieceColour,
  poleOf,
  type Shaded,
  type Solid,
  shaded,
  shells,
  stopsOf,
  triangleCross,
} from '@gephyra/core';
import type { HeldModel } from './held-model.ts';
import { jointView } from './joints.ts';
import { waysApart } from './seams.ts';
import type { BodyView, Drawable, EvaluationView, PieceView } from './types.ts';

const bodyViews = new WeakMap<Body['mesh'], BodyView>();

/** The view of an evaluation; geometry whose id is in `have` is not given again. */
export function evaluationView(
  held: HeldModel,
  { plan, e }: { readonly plan: Plan; readonly e: Evaluation },
  have: readonly number[],
): Omit<EvaluationView, 'milliseconds'> {
  const known = new Set(have);
  const fresh: Drawable[] = [];
  const send = (thing: object, make: () => Omit<Drawable, 'id'>): number => {
    const id = held.cache.idOf(thing);
    if (!known.has(id)) {
      known.add(id);
      fresh.push({ id, ...make() });
    }
    return id;
  };
  const cells = held.cells();
  held.colours = colourPieces(
    e.pieces.map((p) => p.key),
    e.faces.map((f) => f.pieces),
    held.colours,
  );
  const apart = waysApart(plan, e);
  const bodies = held.model.bodies.map((b) => bodyView(b, held.base.palette));
  const pieces = e.pieces.map(
    (p): PieceView => ({
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
      tint: pieceColour(held.colours.get(p.key) ?? 0),
      colour: held.base.palette[paintOf(p.solid)]?.colour ?? '',
      skin: send(p.solid, () => ({ ...skinOf(p.solid, p.caps, cells), flat: 0 })),
      caps: labelled(plan, e, p).piece.caps.map((c) => send(c, () => capGeometry(p.solid, c))),
      apart: apart.get(p.key) ?? [0, 0, 0],
      aside: p.aside,
      spare: p.spare,
      stops: stopsOf(p, e),
      findings: findingsOf(p, e).length,
    }),
  );
  return {
    map: e.map,
    box: e.box,
    bodies,
    pieces,
    faces: e.faces.map((f) => ({
      id: f.id,
      seam: f.seam,
      contact: f.contact,
      ...(f.alternate !== undefined && { alternate: f.alternate }),
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
    fittings: fittingsOf(plan, e).map(({ mesh, ...f }) => ({
      ...f,
      geometry: send(mesh, () => ({ ...shaded(mesh.positions, mesh.triangles), flat: 0 })),
    })),
    contacts: e.contacts,
    show: [...e.show.bodies].map(([body, shown]) => ({
      body,
      geometry: send(shown, () => ({ ...skinOf(shown.mesh, [], cells), flat: 0 })),
      area: shown.area,
    })),
    findings: e.findings,
    codes: e.codes,
    anchors: e.anchors.map((a) => ({ key: a.key, at: [...a.at] as [number, number, number] })),
    fresh,
    lighter: cells !== null,
  };
}

const paints = new WeakMap<Uint32Array, number>();

/** The colour that most of a surface has, as an entry of the palette. Walls of seams and laps have none. */
function paintOf({ positions: p, triangles: t, tags }: Pick<IndexedMesh, 'positions' | 'triangles' | 'tags'>): number {
  let paint = paints.get(tags);
  if (paint === undefined) {
    const areas = new Map<number, number>();
    tags.forEach((tag, i) => {
      if (!isWall(tag)) areas.set(tag, (areas.get(tag) ?? 0) + Math.hypot(...triangleCross(p, t, i)));
    });
    paint = [...areas].sort((x, y) => y[1] - x[1])[0]?.[0] ?? 0;
    paints.set(tags, paint);
  }
  return paint;
}

function bodyView(b: Body, palette: Model['palette']): BodyView {
  const known = bodyViews.get(b.mesh);
  if (known?.id === b.id && known.name === b.name) return known;
  const view: BodyView = {
    id: b.id,
    name: b.name,
    box: modelBox([b]),
    triangles: b.mesh.tags.length,
    volume: b.volume,
    closed: isClosed(b),
    openEdges: b.topology.openEdges,
    shells: shells(b.mesh).count,
    colour: palette[paintOf(b.mesh)]?.colour ?? '',
  };
  bodyViews.set(b.mesh, view);
  return view;
}

/** The skin of a piece as it is drawn: lighter where the model is too large, but for the rims that caps lie in. */
function skinOf(solid: IndexedMesh, caps: readonly BuiltCap[], cells: Cells | null): Shaded {
  if (!cells) return shaded(solid.positions, solid.triangles);
  const kept = new Uint8Array(solid.positions.length / 3);
  for (const { ids } of caps) for (const v of ids) kept[v] = 1;
  const light = clustered(solid, cells, kept);
  return shaded(light.positions, light.triangles);
}

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

import type { CapRegion, Frame, Solid, Triangulator } from '../cut/index.ts';
import { NO_PAINT } from '../formats/index.ts';
import { type BuiltCap, buildCap, cappedMesh, type Half, poleOf } from '../joints/index.ts';
import {
  type Affine,
  type Box,
  bounds,
  boxOf,
  IDENTITY,
  type IndexedMesh,
  mapVector,
  normalize,
  sizeOf,
  type Tag,
  uniteBoxes,
  type Vec3,
} from '../mesh/index.ts';
import { applyRecipe, type Model } from '../recipe/index.ts';
import { type Body, isClosed } from '../repair/index.ts';
import type { Kernel } from '../solid/index.ts';
import { wallOfTag } from './carved.ts';
import { freeId } from './change.ts';
import { type Contacts, findContacts } from './contacts.ts';
import type { MatingFace } from './faces.ts';
import type { Finding } from './findings.ts';
import { mm } from './findings.ts';
import { type FitResult, fitTo } from './fits.ts';
import type { JointContext, MeasuredJoint } from './joint-measure.ts';
import { type PlacedJoint, placeJoints } from './joints.ts';
import { lapFinding, lapPieces } from './laps.ts';
import { wallLimits } from './limits.ts';
import { type LoosePart, looseParts } from './loose.ts';
import { letters, pieceOrder, positionNames } from './names.ts';
import { type PartedModel, partModel } from './parting.ts';
import { bodyFindings, pieceFindings } from './piece-findings.ts';
import type { Anchor } from './pieces.ts';
import type { SeamPlace } from './place.ts';
import type { Contact, Plan } from './schema.ts';
import { faceFindings } from './seam-findings.ts';
import { EvalCache, type SizedBody } from './stages.ts';
import { joiningSteps, type WayIn, waysIn } from './way-in.ts';

/** A solid that results from the plan, joints included. Lengths in mm at the plan's size. */
export interface Piece {
  /** body, seams and sides: survives edits */
  readonly key: string;
  /** A1, A2 …: by body, from the bottom up */
  readonly code: string;
  /** where it sits: "upper left" */
  readonly name: string;
  /** set aside: not made */
  readonly aside: boolean;
  readonly body: string;
  readonly solid: Solid;
  /** one a cap of the solid: the cap with its joints */
  readonly caps: readonly BuiltCap[];
  readonly box: Box;
  readonly size: Vec3;
  /** mm³ */
  readonly volume: number;
  readonly triangles: number;
  /** whether it is a closed solid: its body is, and the seams' faces close it */
  readonly closed: boolean;
  readonly fit: FitResult;
  /** joints built into it */
  readonly joints: readonly string[];
}

export interface Evaluation {
  /** from the source's coordinates to the model as it is cut */
  readonly map: Affine;
  /** the box of the model at the plan's size */
  readonly box: Box;
  readonly pieces: readonly Piece[];
  readonly faces: readonly MatingFace[];
  readonly joints: readonly PlacedJoint[];
  /** what was measured of those that are built */
  readonly measured: readonly MeasuredJoint[];
  /** what further joints are measured against */
  readonly context: JointContext;
  /** how the pieces go together, step by step */
  readonly ways: readonly WayIn[];
  /** rods and magnets */
  readonly loose: readonly LoosePart[];
  readonly findings: readonly Finding[];
  /** what the plan should keep so that keys survive the next edit */
  readonly anchors: readonly Anchor[];
  /** faces of bodies that the plan should keep, so that joints stay on them */
  readonly contacts: readonly Contact[];
}

export interface EvalContext {
  /** triangulates what ear cutting refuses */
  readonly fallback: Triangulator;
  /** needed for seams that are no planes */
  readonly kernel?: Kernel;
  readonly cache?: EvalCache;
}

/**
 * Computes the pieces, mating faces and findings of a plan from the bodies of its source: the recipe first, as far as it
 * needs no tools, then `evaluateModel`.
 */
export function evaluate(plan: Plan, bodies: readonly Body[], context: EvalContext): Evaluation {
  const cache = context.cache ?? new EvalCache();
  const source: Model = { bodies, map: IDENTITY, palette: NO_PAINT, unit: null };
  const model = applyRecipe(plan.recipe, source, { map: (mesh, m) => cache.mapped(mesh, m) });
  return evaluateModel(plan, model, { ...context, cache });
}

/**
 * Computes the pieces, mating faces and findings of a plan from the model that its recipe made. Pure: the same plan and
 * model give the same result, with or without what the cache kept. Bodies that are not closed come out whole, with a
 * finding.
 */
export function evaluateModel(plan: Plan, model: Model, context: EvalContext): Evaluation {
  const cache = context.cache ?? new EvalCache();
  const { bodies, map } = model;
  const cut = partModel(plan, model, { ...context, cache });
  const touching = contactsOf(plan, cut, map, cache, context.fallback);
  const parted = { ...cut, bodies: touching.bodies };
  const faces = [...cut.faces, ...touching.faces];
  const places = new Map([...cut.places, ...touching.places]);
  const findings: Finding[] = [...bodyFindings(bodies), ...parted.findings];
  const around = new Map(parted.bodies.map((b) => [b.sized.body.id, b]));
  const upOf = printDirections(plan, faces, map);
  const { fallback } = context;
  const jointContext: JointContext = { plan, map, faces, around, places, cache, fallback, upOf };
  const placing = placeJoints(plan.joints, jointContext);
  const {
    ways,
    findings: wayFindings,
    refused,
  } = waysIn(joiningSteps(faces, plan.seams), placing.measured, jointContext);
  const free = placing.placed.map((j) => (refused.has(j.id) ? { ...j, built: false } : j));
  const { lapped, failed } = lapPieces(plan, free, faces, around, cache, fallback);
  const placed = free.map((j) => (failed.has(j.id) ? { ...j, built: false } : j));
  findings.push(
    ...placing.findings,
    ...wayFindings,
    ...[...failed].map(([id, message]) => lapFinding(plan, id, message)),
    ...bareFaces(plan, faces, placed, places),
    ...overlaps(
      parted.bodies.map((b) => b.sized),
      cache,
    ),
  );

  const halves = halvesByCap(placed, faces);
  const notes = new Map(plan.pieces.map((n) => [n.key, n]));
  const pieces = parted.bodies.flatMap(({ sized, keyed, closed }, b) => {
    const sorted = [...keyed].sort((x, y) => pieceOrder(x.box.min, y.box.min) || (x.key < y.key ? -1 : 1));
    const names = positionNames(sorted, sized.box);
    return sorted.map(({ key, solid: cut, box }, i): Piece => {
      const solid = lapped.get(key) ?? cut;
      const built = solid.caps.map((cap, c) => {
        const wanted = halves.get(cut.caps[c]);
        if (!wanted) return cache.builtCap(cap, '', () => plainCap(cap));
        const { frame, list } = wanted;
        return cache.builtCap(cap, printOf(list), () => buildCap(cap, frame, list, context.fallback));
      });
      const { caps, faulty } = cache.sealed(solid, built);
      const joints = placed.filter((j) => j.built && (j.male === key || j.socket === key)).map((j) => j.id);
      const fullBox = caps.reduce(
        (sum, c) => (c.extra.length > 0 ? uniteBoxes(sum, bounds(c.extra)) : sum),
        solid === cut ? box : boxOf(solid.positions),
      );
      const size = sizeOf(fullBox);
      return {
        key,
        code: `${plan.bodies.find((n) => n.id === sized.body.id)?.code ?? letters(b)}${i + 1}`,
        name: notes.get(key)?.name || names[i],
        aside: notes.get(key)?.aside ?? false,
        body: sized.body.id,
        solid,
        caps,
        box: fullBox,
        size,
        volume: cache.skinVolume(solid) + caps.reduce((sum, c) => sum + cache.capVolume(solid, c), 0),
        triangles: (solid.triangles.length + caps.reduce((n, c) => n + c.triangles.length, 0)) / 3,
        closed: closed && faulty === 0,
        fit: fitTo(plan.printer, size),
        joints,
      };
    });
  });
  findings.push(
    ...faceFindings(plan, faces, pieces, map, new Set(placed.flatMap((j) => (j.built && j.face ? [j.face] : [])))),
  );
  findings.push(...pieceFindings(plan, pieces, bodies, map));
  const box = parted.bodies.map((b) => b.sized.box).reduce(uniteBoxes);
  const loose = looseParts(plan.joints, placed, faces);
  return {
    map,
    box,
    pieces,
    faces,
    joints: placed,
    measured: placing.measured.filter((m) => !refused.has(m.joint.id) && !failed.has(m.joint.id)),
    context: jointContext,
    ways,
    loose,
    findings,
    anchors: parted.anchors,
    contacts: touching.contacts,
  };
}

/**
 * The piece as one closed mesh, and what its tags mean: skin by body and paint, caps by seam, joints by id. `paint` has the
 * entry of the model's palette for each tag; caps and joints take the one that most of the skin has.
 */
export function pieceMesh(piece: Piece): { mesh: IndexedMesh; tags: Tag[]; paint: number[] } {
  const { solid, caps } = piece;
  const paints = [...new Set(solid.tags)];
  const table: Tag[] = paints.map((p) =>
    wallOfTag(p) ? { kind: 'cap', seam: '' } : { kind: 'skin', body: piece.body },
  );
  const skinTag = new Map(paints.map((p, i) => [p, i]));
  const mesh = cappedMesh(solid, caps);
  const { tags } = mesh;
  for (let i = 0; i < solid.tags.length; i++) tags[i] = skinTag.get(solid.tags[i])!;
  let at = solid.tags.length;
  caps.forEach((cap, c) => {
    const capTag = table.push({ kind: 'cap', seam: solid.caps[c].seam }) - 1;
    const jointTags = cap.halves.map(
      ({ kind, joint }) => table.push({ kind: kind === 'male' ? 'male' : 'socket', joint }) - 1,
    );
    for (let i = 0; i < cap.owners.length; i++) {
      tags[at + i] = cap.owners[i] < 0 ? capTag : jointTags[cap.owners[i]];
    }
    at += cap.owners.length;
  });
  const main = commonest(solid.tags);
  return {
    mesh,
    tags: table,
    paint: table.map((_, i) => (paints[i] === undefined || wallOfTag(paints[i]) ? main : paints[i])),
  };
}

function commonest(tags: Uint32Array): number {
  const votes = new Map<number, number>();
  for (const t of tags) if (!wallOfTag(t)) votes.set(t, (votes.get(t) ?? 0) + 1);
  return [...votes].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 0;
}

function plainCap(cap: CapRegion): BuiltCap {
  const ids = new Set(cap.triangles);
  const order = Uint32Array.from(ids);
  const number = new Map([...order].map((v, i) => [v, i]));
  return {
    ids: order,
    extra: new Float64Array(0),
    triangles: cap.triangles.map((v) => number.get(v)!),
    owners: new Int32Array(cap.triangles.length / 3).fill(-1),
    halves: [],
  };
}

/** Tells the same halves again: kind, id and every number of their rings. */
function printOf(halves: readonly Half[]): string {
  return halves
    .map((h) => `${h.kind} ${h.joint} ${h.rings.map((r) => `${r.height}:${r.loop.join()}`).join()}`)
    .join('|');
}

/** The joint halves that go into each cap, and the plane it lies in. */
function halvesByCap(
  placed: readonly PlacedJoint[],
  faces: readonly MatingFace[],
): Map<CapRegion, { frame: Frame; list: Half[] }> {
  const byId = new Map(faces.map((f) => [f.id, f]));
  const halves = new Map<CapRegion, { frame: Frame; list: Half[] }>();
  for (const j of placed) {
    const face = j.built && j.face !== null ? byId.get(j.face) : undefined;
    if (!face) continue;
    const own = j.direction > 0 ? 0 : 1;
    for (const [side, stacks] of [
      [own, j.form.own],
      [1 - own, j.form.other],
    ] as const) {
      const built = halves.get(face.caps[side]) ?? { frame: face.frames[side], list: [] };
      built.list.push(...stacks.map((stack) => ({ ...stack, joint: j.id })));
      halves.set(face.caps[side], built);
    }
  }
  return halves;
}

/** The faces on which bodies touch, kept for as long as nothing about them changes. */
function contactsOf(plan: Plan, cut: PartedModel, map: Affine, cache: EvalCache, fallback: Triangulator): Contacts {
  if (cut.bodies.length < 2) return { bodies: cut.bodies, faces: [], places: new Map(), contacts: [] };
  const ids = new Set(plan.contacts.map((c) => c.id));
  const jointed = new Set(plan.joints.map((j) => j.seam).filter((s) => ids.has(s)));
  const solids = cut.bodies.flatMap((b) => b.keyed.map((k) => `${k.key}=${cache.idOf(k.solid)}`));
  const key = JSON.stringify([plan.reach, plan.contacts, [...jointed], plan.seams.map((s) => s.id), map, solids]);
  return cache.contacts.get(
    key,
    () => findContacts(plan, cut.bodies, map, fallback),
    (c) => 1000 + c.bodies.reduce((n, b) => n + b.keyed.reduce((m, k) => m + k.solid.triangles.byteLength, 0), 0),
  );
}

/** What points up while each piece prints: what the plan says, else away from its largest mating face. */
function printDirections(plan: Plan, faces: readonly MatingFace[], map: Affine): (piece: string) => Vec3 | null {
  const largest = new Map<string, { area: number; up: Vec3 }>();
  for (const f of faces) {
    f.pieces.forEach((piece, side) => {
      if ((largest.get(piece)?.area ?? 0) >= f.area) return;
      const [x, y, z] = f.frames[side].normal;
      largest.set(piece, { area: f.area, up: side === 0 ? [-x, -y, -z] : [x, y, z] });
    });
  }
  for (const note of plan.pieces) {
    if (note.up) largest.set(note.key, { area: Infinity, up: normalize(mapVector(map, note.up)) });
  }
  return (piece) => largest.get(piece)?.up ?? null;
}

function bareFaces(
  plan: Plan,
  faces: readonly MatingFace[],
  placed: readonly PlacedJoint[],
  places: ReadonlyMap<string, SeamPlace>,
): Finding[] {
  const limits = wallLimits(plan.printer);
  return faces
    .filter((f) => places.has(f.plane) && !placed.some((j) => j.face === f.id))
    .map((f): Finding => {
      if (f.contact) {
        return {
          code: 'face.bare',
          severity: 'note',
          where: { seam: f.seam, face: f.id },
          message: 'Two bodies lie against each other here, without a joint.',
        };
      }
      const pole = poleOf(f.region);
      const diameter = Math.min(8, Math.floor((pole.distance - limits.warn - 0.2) * 1.6 * 2) / 2);
      const finding: Finding = {
        code: 'face.bare',
        severity: 'warn',
        where: { seam: f.seam, face: f.id },
        message: 'This mating face has no joint yet.',
      };
      if (diameter < 2) return finding;
      const joint = {
        id: freeId('j', plan.joints),
        kind: 'pin' as const,
        seam: f.seam,
        ...(f.part !== undefined && { part: f.part }),
        at: places.get(f.plane)!.toSource([rounded(pole.u), rounded(pole.v)]),
        shape: 'hexagon' as const,
        diameter,
        depth: diameter,
      };
      return { ...finding, mend: { label: `Add a ${mm(diameter)} pin`, change: { do: 'addJoint', joint } } };
    });
}

const rounded = (x: number): number => Number(x.toFixed(3));

/** Bodies that reach into each other. */
function overlaps(bodies: readonly SizedBody[], cache: EvalCache): Finding[] {
  const findings: Finding[] = [];
  for (let i = 0; i < bodies.length; i++) {
    for (let j = i + 1; j < bodies.length; j++) {
      const [a, b] = [bodies[i], bodies[j]];
      if (!isClosed(a.body) || !isClosed(b.body) || !cache.overlap(a.mesh, b.mesh)) continue;
      findings.push({
        code: 'bodies.overlap',
        severity: 'stop',
        where: { body: b.body.id },
        message: `${a.body.name} and ${b.body.name} overlap, so their pieces cannot be put together.`,
        mend: {
          label: 'Join the two into one solid',
          change: { do: 'addStep', step: { kind: 'join', on: [a.body.id, b.body.id] } },
        },
      });
    }
  }
  return findings;
}

import type { CapRegion, Frame, Triangulator } from '../cut/index.ts';
import { type Finding, freeId, type Plan, wallLimits } from '../document/index.ts';
import { NO_PAINT } from '../formats/index.ts';
import {
  type JointContext,
  joiningSteps,
  lapFinding,
  lapPieces,
  looseParts,
  type PlacedJoint,
  placeJoints,
  waysIn,
} from '../joining/index.ts';
import { type BuiltCap, buildCap, type Half, poleOf } from '../joints/index.ts';
import {
  type Affine,
  bounds,
  boxOf,
  IDENTITY,
  mapVector,
  normalize,
  sizeOf,
  uniteBoxes,
  type Vec3,
} from '../mesh/index.ts';
import { withinBuild } from '../print/index.ts';
import { applyRecipe, type Model } from '../recipe/index.ts';
import { type Body, isClosed } from '../repair/index.ts';
import {
  type Contacts,
  EvalCache,
  findContacts,
  type MatingFace,
  type PartedModel,
  partModel,
  pieceOrder,
  type SeamPlace,
  type SizedBody,
} from '../seams/index.ts';
import type { Kernel } from '../solid/index.ts';
import { mm } from '../units.ts';
import { faceFindings } from './face-findings.ts';
import type { Evaluation, Piece } from './model.ts';
import { letters, positionNames } from './names.ts';
import { bodyFindings, pieceFindings } from './piece-findings.ts';

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
        build: withinBuild(plan.printer, size),
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

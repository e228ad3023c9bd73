import type { CapRegion, Solid, Triangulator } from '../cut/index.ts';
import { type BuiltCap, buildCap, type Half, poleOf } from '../joints/index.ts';
import {
  type Box,
  bounds,
  type IndexedMesh,
  insideSolid,
  sizeOf,
  type Tag,
  uniteBoxes,
  type Vec3,
} from '../mesh/index.ts';
import type { Body } from '../repair/index.ts';
import { freeId } from './change.ts';
import { type MatingFace, matingFaces } from './faces.ts';
import type { Finding } from './findings.ts';
import { mm } from './findings.ts';
import { type FitResult, fitTo } from './fits.ts';
import { type PlacedJoint, placeJoints, wallLimits } from './joints.ts';
import { letters, pieceOrder, positionNames } from './names.ts';
import { type Anchor, isFilm, type KeyedSolid, keySolids } from './pieces.ts';
import type { Plan } from './schema.ts';
import { scaleFactor } from './size.ts';
import { cutBody, EvalCache, type SizedBody, seamFrame, sizedBody } from './stages.ts';

/** A solid that results from the plan, joints included. Lengths in mm at the plan's size. */
export interface Piece {
  /** body, seams and sides: survives edits */
  readonly key: string;
  /** A1, A2 …: by body, from the bottom up */
  readonly code: string;
  /** where it sits: "upper left" */
  readonly name: string;
  readonly body: string;
  readonly solid: Solid;
  /** one a cap of the solid: the cap with its joints */
  readonly caps: readonly BuiltCap[];
  readonly box: Box;
  readonly size: Vec3;
  /** mm³ */
  readonly volume: number;
  readonly triangles: number;
  /** whether the body it is cut from is closed, and with it the piece */
  readonly closed: boolean;
  readonly fit: FitResult;
  /** joints built into it */
  readonly joints: readonly string[];
}

export interface Evaluation {
  readonly factor: number;
  /** the box of the model at the plan's size */
  readonly box: Box;
  readonly pieces: readonly Piece[];
  readonly faces: readonly MatingFace[];
  readonly joints: readonly PlacedJoint[];
  readonly findings: readonly Finding[];
  /** what the plan should keep so that keys survive the next edit */
  readonly anchors: readonly Anchor[];
}

export interface EvalContext {
  /** triangulates what ear cutting refuses */
  readonly fallback: Triangulator;
  readonly cache?: EvalCache;
}

/**
 * Computes the pieces, mating faces and findings of a plan. Pure: the same plan and bodies give the same result, with
 * or without what the cache kept. Bodies that are not closed come out whole, with a finding.
 */
export function evaluate(plan: Plan, bodies: readonly Body[], context: EvalContext): Evaluation {
  const cache = context.cache ?? new EvalCache();
  const factor = scaleFactor(plan, bodies);
  const seams = plan.seams.filter((s) => s.enabled).map((s) => ({ id: s.id, frame: seamFrame(s, factor) }));
  const findings: Finding[] = [];
  const faces: MatingFace[] = [];
  const anchors: Anchor[] = [];
  const around = new Map<string, { sized: SizedBody; solids: Map<string, Solid> }>();
  const perBody: { sized: SizedBody; keyed: KeyedSolid[]; closed: boolean }[] = [];
  const met = new Set<string>();

  for (const body of bodies) {
    const sized = sizedBody(body, factor, cache);
    const closed = body.topology.watertight;
    if (!closed) findings.push(openBody(body));
    const stages = cutBody(sized, closed ? seams : [], cache);
    const last = stages[stages.length - 1];
    stages.slice(1).forEach((stage, i) => {
      if (stage.cuts) met.add(seams[i].id);
      if (stage.film && stage.cuts) findings.push(filmFinding(seams[i].id));
    });
    const solids = last.cells
      .flatMap((cell) => cache.solidsOf(cell, last.frames, context.fallback))
      .filter((s) => !isFilm(s, last.frames));
    const { keyed, anchors: kept } = keySolids(body.id, solids, plan, factor);
    anchors.push(...kept);
    faces.push(...matingFaces(body.id, keyed, last.frames));
    around.set(body.id, { sized, solids: new Map(keyed.map((k) => [k.key, k.solid])) });
    perBody.push({ sized, keyed, closed });
  }
  for (const { id } of seams) {
    if (met.has(id)) continue;
    findings.push({ code: 'seam.misses', severity: 'warn', where: { seam: id }, message: 'This seam cuts nothing.' });
  }

  const active = plan.joints.filter((j) => seams.some((s) => s.id === j.seam));
  const { placed, findings: jointFindings } = placeJoints(active, faces, around, factor, plan.printer, cache);
  findings.push(...jointFindings, ...bareFaces(plan, faces, placed, factor), ...overlaps(perBody.map((b) => b.sized)));

  const halves = halvesByCap(placed, faces);
  const frames = new Map(faces.map((f) => [`${f.body}|${f.seam}`, f.frame]));
  const pieces = perBody.flatMap(({ sized, keyed, closed }, b) => {
    const sorted = [...keyed].sort((x, y) => pieceOrder(x.box.min, y.box.min) || (x.key < y.key ? -1 : 1));
    const names = positionNames(sorted, sized.box);
    return sorted.map(({ key, solid, box }, i): Piece => {
      const caps = solid.caps.map((cap) => {
        const own = halves.get(cap) ?? [];
        const frame = frames.get(`${sized.body.id}|${cap.seam}`);
        if (own.length === 0 || !frame) return cache.builtCap(cap, '', () => plainCap(cap));
        return cache.builtCap(cap, printOf(own), () => buildCap(cap, frame, own, context.fallback));
      });
      const joints = caps.flatMap((cap) => cap.halves.map((h) => h.joint));
      const fullBox = caps.reduce((sum, c) => (c.extra.length > 0 ? uniteBoxes(sum, bounds(c.extra)) : sum), box);
      const size = sizeOf(fullBox);
      return {
        key,
        code: `${letters(b)}${i + 1}`,
        name: names[i],
        body: sized.body.id,
        solid,
        caps,
        box: fullBox,
        size,
        volume: cache.skinVolume(solid) + caps.reduce((sum, c) => sum + cache.capVolume(solid, c), 0),
        triangles: (solid.triangles.length + caps.reduce((n, c) => n + c.triangles.length, 0)) / 3,
        closed,
        fit: fitTo(plan.printer, size),
        joints,
      };
    });
  });
  for (const p of pieces) if (!p.fit.fits) findings.push(tooBig(plan, p, factor));
  const box = perBody.map((b) => b.sized.box).reduce(uniteBoxes);
  return { factor, box, pieces, faces, joints: placed, findings, anchors };
}

/** The piece as one closed mesh, and what its tags mean: skin by body, caps by seam, joints by id. */
export function pieceMesh(piece: Piece): { mesh: IndexedMesh; tags: Tag[] } {
  const { solid, caps } = piece;
  const table: Tag[] = [{ kind: 'skin', body: piece.body, part: '' }];
  const positions = new Float64Array(solid.positions.length + caps.reduce((n, c) => n + c.extra.length, 0));
  const triangles = new Uint32Array(piece.triangles * 3);
  const tags = new Uint32Array(piece.triangles);
  positions.set(solid.positions);
  triangles.set(solid.triangles);
  let vertices = solid.positions.length / 3;
  let at = solid.triangles.length;
  caps.forEach((cap, c) => {
    const capTag = table.push({ kind: 'cap', seam: solid.caps[c].seam }) - 1;
    for (let i = 0; i < cap.triangles.length; i++) {
      const v = cap.triangles[i];
      triangles[at + i] = v < cap.ids.length ? cap.ids[v] : vertices + v - cap.ids.length;
    }
    const jointTags = cap.halves.map(({ kind, joint }) => table.push({ kind, joint }) - 1);
    for (let i = 0; i < cap.owners.length; i++) {
      tags[at / 3 + i] = cap.owners[i] < 0 ? capTag : jointTags[cap.owners[i]];
    }
    positions.set(cap.extra, vertices * 3);
    vertices += cap.extra.length / 3;
    at += cap.triangles.length;
  });
  return { mesh: { positions, triangles, tags }, tags: table };
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

/** The joint halves that go into each cap. */
function halvesByCap(placed: readonly PlacedJoint[], faces: readonly MatingFace[]): Map<CapRegion, Half[]> {
  const halves = new Map<CapRegion, Half[]>();
  const add = (cap: CapRegion, half: Half): void => {
    halves.set(cap, [...(halves.get(cap) ?? []), half]);
  };
  for (const j of placed) {
    const face = j.built ? faces.find((f) => f.id === j.face) : undefined;
    if (!face) continue;
    const plusIsMale = j.male === face.pieces[1];
    add(face.caps[plusIsMale ? 1 : 0], { joint: j.id, kind: 'male', rings: j.form.male });
    add(face.caps[plusIsMale ? 0 : 1], { joint: j.id, kind: 'socket', rings: j.form.socket });
  }
  return halves;
}

function openBody(body: Body): Finding {
  const t = body.topology;
  const what = [
    t.openEdges > 0 ? `${t.openEdges} open edges` : '',
    t.nonManifoldEdges > 0 ? `${t.nonManifoldEdges} edges with more than two triangles` : '',
    t.inconsistentEdges > 0 ? `${t.inconsistentEdges} edges whose triangles face different ways` : '',
  ].filter(Boolean);
  return {
    code: 'body.open',
    severity: 'stop',
    where: { body: body.id },
    message: `${body.name} is not closed (${what.join(', ')}), so it cannot be cut or printed as a solid. It is kept whole.`,
    value: t.openEdges,
    limit: 0,
  };
}

const filmFinding = (seam: string): Finding => ({
  code: 'seam.film',
  severity: 'warn',
  where: { seam },
  message:
    'The seam lies flush with faces on both of its sides, so a film thinner than a print line stays on one of them. ' +
    'Move it a little.',
});

/** A mating face nobody has joined yet, with a pin that would fit in its roomiest place. */
function bareFaces(
  plan: Plan,
  faces: readonly MatingFace[],
  placed: readonly PlacedJoint[],
  factor: number,
): Finding[] {
  const limits = wallLimits(plan.printer);
  return faces
    .filter((f) => !placed.some((j) => j.face === f.id))
    .map((f): Finding => {
      const pole = poleOf(f.caps[0]);
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
        at: [Number((pole.u / factor).toFixed(3)), Number((pole.v / factor).toFixed(3))] as [number, number],
        shape: 'hexagon' as const,
        diameter,
        depth: diameter,
      };
      return { ...finding, mend: { label: `Add a ${mm(diameter)} pin`, change: { do: 'addJoint', joint } } };
    });
}

function tooBig(plan: Plan, piece: Piece, factor: number): Finding {
  const { over } = piece.fit;
  const axis = over.indexOf(Math.max(...over));
  const middle = (piece.box.min[axis] + piece.box.max[axis]) / 2 / factor;
  const unit = [0, 0, 0].map((_, a) => (a === axis ? 1 : 0)) as [number, number, number];
  const letter = 'xyz'[axis];
  return {
    code: 'piece.tooBig',
    severity: 'stop',
    where: { piece: piece.key },
    message: `${piece.code} does not fit the printer: it is ${mm(over[axis])} too long along ${letter}.`,
    value: piece.size[axis],
    limit: piece.size[axis] - over[axis],
    mend: {
      label: `Add a seam across ${letter} in its middle`,
      change: {
        do: 'addSeam',
        seam: {
          id: freeId('s', plan.seams),
          name: '',
          kind: 'flat',
          origin: unit.map((x) => Number((x * middle).toFixed(4))) as [number, number, number],
          normal: unit,
          enabled: true,
        },
      },
    },
  };
}

/** Bodies that reach into each other, tried with some of their vertices. */
function overlaps(bodies: readonly SizedBody[]): Finding[] {
  const findings: Finding[] = [];
  const boxes = bodies.map((b) => b.box);
  for (let i = 0; i < bodies.length; i++) {
    for (let j = i + 1; j < bodies.length; j++) {
      const apart = [0, 1, 2].some((a) => boxes[i].max[a] <= boxes[j].min[a] || boxes[j].max[a] <= boxes[i].min[a]);
      if (apart || !(reachesInto(bodies[i], bodies[j], boxes[j]) || reachesInto(bodies[j], bodies[i], boxes[i])))
        continue;
      findings.push({
        code: 'bodies.overlap',
        severity: 'stop',
        where: { body: bodies[j].body.id },
        message: `${bodies[i].body.name} and ${bodies[j].body.name} overlap, so their pieces cannot be put together.`,
      });
    }
  }
  return findings;
}

function reachesInto(a: SizedBody, b: SizedBody, box: Box): boolean {
  if (!b.body.topology.watertight) return false;
  const p = a.mesh.positions;
  const inBox: Vec3[] = [];
  for (let k = 0; k < p.length; k += 3) {
    if ([0, 1, 2].every((x) => p[k + x] > box.min[x] && p[k + x] < box.max[x])) inBox.push([p[k], p[k + 1], p[k + 2]]);
  }
  const step = Math.max(1, Math.floor(inBox.length / 64));
  for (let i = 0; i < inBox.length; i += step) if (insideSolid(b.blocks(), inBox[i])) return true;
  return false;
}

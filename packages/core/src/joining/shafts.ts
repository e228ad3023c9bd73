import { type CapRegion, closedMesh, type Frame, fromFrame, type Solid, type Triangulator } from '../cut/index.ts';
import type { Finding, Plan } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import type { Exit, JointForm } from '../joints/index.ts';
import {
  type Blocks,
  buildBlocks,
  cross,
  dot,
  type IndexedMesh,
  type Loop2,
  normalize,
  rayHits,
  sameNumbers,
  sub,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';
import { type Drilling, type MatingFace, reshapedSolid } from '../seams/index.ts';
import type { Kernel } from '../solid/index.ts';
import { hingeDrilling } from './hinge-room.ts';
import { everywhere, type FormedJoint, type JointContext, type PlacedJoint } from './model.ts';
import { ringMesh } from './rings.ts';
import { swingCutter } from './swing-room.ts';

/** A hole begins so far outside the face, and ends so far outside the skin, mm. */
const OVER = 0.05;
const CLEAR = 1;
/** Rays begin so far below a place, mm. */
const INSIDE = 1e-3;

const blocks = new WeakMap<Solid, Blocks>();
function blocksOf(solid: Solid): Blocks {
  let known = blocks.get(solid);
  if (!known) {
    known = buildBlocks(closedMesh(solid, () => 0));
    blocks.set(solid, known);
  }
  return known;
}

type Shaft = NonNullable<JointForm['shaft']>;

/** A ring of a shaft's head, moved along its axis to another height. */
function headAt({ hole, head }: Shaft, height: number): Loop2 {
  const [a, b] = [hole[0], hole[1]];
  const rise = b.height - a.height;
  const [s, t] = [0, 1].map((k) => (rise > 0 ? (b.loop[k] - a.loop[k]) / rise : 0));
  return head.loop.map((x, i) => x + (i % 2 === 0 ? s : t) * (height - head.height));
}

/** Where a shaft's head comes out of its piece, along its axis from the face. */
export function exitOf(
  { form, axis }: Pick<FormedJoint, 'form' | 'axis'>,
  frame: Frame,
  inward: 1 | -1,
  solid: Solid,
): Exit | null {
  const { shaft } = form;
  if (!shaft) return null;
  const way: Vec3 = [-axis[0], -axis[1], -axis[2]];
  const rise = Math.abs(dot(way, frame.normal));
  // where the way out meets the surface, from a height on; an edge that two triangles share is met once
  const metFrom = (loop: Loop2, i: number, height: number): number[] =>
    rayHits(blocksOf(solid), fromFrame(frame, loop[i], loop[i + 1], inward * (height + INSIDE)), way)
      .map((t) => height + INSIDE + t * rise)
      .sort((a, b) => a - b)
      .filter((t, k, list) => k === 0 || t - list[k - 1] > 1e-6);
  const { height } = shaft.head;
  const [face, seat] = [headAt(shaft, 0), shaft.head.loop];
  const outAt = (i: number): number => {
    for (const met of [metFrom(seat, i, height), metFrom(face, i, 0)]) if (met.length % 2 === 1) return met[0];
    return 0;
  };
  let [least, most] = [Infinity, 0];
  for (let i = 0; i < seat.length; i += 2) {
    const out = outAt(i);
    least = Math.min(least, out);
    most = Math.max(most, out);
  }
  const along = metFrom(middleOf(seat), 0, height);
  return { least, most: Math.max(most, along[0] ?? 0), barred: along[1] ?? null };
}

function middleOf(loop: Loop2): Loop2 {
  const sum = Float64Array.of(0, 0);
  for (let i = 0; i < loop.length; i++) sum[i % 2] += (2 * loop[i]) / loop.length;
  return sum;
}

interface DrillTools {
  readonly kernel?: Kernel;
  readonly fallback: Triangulator;
  /** called after each piece that was drilled anew; it may throw */
  readonly breath?: () => void;
}

/**
 * The solids of pieces, by their keys, with what joints take out of them down to their skin taken out by the kernel: holes of
 * screws, room to swing; and the joints where that failed, with why.
 */
export function drilledPieces(
  placed: readonly PlacedJoint[],
  faces: readonly MatingFace[],
  around: JointContext['around'],
  lapped: ReadonlyMap<string, Solid>,
  { kernel, fallback, breath }: DrillTools,
): { drilled: Map<string, Solid>; failed: Map<string, string> } {
  const drilled = new Map<string, Solid>();
  const failed = new Map<string, string>();
  const wanted = new Map<string, { solid: Solid; holes: Hole[] }>();
  const work = (joint: string, face: MatingFace, side: 0 | 1, drilling: Drilling | null): void => {
    if (!drilling) return;
    const key = face.pieces[side];
    const solid = lapped.get(key) ?? around.get(face.bodies[side])!.solids.get(key)!;
    const own = wanted.get(key) ?? { solid, holes: [] };
    wanted.set(key, own);
    own.holes.push({ joint, drilling });
  };
  for (const p of placed) {
    if (!p.built) continue;
    // what alternates share is done once
    for (const [i, a] of everywhere(p).entries()) {
      const face = faces.find((f) => f.id === a.face)!;
      const [own, other] = a.direction > 0 ? ([0, 1] as const) : ([1, 0] as const);
      if (i === 0 || a.male !== p.male) work(p.id, face, own, drillingOf(a, face, own, 'own'));
      if (i === 0 || a.socket !== p.socket) work(p.id, face, other, drillingOf(a, face, other, 'other'));
    }
  }
  for (const [key, { solid, holes }] of wanted) {
    if (!kernel) {
      for (const { joint } of holes)
        failed.set(joint, 'What it takes out of its piece needs the solid kernel, which is not loaded.');
      continue;
    }
    // all at once; where that does not do, one after the other, to tell which of them it is
    const all = drill(solid, holes, kernel, fallback, breath);
    let made = typeof all === 'string' ? solid : all;
    for (const hole of typeof all === 'string' ? holes : []) {
      const one = drill(made, [hole], kernel, fallback, breath);
      if (typeof one === 'string') failed.set(hole.joint, one);
      else made = one;
    }
    if (made !== solid) drilled.set(key, made);
  }
  return { drilled, failed };
}

/** What a joint takes off the piece on one side of its face, and adds to it; null where that is nothing. */
function drillingOf(
  { form: { shaft, swing, hinge }, exit, axis, u, v, direction }: PlacedJoint,
  face: MatingFace,
  side: 0 | 1,
  whose: 'own' | 'other',
): Drilling | null {
  const frame = face.frames[side];
  if (hinge) return hingeDrilling(hinge, face, [u, v], frame, direction, whose);
  const inward = -direction as 1 | -1;
  const meshes = [
    ...(shaft && exit ? [cutterOf({ shaft, frame, inward, end: exit.most + CLEAR })] : []),
    ...(swing ? [swingCutter(swing, face, [u, v], frame, inward)] : []),
  ];
  if (whose !== 'own' || meshes.length === 0) return null;
  return { steps: [{ does: 'take', meshes }], along: axis, across: normalize(cross(axis, frame.v)) };
}

/** What came of a solid that was drilled. */
interface Drilled {
  readonly drillings: readonly Drilling[];
  readonly made: Solid | string;
}

/** Kept by solid: what was drilled into it last, the latest at the end. */
const known = new WeakMap<Solid, Drilled[]>();
const MOST_KNOWN = 8;

/** What a joint takes out of its piece, or adds to it. */
interface Hole {
  readonly joint: string;
  readonly drilling: Drilling;
}

function drill(
  solid: Solid,
  holes: readonly Hole[],
  kernel: Kernel,
  fallback: Triangulator,
  breath?: () => void,
): Solid | string {
  const drillings = holes.map((h) => h.drilling);
  const list = known.get(solid) ?? [];
  known.set(solid, list);
  const before = list.find((d) => sameDrillings(d.drillings, drillings));
  if (before) return before.made;
  const made = drilledOnce(solid, drillings, kernel, fallback);
  if (list.length >= MOST_KNOWN) list.shift();
  list.push({ drillings, made });
  breath?.();
  return made;
}

function sameDrillings(a: readonly Drilling[], b: readonly Drilling[]): boolean {
  const meshesOf = ({ sweep, steps }: Drilling) => [...(sweep?.meshes ?? []), ...steps.flatMap((s) => s.meshes)];
  return (
    a.length === b.length &&
    a.every((d, i) => {
      const [own, other] = [meshesOf(d), meshesOf(b[i])];
      return own.length === other.length && own.every((m, k) => sameNumbers(m.positions, other[k].positions));
    })
  );
}

/** The shaft of a joint at its place, with how far it goes from the face, mm. */
interface ShaftAt {
  readonly shaft: Shaft;
  readonly frame: Frame;
  readonly inward: 1 | -1;
  readonly end: number;
}

/** What a shaft takes out, from a little before its face to beyond the skin. */
function cutterOf({ shaft, frame, inward, end }: ShaftAt): IndexedMesh {
  const { hole, head } = shaft;
  const place = (loop: Loop2, height: number): number[][] => {
    const points = Array.from({ length: loop.length / 2 }, (_, i) => [
      ...fromFrame(frame, loop[2 * i], loop[2 * i + 1], inward * height),
    ]);
    return inward > 0 ? points : points.reverse();
  };
  return ringMesh([
    place(hole[0].loop, -OVER),
    place(hole[1].loop, hole[1].height),
    place(head.loop, head.height),
    place(headAt(shaft, end), end),
  ]);
}

/** A solid after what joints take off it and add to it; why that fails, if it does. Its caps first, as they were in order. */
function drilledOnce(
  solid: Solid,
  drillings: readonly Drilling[],
  kernel: Kernel,
  fallback: Triangulator,
): Solid | string {
  const frames = new Map(solid.caps.map((c) => [c.seam, frameOfCap(solid.positions, c)]));
  try {
    const solids = reshapedSolid(solid, frames, drillings, kernel, fallback);
    if (solids.length !== 1) return 'What it takes out parts its piece.';
    const [made] = solids;
    if (made.caps.length < solid.caps.length) return 'What it takes out takes a whole face of its piece.';
    // knuckles that stand across a face part it
    const parts = made.caps.length > solid.caps.length && !drillings.some((d) => d.steps.some((s) => s.does === 'add'));
    const caps = solid.caps.map((c) =>
      made.caps.reduce((a, b) => (capsApart(solid, c, made, b) < capsApart(solid, c, made, a) ? b : a)),
    );
    if (parts || new Set(caps).size !== caps.length) return 'What it takes out runs through another face of its piece.';
    return { ...made, caps: [...caps, ...made.caps.filter((c) => !caps.includes(c))] };
  } catch (error) {
    if (error instanceof GephyraError) return error.message;
    throw error;
  }
}

/** How far the outlines' boxes of two caps are apart; without end when they lie in different planes, mm. */
function capsApart(a: Solid, capA: CapRegion, b: Solid, capB: CapRegion): number {
  if (capA.seam !== capB.seam || capA.side !== capB.side) return Infinity;
  const [p, q] = [boxOfCap(a, capA), boxOfCap(b, capB)];
  return p.reduce((sum, x, i) => sum + Math.abs(x - q[i]), 0);
}

function boxOfCap({ positions: p }: Solid, { outer }: CapRegion): number[] {
  const out = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (const v of outer) {
    for (let k = 0; k < 3; k++) {
      out[k] = Math.min(out[k], p[v * 3 + k]);
      out[k + 3] = Math.max(out[k + 3], p[v * 3 + k]);
    }
  }
  return out;
}

/** The frame in which a cap's outline was drawn: of its corners in space and in the plane those three that span most. */
function frameOfCap(p: Float64Array, { outer, outer2: l }: CapRegion): Frame {
  const n = outer.length;
  const at = (i: number): Vec3 => [p[outer[i] * 3], p[outer[i] * 3 + 1], p[outer[i] * 3 + 2]];
  const flat = (i: number): [number, number] => [l[2 * i] - l[0], l[2 * i + 1] - l[1]];
  const rest = Array.from({ length: n - 1 }, (_, i) => i + 1);
  const a = rest.reduce((x, y) => (Math.hypot(...flat(y)) > Math.hypot(...flat(x)) ? y : x));
  const [ax, ay] = flat(a);
  const spans = (i: number): number => Math.abs(ax * flat(i)[1] - ay * flat(i)[0]);
  const b = rest.reduce((x, y) => (spans(y) > spans(x) ? y : x));
  const [bx, by] = flat(b);
  const det = ax * by - ay * bx;
  const [pa, pb] = [sub(at(a), at(0)), sub(at(b), at(0))];
  const u = normalize(vecOf((k) => (by * pa[k] - ay * pb[k]) / det));
  const v = normalize(vecOf((k) => (ax * pb[k] - bx * pa[k]) / det));
  const normal = cross(u, v);
  const origin = vecOf((k) => at(0)[k] - l[0] * u[k] - l[1] * v[k]);
  return { origin, normal, u, v, offset: dot(normal, origin) };
}

/** Says that what a joint takes out of its piece could not be taken out after all. */
export const shaftFinding = (plan: Plan, id: string, message: string): Finding => ({
  code: 'joint.shaft',
  severity: 'stop',
  where: { joint: id, seam: plan.joints.find((j) => j.id === id)!.seam },
  message,
  mend: { label: 'Remove this joint', change: { do: 'removeJoint', id } },
});

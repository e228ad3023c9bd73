import type { CapRegion, Frame, Solid, Triangulator } from '../cut/index.ts';
import { GephyraError } from '../errors.ts';
import type { Carving } from '../joints/index.ts';
import { cross, dot, normalize, sameNumbers, sub, type Vec3, vecOf } from '../mesh/index.ts';
import { type MatingFace, reshapedSolid } from '../seams/index.ts';
import type { Kernel } from '../solid/index.ts';
import { everywhere, type JointContext, type PlacedJoint } from './model.ts';
import { roomPlace } from './room-place.ts';

interface CarveTools {
  readonly kernel?: Kernel;
  readonly fallback: Triangulator;
  /** called after each piece that was carved anew; it may throw */
  readonly breath?: () => void;
}

/**
 * The solids of pieces, by their keys, with the rooms of joints made of them by the kernel: holes of screws, room to swing,
 * knuckles; and the joints where that failed, with why.
 */
export function carvedPieces(
  placed: readonly PlacedJoint[],
  faces: readonly MatingFace[],
  around: JointContext['around'],
  lapped: ReadonlyMap<string, Solid>,
  { kernel, fallback, breath }: CarveTools,
): { carved: Map<string, Solid>; failed: Map<string, string> } {
  const carved = new Map<string, Solid>();
  const failed = new Map<string, string>();
  for (const [key, { solid, carvings }] of carvingsOf(placed, faces, around, lapped)) {
    if (!kernel) {
      for (const { joint } of carvings)
        failed.set(joint, 'What it takes out of its piece needs the solid kernel, which is not loaded.');
      continue;
    }
    // all at once; where that does not do, one after the other, to tell which of them it is
    const all = carve(solid, carvings, kernel, fallback, breath);
    let made = typeof all === 'string' ? solid : all;
    for (const one of typeof all === 'string' ? carvings : []) {
      const alone = carve(made, [one], kernel, fallback, breath);
      if (typeof alone === 'string') failed.set(one.joint, alone);
      else made = alone;
    }
    if (made !== solid) carved.set(key, made);
  }
  return { carved, failed };
}

/** What joints want of pieces, by their keys. */
function carvingsOf(
  placed: readonly PlacedJoint[],
  faces: readonly MatingFace[],
  around: JointContext['around'],
  lapped: ReadonlyMap<string, Solid>,
): Map<string, { solid: Solid; carvings: JointCarving[] }> {
  const wanted = new Map<string, { solid: Solid; carvings: JointCarving[] }>();
  for (const p of placed) {
    if (!p.built) continue;
    for (const [i, a] of everywhere(p).entries()) {
      const face = faces.find((f) => f.id === a.face)!;
      for (const room of a.form.rooms ?? []) {
        // what alternates share is done once
        if (i > 0 && (room.side === 'own' ? a.male === p.male : a.socket === p.socket)) continue;
        const { place, side } = roomPlace(a, face, room.side);
        const carving = room.carving(place, a.exit);
        if (!carving) continue;
        const key = face.pieces[side];
        const solid = lapped.get(key) ?? around.get(face.bodies[side])!.solids.get(key)!;
        const own = wanted.get(key) ?? { solid, carvings: [] };
        wanted.set(key, own);
        own.carvings.push({ joint: p.id, carving });
      }
    }
  }
  return wanted;
}

/** What came of a solid that was carved. */
interface Carved {
  readonly carvings: readonly Carving[];
  readonly made: Solid | string;
}

/** Kept by solid: what was made of it last, the latest at the end. */
const known = new WeakMap<Solid, Carved[]>();
const MOST_KNOWN = 8;

/** What a joint takes out of its piece, or adds to it. */
interface JointCarving {
  readonly joint: string;
  readonly carving: Carving;
}

function carve(
  solid: Solid,
  list: readonly JointCarving[],
  kernel: Kernel,
  fallback: Triangulator,
  breath?: () => void,
): Solid | string {
  const carvings = list.map((c) => c.carving);
  const last = known.get(solid) ?? [];
  known.set(solid, last);
  const before = last.find((d) => sameCarvings(d.carvings, carvings));
  if (before) return before.made;
  const made = carvedOnce(solid, carvings, kernel, fallback);
  if (last.length >= MOST_KNOWN) last.shift();
  last.push({ carvings, made });
  breath?.();
  return made;
}

function sameCarvings(a: readonly Carving[], b: readonly Carving[]): boolean {
  const meshesOf = ({ sweep, steps }: Carving) => [...(sweep?.meshes ?? []), ...steps.flatMap((s) => s.meshes)];
  return (
    a.length === b.length &&
    a.every((d, i) => {
      const [own, other] = [meshesOf(d), meshesOf(b[i])];
      return own.length === other.length && own.every((m, k) => sameNumbers(m.positions, other[k].positions));
    })
  );
}

/** A solid after what joints take off it and add to it; why that fails, if it does. Its caps first, as they were in order. */
function carvedOnce(
  solid: Solid,
  carvings: readonly Carving[],
  kernel: Kernel,
  fallback: Triangulator,
): Solid | string {
  const frames = new Map(solid.caps.map((c) => [c.seam, frameOfCap(solid.positions, c)]));
  try {
    const solids = reshapedSolid(solid, frames, carvings, kernel, fallback);
    if (solids.length !== 1) return 'What it takes out parts its piece.';
    const [made] = solids;
    if (made.caps.length < solid.caps.length) return 'What it takes out takes a whole face of its piece.';
    // knuckles that stand across a face part it
    const parts = made.caps.length > solid.caps.length && !carvings.some((d) => d.steps.some((s) => s.does === 'add'));
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

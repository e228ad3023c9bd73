import { cornersOf, eachStandsOut, passingDepth, placeOfPair, ROUNDING, trianglesCross } from '../crossing/index.ts';
import type { Solid } from '../cut/index.ts';
import type { BuiltCap } from '../joints/index.ts';
import type { IndexedMesh, Vec3 } from '../mesh/index.ts';

/** Where what a joint (or a code) makes of a piece passes through something of that piece. */
export interface Passing {
  /** the joint; empty for a code */
  readonly joint: string;
  /** the other joint; null when it is a face of the piece */
  readonly other: string | null;
  /** mm */
  readonly at: Vec3;
}

/** So many are told of a piece. */
const MOST = 20;

type Surface = Pick<IndexedMesh, 'positions' | 'triangles'>;

/** What one joint has in one cap: its walls and floors, rounded as files keep them. */
interface Feature extends Surface {
  readonly cap: number;
  readonly joint: string;
  /** it lies below its cap and hangs together with nothing */
  readonly apart: boolean;
  /** min x, y, z, max x, y, z */
  readonly box: Float64Array;
  /** a box for each triangle */
  readonly boxes: Float64Array;
}

/** Looked at before, by the caps of a piece: they are the same list for as long as none of them changes. */
const known = new WeakMap<readonly BuiltCap[], { readonly solid: Solid; readonly found: readonly Passing[] }>();

/**
 * What joints and codes of a piece pass through: another joint's walls, the piece's skin, bent faces, or another of its caps; or a
 * closed pocket that does not lie in its material. Corners are rounded to 32 bits first, as files keep them. Skin is not held
 * against skin: see `withCrossings`.
 *
 *     cap  ____    _____          the socket comes out through the skin:
 *          |   |  | |   \        found here, as a cut without booleans does not see it
 *          |___|__|_|____\
 *              |__|
 */
export function passings(solid: Solid, caps: readonly BuiltCap[]): readonly Passing[] {
  const before = known.get(caps);
  if (before?.solid === solid) return before.found;
  const features = caps.flatMap((cap, c) => featuresOf(cap, c));
  const found: Passing[] = [];
  if (features.length > 0) {
    amongEachOther(features, found);
    throughSkin(features, { positions: solid.positions, triangles: solid.triangles }, found);
    throughCaps(features, solid, caps, found);
    for (const f of features)
      if (f.apart && found.length < MOST && !liesInside(f, solid, caps, features)) found.push(outside(f));
  }
  known.set(caps, { solid, found });
  return found;
}

/** What was built into each cap. */
const builtIn = new WeakMap<BuiltCap, readonly Omit<Feature, 'cap'>[]>();

function featuresOf(cap: BuiltCap, c: number): Feature[] {
  let own = builtIn.get(cap);
  if (!own) {
    own = cap.halves.length === 0 ? [] : featuresIn(cap);
    builtIn.set(cap, own);
  }
  return own.map((f) => ({ ...f, cap: c }));
}

function featuresIn({ ids, extra, triangles, owners, halves }: BuiltCap): Omit<Feature, 'cap'>[] {
  const positions = Float64Array.from(extra, Math.fround);
  const lists = halves.map((): number[] => []);
  for (let i = 0; i < owners.length; i++) {
    if (owners[i] < 0) continue;
    for (let k = 0; k < 3; k++) lists[owners[i]].push(triangles[3 * i + k] - ids.length);
  }
  return halves.map(({ joint, kind }, h) => {
    const own = Uint32Array.from(lists[h]);
    const boxes = boxesOf(positions, own);
    return { joint, apart: kind === 'void', positions, triangles: own, boxes, box: boxAround(boxes) };
  });
}

function boxesOf(p: Float64Array, t: Uint32Array): Float64Array {
  const out = new Float64Array(2 * t.length);
  for (let i = 0; i < t.length; i += 3) {
    for (let a = 0; a < 3; a++) {
      const [x, y, z] = [p[3 * t[i] + a], p[3 * t[i + 1] + a], p[3 * t[i + 2] + a]];
      out[2 * i + a] = Math.min(x, y, z);
      out[2 * i + 3 + a] = Math.max(x, y, z);
    }
  }
  return out;
}

function boxAround(boxes: Float64Array): Float64Array {
  const out = Float64Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity);
  for (let i = 0; i < boxes.length; i += 6) {
    for (let a = 0; a < 3; a++) {
      out[a] = Math.min(out[a], boxes[i + a]);
      out[a + 3] = Math.max(out[a + 3], boxes[i + a + 3]);
    }
  }
  return out;
}

/** Whether box i of one list and box k of another meet. */
const meet = (a: Float64Array, i: number, b: Float64Array, k: number): boolean =>
  a[i] <= b[k + 3] &&
  b[k] <= a[i + 3] &&
  a[i + 1] <= b[k + 4] &&
  b[k + 1] <= a[i + 4] &&
  a[i + 2] <= b[k + 5] &&
  b[k + 2] <= a[i + 5];

/** Where a triangle of a feature passes through another by more than rounding; null where it does not. */
function passesAt(a: Surface, i: number, b: Surface, j: number): Vec3 | null {
  if (!eachStandsOut(a, i, b, j, ROUNDING) || !trianglesCross(a, i, b, j)) return null;
  const pair = [...cornersOf(a, i), ...cornersOf(b, j)];
  return passingDepth(pair) < ROUNDING ? null : placeOfPair(pair);
}

function amongEachOther(list: readonly Feature[], found: Passing[]): void {
  list.forEach((f, i) => {
    for (const g of list.slice(i + 1)) {
      if (f.joint === g.joint && f.cap === g.cap) continue;
      if (!meet(f.box, 0, g.box, 0)) continue;
      const at = firstPassing(f, g);
      if (at && found.length < MOST) found.push({ joint: g.joint, other: f.joint, at });
    }
  });
}

function firstPassing(f: Feature, g: Feature): Vec3 | null {
  for (let i = 0; i < f.boxes.length; i += 6) {
    if (!meet(f.boxes, i, g.box, 0)) continue;
    for (let k = 0; k < g.boxes.length; k += 6) {
      const at = meet(f.boxes, i, g.boxes, k) ? passesAt(f, i / 6, g, k / 6) : null;
      if (at) return at;
    }
  }
  return null;
}

/** Holds triangles of the piece against features; those on the features' own cap are left out. */
function throughSkin(
  list: readonly Feature[],
  { positions: p, triangles: t }: Surface,
  found: Passing[],
  cap = -1,
): void {
  const others = list.filter((f) => f.cap !== cap);
  if (others.length === 0) return;
  const all = boxAround(Float64Array.from(others.flatMap((f) => [...f.box])));
  const box = new Float64Array(6);
  const one = { positions: new Float64Array(9), triangles: Uint32Array.of(0, 1, 2) };
  const seen = new Set<Feature>();
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    if (beyond(p, a, b, c, all)) continue;
    for (let k = 0; k < 3; k++) {
      one.positions[k] = Math.fround(p[a + k]);
      one.positions[3 + k] = Math.fround(p[b + k]);
      one.positions[6 + k] = Math.fround(p[c + k]);
      box[k] = Math.min(one.positions[k], one.positions[3 + k], one.positions[6 + k]);
      box[k + 3] = Math.max(one.positions[k], one.positions[3 + k], one.positions[6 + k]);
    }
    for (const f of others) {
      if (seen.has(f) || !meet(f.box, 0, box, 0)) continue;
      for (let k = 0; k < f.boxes.length; k += 6) {
        const at = meet(f.boxes, k, box, 0) ? passesAt(f, k / 6, one, 0) : null;
        if (!at) continue;
        if (found.length < MOST) found.push({ joint: f.joint, other: null, at });
        seen.add(f);
        break;
      }
    }
  }
}

/** Whether a triangle lies beyond a box on one of its sides; a hair of rounding counts as near. */
function beyond(p: Float64Array, a: number, b: number, c: number, box: Float64Array): boolean {
  for (let k = 0; k < 3; k++) {
    const low = box[k] - ROUNDING;
    const high = box[k + 3] + ROUNDING;
    if (p[a + k] < low && p[b + k] < low && p[c + k] < low) return true;
    if (p[a + k] > high && p[b + k] > high && p[c + k] > high) return true;
  }
  return false;
}

function throughCaps(list: readonly Feature[], solid: Solid, caps: readonly BuiltCap[], found: Passing[]): void {
  caps.forEach((cap, c) => {
    const { positions, triangles } = faceOf(solid, cap);
    throughSkin(list, { positions, triangles }, found, c);
  });
}

/** The face of a cap beside its joints. */
function faceOf(solid: Solid, { ids, extra, triangles, owners }: BuiltCap): Surface {
  const positions = new Float64Array(3 * ids.length + extra.length);
  for (let i = 0; i < ids.length; i++)
    for (let a = 0; a < 3; a++) positions[3 * i + a] = solid.positions[3 * ids[i] + a];
  positions.set(extra, 3 * ids.length);
  const own: number[] = [];
  for (let i = 0; i < owners.length; i++) {
    if (owners[i] < 0) own.push(triangles[3 * i], triangles[3 * i + 1], triangles[3 * i + 2]);
  }
  return { positions, triangles: Uint32Array.from(own) };
}

const outside = ({ joint, box }: Feature): Passing => ({
  joint,
  other: null,
  at: [(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2],
});

/** A direction that lies along no axis. */
const RAY: Vec3 = [0.5773, 0.5011, 0.6447];

/** Whether a closed pocket lies in material that nothing else is taken out of: the surfaces round its middle, its own left out, wind once. */
function liesInside(f: Feature, solid: Solid, caps: readonly BuiltCap[], all: readonly Feature[]): boolean {
  const { at } = outside(f);
  let turns = windingOf(at, solid);
  for (const cap of caps) turns += windingOf(at, faceOf(solid, cap));
  for (const g of all) if (g !== f) turns += windingOf(at, g);
  return turns === 1;
}

/** How often a surface is left less how often it is entered along a ray from a point. Möller and Trumbore (1997). */
function windingOf([ox, oy, oz]: Vec3, { positions: p, triangles: t }: Surface): number {
  const [dx, dy, dz] = RAY;
  let turns = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const [hx, hy, hz] = [dy * vz - dz * vy, dz * vx - dx * vz, dx * vy - dy * vx];
    const det = ux * hx + uy * hy + uz * hz;
    if (det === 0) continue;
    const [sx, sy, sz] = [ox - p[a], oy - p[a + 1], oz - p[a + 2]];
    const u = (sx * hx + sy * hy + sz * hz) / det;
    if (u < 0 || u > 1) continue;
    const [qx, qy, qz] = [sy * uz - sz * uy, sz * ux - sx * uz, sx * uy - sy * ux];
    const v = (dx * qx + dy * qy + dz * qz) / det;
    if (v < 0 || u + v > 1) continue;
    if ((vx * qx + vy * qy + vz * qz) / det <= 0) continue;
    // the front of a triangle has a positive determinant: the ray enters there
    turns += det > 0 ? -1 : 1;
  }
  return turns;
}

import {
  buildTree,
  cross,
  dot,
  fineTree,
  type IndexedMesh,
  lerp,
  normalize,
  pointAlong,
  sub,
  three,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';
import { crossings } from './crossings.ts';

/** Where a body passes through itself. */
export interface Crossed {
  /** pairs of triangles that pass more than a speck through one another */
  readonly count: number;
  /** some of the places, mm */
  readonly places: readonly Vec3[];
}

/** Pairs that are counted, and those of which the places are kept. */
const COUNTED = 100_000;
const KEPT = 400;

const known = new WeakMap<IndexedMesh, Crossed>();

/**
 * The bodies with what is known of their crossings. Bodies with more than `most` triangles are left unknown: looking takes
 * some seconds a million triangles.
 */
export function withCrossings<B extends { readonly mesh: IndexedMesh; readonly crossed?: Crossed }>(
  bodies: readonly B[],
  most = Infinity,
): (B & { readonly crossed?: Crossed })[] {
  return bodies.map((body) => {
    if (!known.has(body.mesh) && body.mesh.tags.length > most) {
      const { crossed: _, ...rest } = body;
      return rest as B;
    }
    let crossed = known.get(body.mesh);
    if (!crossed) {
      crossed = crossedOf(body.mesh);
      known.set(body.mesh, crossed);
    }
    return { ...body, crossed };
  });
}

function crossedOf(mesh: IndexedMesh): Crossed {
  const tree = buildTree(mesh);
  const { pairs, triangles } = crossings(tree, tree, COUNTED, KEPT, SPECK);
  const places: Vec3[] = [];
  for (let k = 0; k < triangles.length; k += 2) {
    places.push(placeOfPair([triangles[k], triangles[k + 1]].flatMap((i) => cornersOf(mesh, i))));
  }
  return { count: pairs, places };
}

/** Triangles that pass less far through one another are the specks that sampled surfaces have, and no fault of a print, mm. */
const SPECK = 0.02;

/** The corners of a triangle. */
export const cornersOf = (
  { positions: p, triangles: t }: Pick<IndexedMesh, 'positions' | 'triangles'>,
  i: number,
): Vec3[] => [0, 1, 2].map((k) => three((c) => p[t[i * 3 + k] * 3 + c]));

/** Six corners: those of one triangle, then those of another. */
type Pair = readonly Vec3[];

const WAYS = [
  [0, 3],
  [3, 0],
] as const;

const normalOf = (pair: Pair, one: number): Vec3 =>
  normalize(cross(sub(pair[one + 1], pair[one]), sub(pair[one + 2], pair[one])));

/** How far two triangles pass through one another, at most: the lesser of what stands out on either side of either, mm. */
function depthOfPair(pair: Pair): number {
  let least = Infinity;
  for (const [one, other] of WAYS) {
    const normal = normalOf(pair, one);
    const off = vecOf((c) => dot(normal, sub(pair[other + c], pair[one])));
    least = Math.min(least, Math.max(...off), -Math.min(...off));
  }
  return least;
}

/** An end of the stretch in which two triangles meet: where an edge of one goes through the other. */
export function placeOfPair(pair: Pair): Vec3 {
  let best: Vec3 = pair[0];
  let least = Infinity;
  for (const [one, other] of WAYS) {
    const corners = three((c) => pair[one + c]);
    const n = normalOf(pair, one);
    for (let e = 0; e < 3; e++) {
      const [a, b] = [pair[other + e], pair[other + ((e + 1) % 3)]];
      const [da, db] = [dot(n, sub(a, corners[0])), dot(n, sub(b, corners[0]))];
      if (da * db >= 0) continue;
      const s = da / (da - db);
      const x: Vec3 = [a[0] + s * (b[0] - a[0]), a[1] + s * (b[1] - a[1]), a[2] + s * (b[2] - a[2])];
      // how far outside the triangle it lies; the end of the stretch lies inside
      const off = Math.max(
        ...corners.map((c, k) => -dot(cross(n, normalize(sub(corners[(k + 1) % 3], c))), sub(x, c))),
      );
      if (off < least) [best, least] = [x, off];
    }
  }
  return best;
}

/** The stretch in which two triangles that cross lie in both: its ends. */
function stretchOfPair(pair: Pair): [Vec3, Vec3] | null {
  const ends: Vec3[] = [];
  for (const [one, other] of WAYS) {
    const n = normalOf(pair, one);
    for (let e = 0; e < 3; e++) {
      const [a, b] = [pair[other + e], pair[other + ((e + 1) % 3)]];
      const [da, db] = [dot(n, sub(a, pair[one])), dot(n, sub(b, pair[one]))];
      if (da < 0 === db < 0 || da === db) continue;
      ends.push(lerp(a, b, da / (da - db)));
    }
  }
  if (ends.length < 4) return null;
  // both triangles meet the line of both planes in a stretch: what these two have in common
  const along = normalize(sub(ends[1], ends[0]));
  const at = ends.map((x) => dot(sub(x, ends[0]), along));
  const low = Math.max(Math.min(at[0], at[1]), Math.min(at[2], at[3]));
  const high = Math.min(Math.max(at[0], at[1]), Math.max(at[2], at[3]));
  return high > low ? [pointAlong(ends[0], along, low), pointAlong(ends[0], along, high)] : null;
}

/** How far a point in the plane of a triangle lies inside its edges, mm. */
function insideBy(pair: Pair, one: number, x: Vec3): number {
  const n = normalOf(pair, one);
  let least = Infinity;
  for (let e = 0; e < 3; e++) {
    const [a, b] = [pair[one + e], pair[one + ((e + 1) % 3)]];
    least = Math.min(least, dot(cross(n, normalize(sub(b, a))), sub(x, a)));
  }
  return least;
}

/**
 * How far two triangles really pass through one another, mm: the least of what stands out on either side, of how far within both they
 * meet, and of how far they would have to be moved apart. Faces that lie on each other, slivers that stick through a face like a
 * needle, and slivers of one plane, whose own normals say nothing, come to nothing.
 */
export const passingDepth = (pair: Pair): number => Math.min(depthOfPair(pair), depthWithin(pair), overlapOf(pair));

/**
 * How far two triangles have to be moved apart square to an edge of each, at the least, mm: one of the axes by which convex bodies are
 * told apart (Gottschalk, Lin and Manocha, "OBBTree", 1996).
 */
function overlapOf(pair: Pair): number {
  let least = Infinity;
  for (let i = 0; i < 3; i++) {
    for (let k = 3; k < 6; k++) {
      const own = sub(pair[(i + 1) % 3], pair[i]);
      const axis = cross(own, sub(pair[k === 5 ? 3 : k + 1], pair[k]));
      const long = Math.hypot(...axis);
      if (long < 1e-9) continue;
      const at = pair.map((x) => dot(axis, sub(x, pair[0])) / long);
      const [a, b] = [at.slice(0, 3), at.slice(3)];
      least = Math.min(least, Math.max(...a) - Math.min(...b), Math.max(...b) - Math.min(...a));
    }
  }
  return least;
}

/**
 * How far within both of two triangles that cross they meet, mm: the most that a place of the stretch they have in common lies
 * inside the edges of either, the lesser of both.
 */
function depthWithin(pair: Pair): number {
  const stretch = stretchOfPair(pair);
  if (!stretch) return 0;
  let [first, second] = [0, 0];
  for (const s of [0.1, 0.3, 0.5, 0.7, 0.9]) {
    const x = lerp(stretch[0], stretch[1], s);
    first = Math.max(first, insideBy(pair, 0, x));
    second = Math.max(second, insideBy(pair, 3, x));
  }
  return Math.min(first, second);
}

/** Triangles that pass less far through one another (`passingDepth`) are rounding, mm. */
export const ROUNDING = 1e-3;

/**
 * Where triangles with some tags pass through any other of a mesh by more than rounding: places, mm.
 * What has none of these tags is not held against itself, so it takes little time where they are few.
 */
export function passingsWithin(mesh: IndexedMesh, isMade: (tag: number) => boolean): Vec3[] {
  const made = trianglesOf(mesh, isMade);
  if (made.triangles.length === 0) return [];
  const skin = trianglesOf(mesh, (tag) => !isMade(tag));
  // faces with many joints are long, thin triangles: their tree is worth its time
  const tree = fineTree(made);
  const places: Vec3[] = [];
  for (const [other, against] of [
    [made, tree],
    [skin, buildTree(skin)],
  ] as const) {
    // all that were counted are looked at: hundreds of slivers may come before one that really passes
    const { triangles: pairs } = crossings(tree, against, COUNTED, COUNTED, ROUNDING);
    for (let k = 0; k < pairs.length; k += 2) {
      const pair = [...cornersOf(made, pairs[k]), ...cornersOf(other, pairs[k + 1])];
      if (passingDepth(pair) >= ROUNDING) places.push(placeOfPair(pair));
    }
  }
  return places;
}

/** How many triangles with some tags pass through any other of a mesh by more than rounding. */
export const passingWithin = (mesh: IndexedMesh, isMade: (tag: number) => boolean): number =>
  passingsWithin(mesh, isMade).length;

/** The triangles of a mesh whose tags are wanted, among all of its corners. */
function trianglesOf(
  { positions, triangles: t, tags }: IndexedMesh,
  isWanted: (tag: number) => boolean,
): Pick<IndexedMesh, 'positions' | 'triangles'> {
  const triangles: number[] = [];
  for (let i = 0; i < tags.length; i++) if (isWanted(tags[i])) triangles.push(t[3 * i], t[3 * i + 1], t[3 * i + 2]);
  return { positions, triangles: Uint32Array.from(triangles) };
}

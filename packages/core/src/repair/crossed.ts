import {
  buildTree,
  cross,
  dot,
  type IndexedMesh,
  normalize,
  sub,
  three,
  triangleCross,
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
  const { pairs, triangles } = crossings(tree, tree, COUNTED, KEPT);
  const places: Vec3[] = [];
  for (let k = 0; k < triangles.length; k += 2) {
    if (depth(mesh, triangles[k], triangles[k + 1]) < SPECK) continue;
    places.push(meeting(mesh, triangles[k], triangles[k + 1]));
  }
  // where not all were kept, those that were stand for the rest
  const all = triangles.length === pairs * 2;
  return { count: all || places.length === 0 ? places.length : pairs, places };
}

/** Triangles that pass less far through one another are the specks that sampled surfaces have, and no fault of a print, mm. */
const SPECK = 0.02;

/** How far two triangles pass through one another, at most: the lesser of what stands out on either side of either. */
function depth({ positions: p, triangles: t }: IndexedMesh, i: number, j: number): number {
  const at = (v: number): Vec3 => [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];
  let least = Infinity;
  for (const [one, other] of [
    [i, j],
    [j, i],
  ]) {
    const normal = normalize(triangleCross(p, t, one));
    const origin = at(t[one * 3]);
    const off = vecOf((c) => dot(normal, sub(at(t[other * 3 + c]), origin)));
    least = Math.min(least, Math.max(...off), -Math.min(...off));
  }
  return least;
}

/** An end of the stretch in which two triangles meet: where an edge of one goes through the other. */
function meeting({ positions: p, triangles: t }: IndexedMesh, i: number, j: number): Vec3 {
  const at = (k: number): Vec3 => [p[t[k] * 3], p[t[k] * 3 + 1], p[t[k] * 3 + 2]];
  let best: Vec3 = at(i * 3);
  let least = Infinity;
  for (const [one, other] of [
    [i, j],
    [j, i],
  ]) {
    const corners = three((c) => at(one * 3 + c));
    const n = normalize(triangleCross(p, t, one));
    for (let e = 0; e < 3; e++) {
      const [a, b] = [at(other * 3 + e), at(other * 3 + ((e + 1) % 3))];
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

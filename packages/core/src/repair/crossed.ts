import { buildTree, dot, type IndexedMesh, normalize, sub, triangleCross, type Vec3 } from '../mesh/index.ts';
import { crossings } from './crossings.ts';

/** Where a body passes through itself. */
export interface Crossed {
  /** pairs of triangles that pass more than a speck through one another */
  readonly count: number;
  /** some of the places, mm */
  readonly places: readonly Vec3[];
}

/** Places that are kept. */
const KEPT = 400;

const known = new WeakMap<IndexedMesh, Crossed>();

/**
 * The bodies with what is known of their crossings. Bodies with more than `most` triangles are left unknown: looking takes
 * some seconds a million triangles.
 */
export function withCrossings<B extends { readonly mesh: IndexedMesh; readonly crossed?: Crossed }>(
  bodies: readonly B[],
  most = Infinity,
): B[] {
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
  const { pairs, triangles } = crossings(tree, tree, 100_000, KEPT);
  const { positions: p, triangles: t } = mesh;
  const places: Vec3[] = [];
  for (let k = 0; k < triangles.length; k += 2) {
    if (depth(mesh, triangles[k], triangles[k + 1]) < SPECK) continue;
    const corners = [0, 1, 2].map((c) => t[triangles[k] * 3 + c] * 3);
    places.push([0, 1, 2].map((a) => corners.reduce((s, v) => s + p[v + a], 0) / 3) as unknown as Vec3);
  }
  return { count: triangles.length === pairs * 2 ? places.length : places.length && pairs, places };
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
    const off = [0, 1, 2].map((c) => dot(normal, sub(at(t[other * 3 + c]), origin)));
    least = Math.min(least, Math.max(...off), -Math.min(...off));
  }
  return least;
}

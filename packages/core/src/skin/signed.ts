import {
  fineTree,
  halfEdges,
  type IndexedMesh,
  type Nearest,
  nearest,
  nextHalf,
  noPlace,
  normalize,
  OPEN,
  type Tree,
  triangleCross,
} from '../mesh/index.ts';

/** A surface with what tells its two sides apart. */
export interface Sided {
  readonly tree: Tree;
  readonly mesh: IndexedMesh;
  /** xyz a triangle, of unit length */
  readonly faceNormals: Float64Array;
  /** xyz a half-edge: the normals of both its triangles together */
  readonly edgeNormals: Float64Array;
  /** xyz a vertex: the normals of its triangles, each by its angle there */
  readonly vertexNormals: Float64Array;
  /** 1 for half-edges, and for vertices, at which the surface ends */
  readonly openEdge: Uint8Array;
  readonly openVertex: Uint8Array;
}

/** Prepares a surface whose triangles agree about what is outside. */
export function sided(mesh: IndexedMesh): Sided {
  const { positions: p, triangles: t, tags } = mesh;
  const { twin } = halfEdges(mesh);
  const faceNormals = new Float64Array(tags.length * 3);
  const edgeNormals = new Float64Array(t.length * 3);
  const vertexNormals = new Float64Array(p.length);
  const openEdge = new Uint8Array(t.length);
  const openVertex = new Uint8Array(p.length / 3);
  for (let i = 0; i < tags.length; i++) faceNormals.set(normalize(triangleCross(p, t, i)), i * 3);
  for (let h = 0; h < t.length; h++) {
    const i = Math.floor(h / 3);
    const g = twin[h];
    const j = g >= 0 ? Math.floor(g / 3) : i;
    for (let a = 0; a < 3; a++) edgeNormals[h * 3 + a] = faceNormals[i * 3 + a] + faceNormals[j * 3 + a];
    if (g === OPEN) {
      openEdge[h] = 1;
      openVertex[t[h]] = 1;
      openVertex[t[nextHalf(h)]] = 1;
    }
    const angle = cornerAngle(p, t, h);
    for (let a = 0; a < 3; a++) vertexNormals[t[h] * 3 + a] += faceNormals[i * 3 + a] * angle;
  }
  return { tree: fineTree(mesh), mesh, faceNormals, edgeNormals, vertexNormals, openEdge, openVertex };
}

function cornerAngle(p: Float64Array, t: Uint32Array, h: number): number {
  const o = t[h] * 3;
  const b = t[nextHalf(h)] * 3;
  const c = t[nextHalf(nextHalf(h))] * 3;
  const ux = p[b] - p[o];
  const uy = p[b + 1] - p[o + 1];
  const uz = p[b + 2] - p[o + 2];
  const vx = p[c] - p[o];
  const vy = p[c + 1] - p[o + 1];
  const vz = p[c + 2] - p[o + 2];
  const l = Math.hypot(ux, uy, uz) * Math.hypot(vx, vy, vz);
  return l > 0 ? Math.acos(Math.max(-1, Math.min(1, (ux * vx + uy * vy + uz * vz) / l))) : 0;
}

/** What was found of a point: the nearest place, the signed distance, and how it lies to the rim where the surface ends. */
export interface SidedPlace extends Nearest {
  /** positive outside, mm; ±reach when nothing is within it (the sign is then meaningless) */
  distance: number;
  /** the nearest place is on the rim; then `along` is the distance along the rim's normal and `beyond` the one past it */
  rim: boolean;
  along: number;
  beyond: number;
}

export const noSidedPlace = (): SidedPlace => ({ ...noPlace(), distance: 0, rim: false, along: 0, beyond: 0 });

/**
 * Distance with its sign by the normal of the nearest face, edge or vertex (Bærentzen and Aanæs, "Signed distance
 * computation using the angle weighted pseudonormal", 2005).
 */
export function signedDistance(s: Sided, x: number, y: number, z: number, reach: number, out: SidedPlace): void {
  nearest(s.tree, x, y, z, reach * reach, out, out.triangle);
  out.rim = false;
  if (out.triangle < 0) {
    out.distance = reach;
    return;
  }
  const { triangles: t } = s.mesh;
  let normals = s.faceNormals;
  let k = out.triangle * 3;
  if (out.feature < 3) {
    const v = t[out.triangle * 3 + out.feature];
    normals = s.vertexNormals;
    k = v * 3;
    out.rim = s.openVertex[v] === 1;
  } else if (out.feature < 6) {
    const h = out.triangle * 3 + out.feature - 3;
    normals = s.edgeNormals;
    k = h * 3;
    out.rim = s.openEdge[h] === 1;
  }
  const nx = normals[k];
  const ny = normals[k + 1];
  const nz = normals[k + 2];
  const side = (x - out.x) * nx + (y - out.y) * ny + (z - out.z) * nz;
  const d = Math.sqrt(out.squared);
  out.distance = side < 0 ? -d : d;
  if (!out.rim) return;
  const l = Math.hypot(nx, ny, nz) || 1;
  out.along = side / l;
  out.beyond = Math.sqrt(Math.max(0, out.squared - out.along * out.along));
}

/** The normals by which a place's side is told, and where its own is among them. */
function normalOf(s: Sided, { triangle, feature }: Nearest): { readonly of: Float64Array; readonly at: number } {
  if (feature < 3) return { of: s.vertexNormals, at: s.mesh.triangles[triangle * 3 + feature] * 3 };
  if (feature < 6) return { of: s.edgeNormals, at: (triangle * 3 + feature - 3) * 3 };
  return { of: s.faceNormals, at: triangle * 3 };
}

/** Nearer than this to the surface the way from it says nothing, mm. */
const TOUCHING = 1e-7;

/** Where the distance to a surface rises at a point, times `sign`: away from its nearest place, or along that one's normal. Unit. */
export function riseAcross(
  s: Sided,
  place: SidedPlace,
  x: number,
  y: number,
  z: number,
  sign: 1 | -1,
  out: Float64Array,
): void {
  const d = Math.sqrt(place.squared);
  if (d > TOUCHING && !place.rim) {
    const k = place.distance < 0 ? -sign / d : sign / d;
    out[0] = (x - place.x) * k;
    out[1] = (y - place.y) * k;
    out[2] = (z - place.z) * k;
    return;
  }
  const { of, at } = normalOf(s, place);
  const k = sign / (Math.hypot(of[at], of[at + 1], of[at + 2]) || 1);
  for (let a = 0; a < 3; a++) out[a] = of[at + a] * k;
}

/** Where a point whose nearest place is on the rim goes on past it: square to the rim's normal, away from the surface. Unit. */
export function riseBeyond(s: Sided, place: SidedPlace, x: number, y: number, z: number, out: Float64Array): void {
  const { of, at } = normalOf(s, place);
  const l = Math.hypot(of[at], of[at + 1], of[at + 2]) || 1;
  const n = [of[at] / l, of[at + 1] / l, of[at + 2] / l];
  const r = [x - place.x - n[0] * place.along, y - place.y - n[1] * place.along, z - place.z - n[2] * place.along];
  const far = Math.hypot(r[0], r[1], r[2]);
  if (far > TOUCHING) {
    for (let a = 0; a < 3; a++) out[a] = r[a] / far;
    return;
  }
  // on the rim itself: square to the rim's edge as well
  const { positions: p, triangles: t } = s.mesh;
  const h = place.triangle * 3 + (place.feature < 6 && place.feature >= 3 ? place.feature - 3 : 0);
  const [i, j] = [t[h] * 3, t[nextHalf(h)] * 3];
  const e = [p[j] - p[i], p[j + 1] - p[i + 1], p[j + 2] - p[i + 2]];
  const c = [e[1] * n[2] - e[2] * n[1], e[2] * n[0] - e[0] * n[2], e[0] * n[1] - e[1] * n[0]];
  const length = Math.hypot(c[0], c[1], c[2]) || 1;
  for (let a = 0; a < 3; a++) out[a] = c[a] / length;
}

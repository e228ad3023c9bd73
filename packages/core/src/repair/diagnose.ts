import { type Body, isClosed } from '../body/index.ts';
import { crossings } from '../crossing/index.ts';
import {
  boxOf,
  buildTree,
  halfEdges,
  type IndexedMesh,
  nextHalf,
  type Shells,
  shells,
  sizeOf,
  splitBy,
  three,
  type Vec3,
  vecOf,
  vertexAt,
  volume,
} from '../mesh/index.ts';
import { duplicateTriangles } from './duplicates.ts';
import { cornerFans, touchingVertices } from './fans.ts';
import { holesOf } from './holes.ts';

/** What can be wrong with a surface. */
export const DEFECTS = [
  'holes',
  'openings',
  'openEdges',
  'nonManifoldEdges',
  'nonManifoldVertices',
  'inconsistent',
  'inverted',
  'duplicates',
  'degenerate',
  'selfCrossings',
  'dust',
  'overlaps',
] as const;
export type DefectKind = (typeof DEFECTS)[number];

/** Where to look: a point and how much around it, mm. `value` is a hole's perimeter, a shell's size … */
export interface Place {
  readonly at: Vec3;
  readonly radius: number;
  readonly value?: number;
}

export interface Defect {
  readonly kind: DefectKind;
  readonly count: number;
  /** the worst first, at most PLACES */
  readonly places: readonly Place[];
}

/** The health of one body. */
export interface Health {
  readonly body: string;
  readonly closed: boolean;
  readonly triangles: number;
  readonly shells: number;
  /** closed shells that enclose a hollow of the body */
  readonly cavities: number;
  readonly defects: readonly Defect[];
  /** whether self-crossings were looked for, and to the end */
  readonly crossingsTested: boolean;
}

const PLACES = 200;

/** A triangle whose height is below this share of the model's size, or whose corners lie in line, has no area worth the name. */
const FLAT = 1e-9;

/** A shell below this share of the model's size is dust. */
const DUST = 0.01;

/**
 * Looks for everything that keeps a body from being a clean solid. `crossing` also looks for triangles that pass through
 * one another, which takes longest. `modelSize` is the diagonal of the whole model, mm. Linear in the triangles but for
 * the crossings.
 */
export function diagnose(body: Body, options: { crossing: boolean; modelSize: number }): Health {
  const { mesh } = body;
  const size = Math.hypot(...sizeOf(boxOf(mesh.positions)));
  const half = halfEdges(mesh);
  const found = shells(mesh);
  const defects: Defect[] = [];
  const add = (kind: DefectKind, count: number, places: Place[]): void => {
    if (count > 0) defects.push({ kind, count, places: places.slice(0, PLACES) });
  };
  if (half.openCount > 0) {
    const { holes, loose } = holesOf(mesh, half, size);
    const place = (h: (typeof holes)[number]): Place => ({ at: h.centre, radius: h.radius, value: h.perimeter });
    const own = holes.filter((h) => !h.opening);
    add('holes', own.length, own.map(place));
    add('openings', holes.length - own.length, holes.filter((h) => h.opening).map(place));
    add('openEdges', half.openCount, loose > 0 || holes.length === 0 ? edgePlaces(mesh, half.twin) : holes.map(place));
  }
  add(
    'nonManifoldEdges',
    half.crowded.length,
    half.crowded.map((list) => edgePlace(mesh, list[0])),
  );
  const { triangles: t } = mesh;
  // vertices on edges of more than two triangles are reported with the edge
  const onCrowded = new Set(half.crowded.flatMap(([h]) => [t[h], t[nextHalf(h)]]));
  const touching = touchingVertices(mesh, cornerFans(mesh, half)).filter((v) => !onCrowded.has(v));
  add(
    'nonManifoldVertices',
    touching.length,
    touching.map((v) => ({ at: vertexAt(mesh.positions, v), radius: size / 100 })),
  );
  if (half.sameWay > 0) add('inconsistent', half.sameWay, sameWayPlaces(mesh, half.twin));
  const twins = duplicateTriangles(mesh);
  add(
    'duplicates',
    twins.same + twins.backToBack,
    twins.list.map((i) => trianglePlace(mesh, i)),
  );
  const flat = flatTriangles(mesh, size * FLAT);
  add(
    'degenerate',
    flat.length,
    flat.map((i) => trianglePlace(mesh, i)),
  );
  const sorted = sortShells(mesh, found, half.openCount === 0, options.modelSize * DUST);
  add('inverted', sorted.inverted.length, sorted.inverted);
  add('dust', sorted.dust.length, sorted.dust);
  let crossingsTested = false;
  if (options.crossing) {
    const tree = buildTree(mesh);
    const hit = crossings(tree, tree);
    const places: Place[] = [];
    for (let k = 0; k < hit.triangles.length && places.length < PLACES; k += 2)
      places.push(trianglePlace(mesh, hit.triangles[k]));
    add('selfCrossings', hit.pairs, places);
    crossingsTested = !hit.more;
  }
  return {
    body: body.id,
    closed: isClosed(body),
    triangles: mesh.tags.length,
    shells: found.count,
    cavities: sorted.cavities,
    defects,
    crossingsTested,
  };
}

function edgePlace(mesh: IndexedMesh, h: number): Place {
  const a = vertexAt(mesh.positions, mesh.triangles[h]);
  const b = vertexAt(mesh.positions, mesh.triangles[nextHalf(h)]);
  return {
    at: vecOf((k) => (a[k] + b[k]) / 2),
    radius: Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) / 2,
  };
}

function edgePlaces(mesh: IndexedMesh, twin: Int32Array): Place[] {
  const out: Place[] = [];
  for (let h = 0; h < twin.length && out.length < PLACES; h++) if (twin[h] === -1) out.push(edgePlace(mesh, h));
  return out;
}

function sameWayPlaces(mesh: IndexedMesh, twin: Int32Array): Place[] {
  const { triangles: t } = mesh;
  const out: Place[] = [];
  for (let h = 0; h < twin.length && out.length < PLACES; h++) {
    if (twin[h] > h && t[twin[h]] === t[h]) out.push(edgePlace(mesh, h));
  }
  return out;
}

function trianglePlace(mesh: IndexedMesh, i: number): Place {
  const corners = three((c) => vertexAt(mesh.positions, mesh.triangles[i * 3 + c]));
  const at = vecOf((k) => (corners[0][k] + corners[1][k] + corners[2][k]) / 3);
  const radius = Math.max(...corners.map((c) => Math.hypot(c[0] - at[0], c[1] - at[1], c[2] - at[2])));
  return { at, radius };
}

/** Triangles lower than `height`, mm. */
export function flatTriangles({ positions: p, triangles: t, tags }: IndexedMesh, height: number): number[] {
  const out: number[] = [];
  for (let i = 0; i < tags.length; i++) if (heightOf(p, t, i) <= height) out.push(i);
  return out;
}

/** The least height of a triangle: twice its area by its longest side. */
function heightOf(p: Float64Array, t: Uint32Array, i: number): number {
  const a = t[i * 3] * 3;
  const b = t[i * 3 + 1] * 3;
  const c = t[i * 3 + 2] * 3;
  const ux = p[b] - p[a];
  const uy = p[b + 1] - p[a + 1];
  const uz = p[b + 2] - p[a + 2];
  const vx = p[c] - p[a];
  const vy = p[c + 1] - p[a + 1];
  const vz = p[c + 2] - p[a + 2];
  const x = uy * vz - uz * vy;
  const y = uz * vx - ux * vz;
  const z = ux * vy - uy * vx;
  const wx = vx - ux;
  const wy = vy - uy;
  const wz = vz - uz;
  const longest = Math.max(ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz, wx * wx + wy * wy + wz * wz);
  return longest > 0 ? Math.sqrt((x * x + y * y + z * z) / longest) : 0;
}

/** Sorts the shells of a body: hollows, shells inside out, and dust. A hollow is never dust. */
function sortShells(
  mesh: IndexedMesh,
  found: Shells,
  closed: boolean,
  dustSize: number,
): { cavities: number; inverted: Place[]; dust: Place[] } {
  const parts = found.count === 1 ? [mesh] : splitBy(mesh, found.ofTriangle, found.count);
  let cavities = 0;
  const inverted: Place[] = [];
  const dust: Place[] = [];
  for (const part of parts) {
    const inside = closed && volume(part) < 0;
    if (inside && found.count === 1) inverted.push(boxPlace(part));
    else if (inside) cavities++;
    else if (Math.hypot(...sizeOf(boxOf(part.positions))) < dustSize) dust.push(boxPlace(part));
  }
  return { cavities, inverted, dust };
}

function boxPlace(mesh: IndexedMesh): Place {
  const box = boxOf(mesh.positions);
  const extent = Math.hypot(...sizeOf(box));
  return {
    at: vecOf((k) => (box.min[k] + box.max[k]) / 2),
    radius: extent / 2,
    value: extent,
  };
}

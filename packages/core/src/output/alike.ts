import type { Plan } from '../document/index.ts';
import { type Evaluation, type Piece, pieceMesh } from '../evaluate/index.ts';
import {
  type Affine,
  affineOf,
  buildTree,
  cross,
  distanceTo,
  dot,
  type IndexedMesh,
  mapPoint,
  normalize,
  perAxis,
  principalAxes,
  type Tree,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';
import { isWall, tagsOf } from '../seams/index.ts';

/** Pieces that are one file. */
export interface AlikeGroup {
  /** the piece whose file it is; the others are it turned and moved, or its mirror image */
  readonly first: string;
  readonly same: readonly string[];
  readonly mirrored: readonly string[];
  /** largest distance between one of them and the first when laid on it, mm */
  readonly deviation: number;
}

/** The piece whose file a piece is made from, and whether mirrored. */
export interface SharedFile {
  readonly of: string;
  readonly mirrored: boolean;
}

/**
 * By piece: the other piece whose file it is made from, because they are equal (`groups`) or because the maker says so. A
 * copy of a copy comes from the first; pieces that are declared copies of each other in a ring are made each by itself.
 */
export function sharedFiles(
  e: Pick<Evaluation, 'pieces'>,
  groups: readonly AlikeGroup[],
  notes: Plan['pieces'],
): Map<string, SharedFile> {
  const direct = new Map<string, SharedFile>();
  for (const { first, same, mirrored } of groups) {
    for (const key of same) direct.set(key, { of: first, mirrored: false });
    for (const key of mirrored) direct.set(key, { of: first, mirrored: true });
  }
  const keys = new Set(e.pieces.map((p) => p.key));
  for (const { key, copyOf } of notes) {
    if (copyOf && keys.has(key) && keys.has(copyOf.key)) direct.set(key, { of: copyOf.key, mirrored: copyOf.mirrored });
  }
  const out = new Map<string, SharedFile>();
  for (const key of direct.keys()) {
    const seen = new Set([key]);
    let of = key;
    let mirrored = false;
    for (let next = direct.get(of); next; next = direct.get(of)) {
      of = next.of;
      mirrored = mirrored !== next.mirrored;
      if (seen.has(of)) break;
      seen.add(of);
    }
    // the way ended at a piece with a file of its own
    if (!direct.has(of)) out.set(key, { of, mirrored });
  }
  return out;
}

/** Points of a piece that are laid on another. */
const SAMPLES = 400;

/** Kept from one run to the next: what is known of a piece, by its solid and caps. */
const sketches = new WeakMap<object, { caps: Piece['caps']; sketch: Sketch }>();

/**
 * Finds equal pieces and mirror twins within a tolerance in mm, however they lie. Pieces of like volume, surface and spread
 * are laid on each other by their principal axes and by their caps, and held together both ways, surface against surface.
 */
export function alikePieces(e: Evaluation, tolerance: number): AlikeGroup[] {
  const search = alikeSearch(e, tolerance);
  for (;;) {
    const step = search.next();
    if (step.done) return step.value;
  }
}

/** The same search, which stops after every piece, so that others get their turn. */
export function* alikeSearch(e: Evaluation, tolerance: number): Generator<void, AlikeGroup[]> {
  const groups: { first: Sketch; same: string[]; mirrored: string[]; deviation: number }[] = [];
  for (const piece of e.pieces.filter((p) => hasLike(p, e.pieces, tolerance))) {
    yield;
    const own = sketchOf(piece);
    let best: { group: (typeof groups)[number]; mirrored: boolean; deviation: number } | null = null;
    for (const group of groups) {
      if (!mayBeAlike(group.first, own, tolerance)) continue;
      for (const mirrored of [false, true]) {
        const deviation = deviationOf(group.first, own, mirrored, tolerance);
        if (deviation <= tolerance && (!best || deviation < best.deviation)) best = { group, mirrored, deviation };
        if (best && !mirrored) break;
      }
      if (best) break;
    }
    if (!best) groups.push({ first: own, same: [], mirrored: [], deviation: 0 });
    else {
      (best.mirrored ? best.group.mirrored : best.group.same).push(piece.key);
      best.group.deviation = Math.max(best.group.deviation, best.deviation);
    }
  }
  return groups
    .filter((g) => g.same.length + g.mirrored.length > 0)
    .map(({ first, ...rest }) => ({ first: first.key, ...rest }));
}

/** Whether another piece has about the same volume: without one there is nothing to look at. */
function hasLike(piece: Piece, all: readonly Piece[], tolerance: number): boolean {
  const [x, y, z] = piece.size;
  // a wrinkled skin may have a few times the surface of its box
  const skin = 8 * (x * y + y * z + z * x) * tolerance + 1e-6 * piece.volume;
  return all.some((p) => p !== piece && Math.abs(p.volume - piece.volume) <= skin);
}

/** How far two pieces differ at most when laid on each other as well as it goes, mm. */
export function pieceDeviation(a: Piece, b: Piece, mirrored: boolean): number {
  return deviationOf(sketchOf(a), sketchOf(b), mirrored, Infinity);
}

interface Sketch {
  readonly key: string;
  readonly mesh: IndexedMesh;
  /** the palette's entries on its skin: pieces of other colours are no copies */
  readonly paint: string;
  readonly volume: number;
  readonly area: number;
  readonly centre: Vec3;
  /** unit, right-handed; by falling spread */
  readonly axes: readonly [Vec3, Vec3, Vec3];
  /** root mean square distance from the centre along each axis, mm */
  readonly spread: Vec3;
  readonly samples: readonly Vec3[];
  readonly caps: readonly { readonly centre: Vec3; readonly normal: Vec3; readonly area: number }[];
  tree?: Tree;
}

function sketchOf(piece: Piece): Sketch {
  const known = sketches.get(piece.solid);
  if (
    known &&
    known.sketch.key === piece.key &&
    known.caps.length === piece.caps.length &&
    known.caps.every((c, i) => c === piece.caps[i])
  ) {
    return known.sketch;
  }
  const { mesh } = pieceMesh(piece);
  const { area, centre, covariance } = surfaceMoments(mesh);
  const { axes, spread } = principal(covariance, area);
  const step = Math.max(1, Math.floor(mesh.positions.length / 3 / SAMPLES));
  const samples: Vec3[] = [];
  for (let v = 0; v < mesh.positions.length / 3; v += step) samples.push(at(mesh.positions, v));
  const paint = [...tagsOf(piece.solid)]
    .filter((t) => !isWall(t))
    .sort((a, b) => a - b)
    .join();
  const caps = piece.solid.caps.map((c) => capOf(piece.solid.positions, c.triangles));
  const sketch: Sketch = {
    key: piece.key,
    mesh,
    paint,
    volume: piece.volume,
    area,
    centre,
    axes,
    spread,
    samples,
    caps,
  };
  sketches.set(piece.solid, { caps: piece.caps, sketch });
  return sketch;
}

const at = (p: Float64Array, v: number): Vec3 => [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];

/** Area, middle and second moments of a surface, about its middle. */
function surfaceMoments({ positions: p, triangles: t }: Pick<IndexedMesh, 'positions' | 'triangles'>) {
  const [ox, oy, oz] = at(p, t[0]);
  let area = 0;
  let [sx, sy, sz] = [0, 0, 0];
  let [xx, xy, xz, yy, yz, zz] = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < t.length; i += 3) {
    const a = t[i] * 3;
    const b = t[i + 1] * 3;
    const c = t[i + 2] * 3;
    const [ax, ay, az] = [p[a] - ox, p[a + 1] - oy, p[a + 2] - oz];
    const [bx, by, bz] = [p[b] - ox, p[b + 1] - oy, p[b + 2] - oz];
    const [cx, cy, cz] = [p[c] - ox, p[c + 1] - oy, p[c + 2] - oz];
    const nx = (by - ay) * (cz - az) - (bz - az) * (cy - ay);
    const ny = (bz - az) * (cx - ax) - (bx - ax) * (cz - az);
    const nz = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    const w = Math.sqrt(nx * nx + ny * ny + nz * nz) / 2;
    const tx = ax + bx + cx;
    const ty = ay + by + cy;
    const tz = az + bz + cz;
    area += w;
    sx += (w * tx) / 3;
    sy += (w * ty) / 3;
    sz += (w * tz) / 3;
    const k = w / 12;
    xx += k * (ax * ax + bx * bx + cx * cx + tx * tx);
    xy += k * (ax * ay + bx * by + cx * cy + tx * ty);
    xz += k * (ax * az + bx * bz + cx * cz + tx * tz);
    yy += k * (ay * ay + by * by + cy * cy + ty * ty);
    yz += k * (ay * az + by * bz + cy * cz + ty * tz);
    zz += k * (az * az + bz * bz + cz * cz + tz * tz);
  }
  const [mx, my, mz] = [sx / area, sy / area, sz / area];
  const covariance = Float64Array.of(
    xx - area * mx * mx,
    xy - area * mx * my,
    xz - area * mx * mz,
    xy - area * mx * my,
    yy - area * my * my,
    yz - area * my * mz,
    xz - area * mx * mz,
    yz - area * my * mz,
    zz - area * mz * mz,
  );
  return { area, centre: [mx + ox, my + oy, mz + oz] as Vec3, covariance };
}

/** Right-handed principal axes of a surface, and how far it spreads along each. */
function principal(covariance: Float64Array, area: number): Pick<Sketch, 'axes' | 'spread'> {
  const { axes, values } = principalAxes(covariance);
  const [a, b] = axes;
  const spread = perAxis(values, (x) => Math.sqrt(Math.max(0, x / area)));
  return { axes: [a, b, cross(a, b)], spread };
}

function capOf(p: Float64Array, triangles: Uint32Array): Sketch['caps'][number] {
  const { area, centre } = surfaceMoments({ positions: p, triangles });
  let n: Vec3 = [0, 0, 0];
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [at(p, triangles[i]), at(p, triangles[i + 1]), at(p, triangles[i + 2])];
    const u = b.map((x, k) => x - a[k]);
    const v = c.map((x, k) => x - a[k]);
    n = [n[0] + u[1] * v[2] - u[2] * v[1], n[1] + u[2] * v[0] - u[0] * v[2], n[2] + u[0] * v[1] - u[1] * v[0]];
  }
  return { centre, normal: normalize(n), area };
}

/** Cheap measures first: the tolerance lets volumes differ by what a skin of that thickness holds, and spreads by a few of it. */
function mayBeAlike(a: Sketch, b: Sketch, tolerance: number): boolean {
  if (a.paint !== b.paint) return false;
  const skin = Math.max(a.area, b.area) * tolerance;
  if (Math.abs(a.volume - b.volume) > skin + 1e-6 * a.volume) return false;
  return a.spread.every((s, k) => Math.abs(s - b.spread[k]) <= 4 * tolerance + 1e-4 * s);
}

/** The least largest distance over all ways that are tried to lay b on a; may stop above `enough`. */
function deviationOf(a: Sketch, b: Sketch, mirrored: boolean, enough: number): number {
  let best = Infinity;
  for (const map of placements(a, b, mirrored)) {
    const limit = Math.min(best, enough === Infinity ? Infinity : enough * 4);
    const there = farthestFrom(b.samples, map, treeOf(a), limit);
    if (there >= best) continue;
    const back = farthestFrom(a.samples, inverseOf(map), treeOf(b), Math.min(limit, best));
    best = Math.min(best, Math.max(there, back));
    if (best <= enough / 10) break;
  }
  return best;
}

function treeOf(s: Sketch): Tree {
  s.tree ??= buildTree(s.mesh);
  return s.tree;
}

/** How far the farthest of some points is from a surface, mm; no farther than `limit` is looked. */
function farthestFrom(points: readonly Vec3[], map: Affine, tree: Tree, limit: number): number {
  let worst = 0;
  for (const p of points) {
    worst = Math.max(worst, distanceTo(tree, mapPoint(map, p), limit));
    if (worst >= limit) break;
  }
  return worst;
}

type Triad = readonly [Vec3, Vec3, Vec3];

/** Rigid maps that lay b on a, or its mirror image: by principal axes, and cap on cap. */
function* placements(a: Sketch, b: Sketch, mirrored: boolean): Generator<Affine> {
  for (const flips of [
    [1, 1],
    [1, -1],
    [-1, 1],
    [-1, -1],
  ]) {
    const third = flips[0] * flips[1] * (mirrored ? -1 : 1);
    yield layOn(b.centre, b.axes, a.centre, [
      scaled(a.axes[0], flips[0]),
      scaled(a.axes[1], flips[1]),
      scaled(a.axes[2], third),
    ]);
  }
  for (const from of b.caps) {
    for (const to of a.caps) {
      if (Math.abs(from.area / to.area - 1) > 0.02) continue;
      const tb = triadOf(from, b);
      const ta = triadOf(to, a);
      if (!tb || !ta) continue;
      yield layOn(from.centre, tb, to.centre, mirrored ? [ta[0], ta[1], scaled(ta[2], -1)] : ta);
    }
  }
}

const scaled = (v: Vec3, s: number): Vec3 => [v[0] * s, v[1] * s, v[2] * s];

/** Axes of a cap: its normal, and the way to the middle of the piece along the cap; null where that is nothing. */
function triadOf(cap: Sketch['caps'][number], { centre, spread }: Sketch): Triad | null {
  const n = cap.normal;
  const d: Vec3 = [centre[0] - cap.centre[0], centre[1] - cap.centre[1], centre[2] - cap.centre[2]];
  const h = dot(d, n);
  const along: Vec3 = [d[0] - h * n[0], d[1] - h * n[1], d[2] - h * n[2]];
  if (Math.hypot(...along) < 0.01 * spread[0]) return null;
  const u = normalize(along);
  return [n, u, [n[1] * u[2] - n[2] * u[1], n[2] * u[0] - n[0] * u[2], n[0] * u[1] - n[1] * u[0]]];
}

/** The map that takes a place and axes onto others. */
function layOn(from: Vec3, axes: Triad, to: Vec3, onto: Triad): Affine {
  return affineOf((r) => {
    const row = vecOf((c) => axes.reduce((sum, axis, k) => sum + onto[k][r] * axis[c], 0));
    return [...row, to[r] - (row[0] * from[0] + row[1] * from[1] + row[2] * from[2])];
  });
}

/** The way back of a rigid map: its rotation turned over. */
function inverseOf(m: Affine): Affine {
  return affineOf((r) => [m[r], m[4 + r], m[8 + r], -(m[r] * m[3] + m[4 + r] * m[7] + m[8 + r] * m[11])]);
}

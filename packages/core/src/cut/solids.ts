import { bounds, buildBlocks, find, insideSolid, renumbering, unite, type Vec3 } from '../mesh/index.ts';
import type { Cell } from './cell.ts';
import type { Frame } from './frame.ts';
import { type Region, regionsOf } from './regions.ts';
import { type Triangulator, triangulate } from './triangulate.ts';

/** A flat region that closes a solid, triangulated on vertices of the solid. */
export interface CapRegion extends Region {
  /** vertex indices of the solid, counter-clockwise seen from outside the solid */
  readonly triangles: Uint32Array;
}

/** One connected solid: skin triangles plus caps. Cavities inside it belong to it. */
export interface Solid {
  readonly positions: Float64Array;
  /** skin only */
  readonly triangles: Uint32Array;
  readonly tags: Uint32Array;
  readonly caps: readonly CapRegion[];
}

/**
 * Splits a cell into its connected solids and closes their caps.
 *
 * Two solids are connected when they share a vertex, or a cap region joins their skins. A shell that is inside out (a
 * cavity) goes to the solid around it.
 */
export function solidsOf(cell: Cell, frames: ReadonlyMap<string, Frame>, fallback: Triangulator): Solid[] {
  const regions = cell.caps.flatMap((cap) => regionsOf(cell, cap, frames.get(cap.seam)!));
  const { positions: p, triangles: t } = cell;
  const n = p.length / 3;
  const parent = new Uint32Array(n);
  for (let v = 0; v < n; v++) parent[v] = v;
  joinCorners(parent, t);
  for (const r of regions) {
    for (const v of r.outer) unite(parent, r.outer[0], v);
    for (const h of r.holes) for (const v of h) unite(parent, r.outer[0], v);
  }
  const group = new Int32Array(n);
  let count = 0;
  for (let v = 0; v < n; v++) if (parent[v] === v) group[v] = count++;
  const groupOf = (v: number): number => group[find(parent, v)];
  if (count === 1) return [close(cell, regions, fallback)];

  const triangleGroups = Array.from({ length: count }, () => [] as number[]);
  for (let i = 0; i < t.length; i += 3) triangleGroups[groupOf(t[i])].push(i / 3);
  const regionGroups = Array.from({ length: count }, () => [] as Region[]);
  for (const r of regions) regionGroups[groupOf(r.outer[0])].push(r);
  const parts = triangleGroups.map((list, g) => closeCell(extract(cell, list, regionGroups[g]), frames, fallback));
  const volumes = new Map(parts.map((s) => [s, solidVolume(s)]));
  const solids = parts.filter((s) => volumes.get(s)! > 0).sort((a, b) => volumes.get(a)! - volumes.get(b)!);
  const cavities = parts.filter((s) => volumes.get(s)! <= 0);
  if (cavities.length === 0 || solids.length === 0) return parts;
  const homes = new Map<Solid, Solid[]>();
  for (const cavity of cavities) {
    const home = solids.find((s) => contains(s, cavity)) ?? solids[solids.length - 1];
    homes.set(home, [...(homes.get(home) ?? []), cavity]);
  }
  return solids.map((s) => (homes.get(s) ?? []).reduce(mergeSolids, s));
}

/** Joins the corners of every triangle; those that share a parent already are the rule. */
function joinCorners(parent: Uint32Array, t: Uint32Array): void {
  for (let i = 0; i < t.length; i += 3) {
    const a = t[i];
    const b = t[i + 1];
    const c = t[i + 2];
    const root = parent[a];
    if (root !== parent[b]) unite(parent, a, b);
    if (root !== parent[c]) unite(parent, a, c);
  }
}

/** The whole solid as one closed mesh: skin first, then the caps, which carry the tag `capTag` gives. */
export function closedMesh(solid: Solid, capTag: (seam: string, side: 1 | -1) => number) {
  const total = solid.caps.reduce((sum, c) => sum + c.triangles.length, solid.triangles.length);
  const triangles = new Uint32Array(total);
  const tags = new Uint32Array(total / 3);
  triangles.set(solid.triangles);
  tags.set(solid.tags);
  let at = solid.triangles.length;
  for (const cap of solid.caps) {
    triangles.set(cap.triangles, at);
    tags.fill(capTag(cap.seam, cap.side), at / 3, (at + cap.triangles.length) / 3);
    at += cap.triangles.length;
  }
  return { positions: solid.positions, triangles, tags };
}

/** Triangulates the caps of a cell: one solid, connected or not. */
export function closeCell(cell: Cell, frames: ReadonlyMap<string, Frame>, fallback: Triangulator): Solid {
  const regions = cell.caps.flatMap((cap) => regionsOf(cell, cap, frames.get(cap.seam)!));
  return close(cell, regions, fallback);
}

function close(cell: Cell, regions: readonly Region[], fallback: Triangulator): Solid {
  const { positions, triangles, tags } = cell;
  return { positions, triangles, tags, caps: regions.map((r) => closeRegion(r, fallback)) };
}

/** A region of a cap with its triangles, as seen from outside its piece. */
export function closeRegion(r: Region, fallback: Triangulator): CapRegion {
  const ids = new Uint32Array(r.outer.length + r.holes.reduce((n, h) => n + h.length, 0));
  ids.set(r.outer);
  let at = r.outer.length;
  for (const h of r.holes) {
    ids.set(h, at);
    at += h.length;
  }
  const flat = triangulate(r.outer2, r.holes2, fallback);
  const out = new Uint32Array(flat.length);
  let n = 0;
  for (let i = 0; i < flat.length; i += 3) {
    const [a, b, c] = [ids[flat[i]], ids[flat[i + 1]], ids[flat[i + 2]]];
    // where an outline touches itself two corners may be one vertex: without the triangle its two sides meet
    if (a === b || b === c || c === a) continue;
    out.set(r.side > 0 ? [a, c, b] : [a, b, c], n);
    n += 3;
  }
  return { ...r, triangles: n < out.length ? out.slice(0, n) : out };
}

/** Volume of a closed solid in mm³, in float64. */
function solidVolume({ positions: p, triangles, caps }: Solid): number {
  const pivot: Vec3 = p.length > 0 ? [p[0], p[1], p[2]] : [0, 0, 0];
  return caps.reduce((sum, c) => sum + volumeFrom(p, c.triangles, pivot), volumeFrom(p, triangles, pivot));
}

/** Signed volume in mm³ between a point and the triangles. */
export function volumeFrom(p: Float64Array, t: Uint32Array, pivot: Vec3): number {
  const [ox, oy, oz] = pivot;
  let sum = 0;
  for (let i = 0; i < t.length; i += 3) {
    const a = t[i] * 3;
    const b = t[i + 1] * 3;
    const c = t[i + 2] * 3;
    const bx = p[b] - ox;
    const by = p[b + 1] - oy;
    const bz = p[b + 2] - oz;
    const cx = p[c] - ox;
    const cy = p[c + 1] - oy;
    const cz = p[c + 2] - oz;
    sum += (p[a] - ox) * (by * cz - bz * cy) + (p[a + 1] - oy) * (bz * cx - bx * cz);
    sum += (p[a + 2] - oz) * (bx * cy - by * cx);
  }
  return sum / 6;
}

/** Some triangles and regions of a cell as a cell of their own, with vertices renumbered. */
function extract(cell: Cell, list: readonly number[], regions: readonly Region[]): Cell {
  const { of: renumber, order } = renumbering(cell.positions.length / 3);
  const triangles = new Uint32Array(list.length * 3);
  const tags = new Uint32Array(list.length);
  for (let i = 0; i < list.length; i++) {
    for (let c = 0; c < 3; c++) triangles[i * 3 + c] = renumber(cell.triangles[list[i] * 3 + c]);
    tags[i] = cell.tags[list[i]];
  }
  const caps = regions.map((r) => ({
    seam: r.seam,
    side: r.side,
    loops: [r.outer, ...r.holes].map((l) => {
      const loop = l.map(renumber);
      return r.side > 0 ? loop.reverse() : loop;
    }),
  }));
  const positions = new Float64Array(order.length * 3);
  for (let i = 0; i < order.length; i++) positions.set(cell.positions.subarray(order[i] * 3, order[i] * 3 + 3), i * 3);
  return { positions, triangles, tags, caps };
}

function contains(outer: Solid, inner: Solid): boolean {
  const a = bounds(outer.positions);
  const b = bounds(inner.positions);
  for (let k = 0; k < 3; k++) if (b.min[k] < a.min[k] || b.max[k] > a.max[k]) return false;
  const p = inner.positions;
  return insideSolid(buildBlocks(closedMesh(outer, () => 0)), [p[0], p[1], p[2]]);
}

function mergeSolids(a: Solid, b: Solid): Solid {
  const shift = a.positions.length / 3;
  const positions = new Float64Array(a.positions.length + b.positions.length);
  positions.set(a.positions);
  positions.set(b.positions, a.positions.length);
  const move = (ids: Uint32Array): Uint32Array => ids.map((v) => v + shift);
  const triangles = new Uint32Array(a.triangles.length + b.triangles.length);
  triangles.set(a.triangles);
  triangles.set(move(b.triangles), a.triangles.length);
  const tags = new Uint32Array(a.tags.length + b.tags.length);
  tags.set(a.tags);
  tags.set(b.tags, a.tags.length);
  const moved = b.caps.map((c) => ({
    ...c,
    outer: move(c.outer),
    holes: c.holes.map(move),
    triangles: move(c.triangles),
  }));
  return { positions, triangles, tags, caps: [...a.caps, ...moved] };
}

/** A solid as a cell again, its caps as loops. */
export function cellOfSolid({ positions, triangles, tags, caps }: Solid): Cell {
  return {
    positions,
    triangles,
    tags,
    caps: caps.map(({ seam, side, outer, holes }) => ({
      seam,
      side,
      loops: [outer, ...holes].map((l) => (side > 0 ? l.slice().reverse() : l)),
    })),
  };
}

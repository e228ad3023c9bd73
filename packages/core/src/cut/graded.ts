import { constrainedTriangles, type Loop2, nearestOnLoop, winding } from '../mesh/index.ts';
import { type Frame, fromFrame } from './frame.ts';
import type { CapRegion, Solid } from './solids.ts';

/** Corners within a cap are a share of its longer side apart, and keep a share of that from its outline. */
const PARTS = 12;
const BESIDE = 0.5;
/** The corners' rows are turned so far, so that few of them lie in one line with an outline's corners, radians. */
const TURN = 0.3;

/**
 * The whole solid as one closed mesh, as `closedMesh` gives it, but with corners within the caps too: instead of triangles as long as
 * the cap, which meet everything beside them, such as are about a twelfth of it. Further corners follow the solid's own.
 * A cap whose outline touches itself keeps its triangles.
 *
 *    _________        _________
 *   |\\ \  / /|      |\/\/\/\/|
 *   | \\ \/ / |  ->  |/\/\/\/\|
 *   |__\\/\/__|      |\/\/\/\/|
 */
export function gradedMesh(
  solid: Solid,
  frames: ReadonlyMap<string, Frame>,
  capTag: (seam: string, side: 1 | -1) => number,
) {
  const positions = [solid.positions];
  let vertices = solid.positions.length / 3;
  const parts = [solid.triangles];
  const tags = [solid.tags];
  for (const cap of solid.caps) {
    const made = graded(cap, frames.get(cap.seam)!, vertices);
    if (made) positions.push(made.positions);
    vertices += (made?.positions.length ?? 0) / 3;
    const triangles = made?.triangles ?? cap.triangles;
    parts.push(triangles);
    tags.push(new Uint32Array(triangles.length / 3).fill(capTag(cap.seam, cap.side)));
  }
  return {
    positions: joined(Float64Array, positions),
    triangles: joined(Uint32Array, parts),
    tags: joined(Uint32Array, tags),
  };
}

function joined<T extends Float64Array | Uint32Array>(kind: new (n: number) => T, list: readonly T[]): T {
  const out = new kind(list.reduce((n, x) => n + x.length, 0));
  let at = 0;
  for (const x of list) {
    out.set(x, at);
    at += x.length;
  }
  return out;
}

/** A cap's triangles with corners within it, which are numbered from `first` on; null where its outline does not allow that. */
function graded(
  cap: CapRegion,
  frame: Frame,
  first: number,
): { positions: Float64Array; triangles: Uint32Array } | null {
  const loops = [cap.outer2, ...cap.holes2];
  const ids = [cap.outer, ...cap.holes].flatMap((l) => [...l]);
  const rim = ids.length;
  const more = within(loops);
  if (more.length === 0) return null;
  const flat = joined(Float64Array, [...loops, Float64Array.from(more)]);
  const found = triangulated(flat, loops);
  // as many as a triangulation of just these corners has
  if (found?.length !== 3 * (rim + more.length - 2 + 2 * cap.holes.length)) return null;
  const id = (i: number): number => (i < rim ? ids[i] : first + i - rim);
  const triangles = new Uint32Array(found.length);
  for (let i = 0; i < found.length; i += 3) {
    const [a, b, c] = [id(found[i]), id(found[i + 1]), id(found[i + 2])];
    triangles.set(cap.side > 0 ? [a, c, b] : [a, b, c], i);
  }
  const positions = new Float64Array((more.length / 2) * 3);
  for (let i = 0; i < more.length; i += 2) positions.set(fromFrame(frame, more[i], more[i + 1]), (i / 2) * 3);
  return { positions, triangles };
}

/**
 * Delaunay triangles within loops, of their corners and further points that follow these in `flat`, with all edges of the loops;
 * counter-clockwise. Null where loops touch themselves.
 */
function triangulated(flat: Float64Array, loops: readonly Loop2[]): number[] | null {
  const points = flat.length / 2;
  const edges: [number, number][] = [];
  let at = 0;
  for (const l of loops) {
    const n = l.length / 2;
    for (let i = 0; i < n; i++) edges.push([at + i, at + ((i + 1) % n)]);
    at += n;
  }
  const found = constrainedTriangles(flat, edges);
  if (!found) return null;
  // its triangles are clockwise: those within have the loops' edges backwards; from there to all that no edge parts from them
  const { triangles: t, halfedges } = found;
  const next = (e: number): number => (e % 3 === 2 ? e - 2 : e + 1);
  const backwards = new Set(edges.map(([a, b]) => b * points + a));
  const rims = new Set(edges.flatMap(([a, b]) => [a * points + b, b * points + a]));
  const key = (e: number): number => t[e] * points + t[next(e)];
  const seen = new Uint8Array(t.length / 3);
  const open: number[] = [];
  const reach = (i: number): void => {
    if (seen[i]) return;
    seen[i] = 1;
    open.push(i);
  };
  for (let e = 0; e < t.length; e++) if (backwards.has(key(e))) reach(Math.floor(e / 3));
  const out: number[] = [];
  for (let i = open.pop(); i !== undefined; i = open.pop()) {
    out.push(t[3 * i], t[3 * i + 2], t[3 * i + 1]);
    for (let e = 3 * i; e < 3 * i + 3; e++)
      if (halfedges[e] >= 0 && !rims.has(key(e))) reach(Math.floor(halfedges[e] / 3));
  }
  return out;
}

const inside = (loops: readonly Loop2[], x: number, y: number): boolean =>
  loops.reduce((n, l) => n + winding(l, x, y), 0) === 1;

/** Places in rows within loops, each clear of them. */
function within(loops: readonly Loop2[]): number[] {
  const [outer] = loops;
  const box = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < outer.length; i++) {
    box[i % 2] = Math.min(box[i % 2], outer[i]);
    box[(i % 2) + 2] = Math.max(box[(i % 2) + 2], outer[i]);
  }
  const size = [box[2] - box[0], box[3] - box[1]];
  const middle = [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
  const step = Math.max(...size) / PARTS;
  const far = Math.ceil(PARTS * Math.SQRT1_2);
  const [c, s] = [Math.cos(TURN), Math.sin(TURN)];
  const out: number[] = [];
  for (let i = -far; i <= far; i++) {
    for (let j = -far; j <= far; j++) {
      const [p, q] = [(i + (j % 2) / 2) * step, j * step * Math.sqrt(0.75)];
      const [x, y] = [middle[0] + c * p - s * q, middle[1] + s * p + c * q];
      if (x < box[0] || y < box[1] || x > box[2] || y > box[3] || !inside(loops, x, y)) continue;
      if (loops.some((l) => nearestOnLoop(l, x, y).distance < BESIDE * step)) continue;
      out.push(x, y);
    }
  }
  return out;
}

import { edgeOf, halfEdges, type IndexedMesh, nextHalf, OPEN, vecOf } from '../mesh/index.ts';

/**
 * Splits open edges at the ends of other open edges that lie on them (within `tolerance` mm), so that a later weld can join
 * the two sides:
 *
 *   a-------------c          a------b------c
 *    \           /     ->     \     |     /      b is an open vertex of the surface on the other side
 *     \         /              \    |    /
 *      ----d----                ----d----
 */
export function splitAtJunctions(mesh: IndexedMesh, tolerance: number): { mesh: IndexedMesh; split: number } {
  const { twin } = halfEdges(mesh);
  const { positions: p, triangles: t, tags } = mesh;
  const open: number[] = [];
  for (let h = 0; h < twin.length; h++) if (twin[h] === OPEN) open.push(h);
  if (open.length === 0) return { mesh, split: 0 };
  const grid = new Grid(
    p,
    open.map((h) => t[h]),
    open,
    t,
  );
  const points = new Map<number, { v: number; s: number }[]>();
  for (const h of open) {
    const a = t[h];
    const b = t[nextHalf(h)];
    const found = grid.near(a, b, tolerance);
    if (found.length > 0)
      points.set(
        h,
        found.sort((x, y) => x.s - y.s),
      );
  }
  if (points.size === 0) return { mesh, split: 0 };
  const triangles: number[] = [];
  const outTags: number[] = [];
  let split = 0;
  for (let i = 0; i < tags.length; i++) {
    const ring: number[] = [];
    for (let h = i * 3; h < i * 3 + 3; h++) {
      ring.push(t[h]);
      for (const { v } of points.get(h) ?? []) if (!ring.includes(v)) ring.push(v);
    }
    split += ring.length - 3;
    // ears from the ring, the fattest first, so that no flat one is cut along the split edge
    const rest = [...new Set(ring)];
    while (rest.length > 3) {
      let best = -1;
      let bestHeight = -1;
      for (let k = 0; k < rest.length; k++) {
        const height = quality(p, rest[(k + rest.length - 1) % rest.length], rest[k], rest[(k + 1) % rest.length]);
        const left = rest.filter((_, m) => m !== k);
        const after = left.length === 3 ? quality(p, left[0], left[1], left[2]) : 1;
        if (Math.min(height, after) > bestHeight) {
          bestHeight = Math.min(height, after);
          best = k;
        }
      }
      triangles.push(rest[(best + rest.length - 1) % rest.length], rest[best], rest[(best + 1) % rest.length]);
      outTags.push(tags[i]);
      rest.splice(best, 1);
    }
    if (rest.length === 3) {
      triangles.push(...rest);
      outTags.push(tags[i]);
    }
  }
  return { mesh: { positions: p, triangles: Uint32Array.from(triangles), tags: Uint32Array.from(outTags) }, split };
}

/** How fat a triangle is: 0 flat, about 1 with equal sides. */
function quality(p: Float64Array, a: number, b: number, c: number): number {
  const e = (u: number, v: number) => edgeOf(p, u, v);
  const ab = e(a, b);
  const ac = e(a, c);
  const bc = e(b, c);
  const area = Math.hypot(ab[1] * ac[2] - ab[2] * ac[1], ab[2] * ac[0] - ab[0] * ac[2], ab[0] * ac[1] - ab[1] * ac[0]);
  const longest = Math.max(Math.hypot(...ab), Math.hypot(...ac), Math.hypot(...bc));
  return longest > 0 ? area / (longest * longest) : 0;
}

/** Open vertices in cells about as long as the open edges are in the middle. */
class Grid {
  private readonly cells = new Map<string, number[]>();
  private readonly size: number;

  constructor(
    private readonly p: Float64Array,
    vertices: readonly number[],
    open: readonly number[],
    t: Uint32Array,
  ) {
    const lengths = open.map((h) => this.length(t[h], t[nextHalf(h)])).sort((a, b) => a - b);
    this.size = Math.max(lengths[Math.floor(lengths.length / 2)], lengths[lengths.length - 1] / 200, 1e-9);
    for (const v of new Set(vertices)) {
      const key = vecOf((k) => Math.floor(p[v * 3 + k] / this.size)).join();
      const list = this.cells.get(key);
      if (list) list.push(v);
      else this.cells.set(key, [v]);
    }
  }

  /** Vertices on the edge between a and b, but not at its ends: and where, 0 … 1. */
  near(a: number, b: number, tolerance: number): { v: number; s: number }[] {
    const { p, size } = this;
    const out: { v: number; s: number }[] = [];
    const length = this.length(a, b);
    if (!(length > tolerance * 2)) return out;
    const d = edgeOf(p, a, b);
    const low = vecOf((k) => Math.floor((Math.min(p[a * 3 + k], p[b * 3 + k]) - tolerance) / size));
    const high = vecOf((k) => Math.floor((Math.max(p[a * 3 + k], p[b * 3 + k]) + tolerance) / size));
    const cells = (high[0] - low[0] + 1) * (high[1] - low[1] + 1) * (high[2] - low[2] + 1);
    const visit = (v: number): void => {
      if (v === a || v === b) return;
      const w = edgeOf(p, a, v);
      const s = (w[0] * d[0] + w[1] * d[1] + w[2] * d[2]) / (length * length);
      if (s * length <= tolerance || (1 - s) * length <= tolerance) return;
      if (Math.hypot(...w.map((x, k) => x - s * d[k])) <= tolerance) out.push({ v, s });
    };
    if (cells > 4000) {
      for (const list of this.cells.values()) for (const v of list) visit(v);
      return out;
    }
    for (let x = low[0]; x <= high[0]; x++)
      for (let y = low[1]; y <= high[1]; y++)
        for (let z = low[2]; z <= high[2]; z++) for (const v of this.cells.get(`${x},${y},${z}`) ?? []) visit(v);
    return out;
  }

  private length(a: number, b: number): number {
    const { p } = this;
    return Math.hypot(p[a * 3] - p[b * 3], p[a * 3 + 1] - p[b * 3 + 1], p[a * 3 + 2] - p[b * 3 + 2]);
  }
}

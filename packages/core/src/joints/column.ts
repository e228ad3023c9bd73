import { type Frame, fromFrame } from '../cut/index.ts';
import { BLOCK, type Blocks, type Box, blocksNear, type Loop2 } from '../mesh/index.ts';

/**
 * How much material lies under an outline on a plane: the least distance from the plane to the mesh inside the column that
 * goes from the outline towards `direction` (+1 along the normal), mm; `limit` when nothing is met before. Exact: triangles are
 * clipped by the column's sides. A triangle within `skip` mm of the plane or behind it does not count (the cut face's own rim); one
 * that goes through the plane inside the outline leaves no more than `skip`.
 *
 *   ---[____]---  plane
 *      |    |
 *      |   /|   <- least height
 */
export function columnDepth(
  frame: Frame,
  outline: Loop2,
  direction: 1 | -1,
  blocks: Blocks,
  limit: number,
  skip = 1e-6,
): number {
  const { order, mesh } = blocks;
  const column = new Column(frame, outline, direction, skip);
  let best = limit;
  for (const { block } of blocksNear(blocks, column.box(limit), 1e-9)) {
    const end = Math.min(order.length, (block + 1) * BLOCK);
    for (let i = block * BLOCK; i < end; i++) best = column.lowest(mesh.positions, mesh.triangles, order[i] * 3, best);
  }
  return best;
}

/** The same under a plain list of triangles, three vertex indices each. */
export function columnToTriangles(
  frame: Frame,
  outline: Loop2,
  direction: 1 | -1,
  p: Float64Array,
  t: Uint32Array,
  limit: number,
  skip = 1e-6,
): number {
  const column = new Column(frame, outline, direction, skip);
  let best = limit;
  for (let k = 0; k < t.length; k += 3) best = column.lowest(p, t, k, best);
  return best;
}

/** Works in the plane's (u, v) and the height above it. */
class Column {
  private u0 = Infinity;
  private v0 = Infinity;
  private u1 = -Infinity;
  private v1 = -Infinity;
  /** of the triangle at hand */
  private readonly q = new Float64Array(9);

  constructor(
    private readonly frame: Frame,
    private readonly outline: Loop2,
    private readonly direction: 1 | -1,
    private readonly skip: number,
  ) {
    for (let i = 0; i < outline.length; i += 2) {
      this.u0 = Math.min(this.u0, outline[i]);
      this.u1 = Math.max(this.u1, outline[i]);
      this.v0 = Math.min(this.v0, outline[i + 1]);
      this.v1 = Math.max(this.v1, outline[i + 1]);
    }
  }

  /** The box of the column up to a height. */
  box(height: number): Box {
    const min: [number, number, number] = [Infinity, Infinity, Infinity];
    const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
    for (const u of [this.u0, this.u1]) {
      for (const v of [this.v0, this.v1]) {
        for (const h of [0, height]) {
          const x = fromFrame(this.frame, u, v, h * this.direction);
          for (let a = 0; a < 3; a++) {
            min[a] = Math.min(min[a], x[a]);
            max[a] = Math.max(max[a], x[a]);
          }
        }
      }
    }
    return { min, max };
  }

  /** The least height of a triangle inside the column where it is less than `limit`, else `limit`. */
  lowest(p: Float64Array, t: Uint32Array, k: number, limit: number): number {
    const { q } = this;
    const { origin: o, u, v, normal: n } = this.frame;
    for (let c = 0; c < 3; c++) {
      const i = t[k + c] * 3;
      const x = p[i] - o[0];
      const y = p[i + 1] - o[1];
      const z = p[i + 2] - o[2];
      q[c * 3] = x * u[0] + y * u[1] + z * u[2];
      q[c * 3 + 1] = x * v[0] + y * v[1] + z * v[2];
      q[c * 3 + 2] = (x * n[0] + y * n[1] + z * n[2]) * this.direction;
    }
    if (q[2] <= this.skip && q[5] <= this.skip && q[8] <= this.skip) return limit;
    if (q[2] >= limit && q[5] >= limit && q[8] >= limit) return limit;
    if (q[0] < this.u0 && q[3] < this.u0 && q[6] < this.u0) return limit;
    if (q[0] > this.u1 && q[3] > this.u1 && q[6] > this.u1) return limit;
    if (q[1] < this.v0 && q[4] < this.v0 && q[7] < this.v0) return limit;
    if (q[1] > this.v1 && q[4] > this.v1 && q[7] > this.v1) return limit;
    const corners = [0, 3, 6].map((i) => [q[i], q[i + 1], q[i + 2]]);
    let best = limit;
    let behind = false;
    let ahead = false;
    for (const [, , h] of clipped(corners, this.outline)) {
      if (h > this.skip) ahead = true;
      else behind = true;
      if (h > this.skip && h < best) best = h;
    }
    // what goes through the plane inside the column leaves nothing under the outline
    return behind && ahead ? Math.min(limit, this.skip) : best;
  }
}

/** A polygon clipped by a convex counter-clockwise outline in its first two coordinates. Sutherland and Hodgman (1974). */
function clipped(poly: readonly number[][], outline: Loop2): number[][] {
  let list = [...poly];
  const n = outline.length;
  for (let i = 0, j = n - 2; i < n && list.length > 0; j = i, i += 2) {
    const ex = outline[i] - outline[j];
    const ey = outline[i + 1] - outline[j + 1];
    const out: number[][] = [];
    for (let s = 0; s < list.length; s++) {
      const a = list[s];
      const b = list[(s + 1) % list.length];
      const da = ex * (a[1] - outline[j + 1]) - ey * (a[0] - outline[j]);
      const db = ex * (b[1] - outline[j + 1]) - ey * (b[0] - outline[j]);
      if (da >= 0) out.push(a);
      if (da >= 0 !== db >= 0) {
        const w = da / (da - db);
        out.push([a[0] + w * (b[0] - a[0]), a[1] + w * (b[1] - a[1]), a[2] + w * (b[2] - a[2])]);
      }
    }
    list = out;
  }
  return list;
}

import { type Frame, fromFrame } from '../cut/index.ts';
import { BLOCK, type Blocks, blocksNear, insideConvex, type Loop2, segmentGap2 } from '../mesh/index.ts';

/**
 * A convex prism on a seam's plane: `outline` in (u, v), reaching `depth` mm from the plane towards `direction` (+1 along
 * the seam's normal).
 */
export interface Prism {
  readonly frame: Frame;
  readonly outline: Loop2;
  readonly depth: number;
  readonly direction: 1 | -1;
}

/**
 * Exact distance in mm from a prism to the triangles of an indexed mesh on its own side of the plane, 0 when they meet.
 * What lies on the other side of the plane does not count: there the mouth is open.
 *
 * Each triangle is clipped to the prism's side; beside the prism the distance is that of two convex polygons in the
 * plane, beyond its floor that of the floor to the rest of the triangle.
 */
export function prismDistance(prism: Prism, blocks: Blocks, limit = Infinity): number {
  const local = new LocalPrism(prism);
  const { order, mesh } = blocks;
  let best = limit;
  // the nearest block gives a bound that rules most others out
  const near = blocksNear(blocks, local, limit).sort((x, y) => x.distance - y.distance);
  for (const { block, distance } of near) {
    if (distance >= best) break;
    const end = Math.min(order.length, (block + 1) * BLOCK);
    for (let i = block * BLOCK; i < end; i++) {
      best = local.triangle(mesh.positions, mesh.triangles, order[i] * 3, best);
    }
  }
  return best;
}

/** The same distance to a plain list of triangles, three vertex indices each. */
export function prismToTriangles(prism: Prism, p: Float64Array, t: Uint32Array, limit = Infinity): number {
  const local = new LocalPrism(prism);
  let best = limit;
  for (let i = 0; i < t.length; i += 3) best = Math.min(best, local.triangle(p, t, i, best));
  return best;
}

type Point = readonly [number, number, number];

/** Works in coordinates in which the prism stands on z = 0 and reaches to z = depth. */
class LocalPrism {
  readonly min: [number, number, number] = [Infinity, Infinity, Infinity];
  readonly max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  private readonly u0: number;
  private readonly v0: number;
  private readonly u1: number;
  private readonly v1: number;
  /** of the triangle at hand, u v z */
  private readonly corners = new Float64Array(9);

  constructor(private readonly prism: Prism) {
    const { frame, outline, depth, direction } = prism;
    let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < outline.length; i += 2) {
      u0 = Math.min(u0, outline[i]);
      u1 = Math.max(u1, outline[i]);
      v0 = Math.min(v0, outline[i + 1]);
      v1 = Math.max(v1, outline[i + 1]);
      for (const h of [0, depth * direction]) {
        const q = fromFrame(frame, outline[i], outline[i + 1], h);
        for (let a = 0; a < 3; a++) {
          this.min[a] = Math.min(this.min[a], q[a]);
          this.max[a] = Math.max(this.max[a], q[a]);
        }
      }
    }
    this.u0 = u0;
    this.u1 = u1;
    this.v0 = v0;
    this.v1 = v1;
  }

  /** The distance of a triangle where it is less than `limit`, else `limit`. */
  triangle(p: Float64Array, t: Uint32Array, i: number, limit: number): number {
    const local = this.corners;
    this.toLocal(p, t[i] * 3, 0);
    this.toLocal(p, t[i + 1] * 3, 3);
    this.toLocal(p, t[i + 2] * 3, 6);
    const { outline, depth } = this.prism;
    // what lies wholly behind the plane, or whose box is too far away, is the rule
    if (local[2] < 0 && local[5] < 0 && local[8] < 0) return limit;
    const du = apart(local[0], local[3], local[6], this.u0, this.u1);
    const dv = apart(local[1], local[4], local[7], this.v0, this.v1);
    const dz = apart(local[2], local[5], local[8], 0, depth);
    if (du * du + dv * dv + dz * dz >= limit * limit) return limit;
    const piece = clip(
      [
        [local[0], local[1], local[2]],
        [local[3], local[4], local[5]],
        [local[6], local[7], local[8]],
      ],
      0,
      1,
    );
    if (piece.length === 0) return limit;
    let best = limit;
    const beside = clip(piece, depth, -1);
    if (beside.length > 0) best = Math.min(best, planarDistance(outline, beside, best));
    const beyond = clip(piece, depth, 1);
    if (beyond.length > 0 && best > 0) best = Math.min(best, floorDistance(outline, depth, beyond, best));
    return best;
  }

  private toLocal(p: Float64Array, v: number, k: number): void {
    const { frame, direction } = this.prism;
    const { origin: o, u, v: w, normal: n } = frame;
    const x = p[v] - o[0];
    const y = p[v + 1] - o[1];
    const z = p[v + 2] - o[2];
    this.corners[k] = x * u[0] + y * u[1] + z * u[2];
    this.corners[k + 1] = x * w[0] + y * w[1] + z * w[2];
    this.corners[k + 2] = (x * n[0] + y * n[1] + z * n[2]) * direction;
  }
}

/** How far three numbers lie outside a span; 0 when they reach into it. */
function apart(a: number, b: number, c: number, low: number, high: number): number {
  const least = a < b ? (a < c ? a : c) : b < c ? b : c;
  const most = a > b ? (a > c ? a : c) : b > c ? b : c;
  return least > high ? least - high : most < low ? low - most : 0;
}

/** The part of a convex polygon with sign · (z − height) ≥ 0. Sutherland and Hodgman (1974), one plane. */
function clip(poly: readonly Point[], height: number, sign: 1 | -1): Point[] {
  const out: Point[] = [];
  for (let i = 0; i < poly.length; i++) {
    const a = poly[i];
    const b = poly[(i + 1) % poly.length];
    const da = sign * (a[2] - height);
    const db = sign * (b[2] - height);
    if (da >= 0) out.push(a);
    if (da >= 0 !== db >= 0) {
      const s = da / (da - db);
      out.push([a[0] + s * (b[0] - a[0]), a[1] + s * (b[1] - a[1]), height]);
    }
  }
  return out;
}

/** Whether an edge of an outline is farther than `limit` from a ball round a polygon. */
function edgeAway(l: Loop2, j: number, k: number, ball: Ball2, limit: number): boolean {
  const mu = (l[j] + l[k]) / 2 - ball.u;
  const mv = (l[j + 1] + l[k + 1]) / 2 - ball.v;
  const reach = limit + ball.radius + (Math.abs(l[j] - l[k]) + Math.abs(l[j + 1] - l[k + 1])) / 2;
  return mu * mu + mv * mv > reach * reach;
}

interface Ball2 {
  readonly u: number;
  readonly v: number;
  readonly radius: number;
}

function ballRound(poly: readonly Point[]): Ball2 {
  let [u, v, radius] = [0, 0, 0];
  for (const [x, y] of poly) {
    u += x / poly.length;
    v += y / poly.length;
  }
  for (const [x, y] of poly) radius = Math.max(radius, Math.abs(x - u) + Math.abs(y - v));
  return { u, v, radius };
}

/** Distance in the plane between a convex outline and the projection of a convex polygon (which may be a mere line). */
function planarDistance(outline: Loop2, poly: readonly Point[], limit: number): number {
  let best = Infinity;
  const n = outline.length;
  for (const [u, v] of poly) if (insideConvex(outline, u, v)) return 0;
  const ball = ballRound(poly);
  for (let k = 0, j = n - 2; k < n; j = k, k += 2) {
    if (edgeAway(outline, j, k, ball, limit)) continue;
    for (let i = 0; i < poly.length; i++) {
      const a = poly[i];
      const b = poly[i + 1 < poly.length ? i + 1 : 0];
      const d = segmentGap2(a[0], a[1], b[0], b[1], outline[j], outline[j + 1], outline[k], outline[k + 1]);
      if (d === 0) return 0;
      if (d < best) best = d;
    }
  }
  return insidePolygon(poly, outline[0], outline[1]) ? 0 : Math.sqrt(best);
}

/** Distance between a flat convex outline at `height` and a convex polygon wholly at or above that height. */
function floorDistance(outline: Loop2, height: number, poly: readonly Point[], limit: number): number {
  let best = Infinity;
  for (const [u, v, z] of poly) {
    if (insideConvex(outline, u, v)) best = Math.min(best, (z - height) ** 2);
  }
  const n = outline.length;
  const ball = ballRound(poly);
  for (let k = 0, j = n - 2; k < n; j = k, k += 2) {
    if (edgeAway(outline, j, k, ball, limit)) continue;
    const from: Point = [outline[j], outline[j + 1], height];
    const to: Point = [outline[k], outline[k + 1], height];
    for (let i = 0; i < poly.length; i++) {
      const d = segmentGap3(poly[i], poly[i + 1 < poly.length ? i + 1 : 0], from, to);
      if (d < best) best = d;
    }
  }
  if (poly.length > 2) {
    const m = planeNormal(poly);
    const l = m[0] ** 2 + m[1] ** 2 + m[2] ** 2;
    if (l > 0) {
      for (let k = 0; k < n; k += 2) {
        const d =
          (outline[k] - poly[0][0]) * m[0] + (outline[k + 1] - poly[0][1]) * m[1] + (height - poly[0][2]) * m[2];
        if ((d * d) / l >= best) continue;
        const foot: Point = [outline[k] - (d * m[0]) / l, outline[k + 1] - (d * m[1]) / l, height - (d * m[2]) / l];
        if (withinPolygon(poly, m, foot)) best = Math.min(best, (d * d) / l);
      }
    }
  }
  return Math.sqrt(best);
}

function planeNormal(poly: readonly Point[]): Point {
  const n: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < poly.length; i++) {
    const a = poly[i];
    const b = poly[(i + 1) % poly.length];
    n[0] += (a[1] - b[1]) * (a[2] + b[2]);
    n[1] += (a[2] - b[2]) * (a[0] + b[0]);
    n[2] += (a[0] - b[0]) * (a[1] + b[1]);
  }
  return n;
}

function withinPolygon(poly: readonly Point[], m: Point, q: Point): boolean {
  for (let i = 0; i < poly.length; i++) {
    const a = poly[i];
    const b = poly[(i + 1) % poly.length];
    const e = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
    const w = [q[0] - a[0], q[1] - a[1], q[2] - a[2]];
    const side =
      (e[1] * w[2] - e[2] * w[1]) * m[0] + (e[2] * w[0] - e[0] * w[2]) * m[1] + (e[0] * w[1] - e[1] * w[0]) * m[2];
    if (side < 0) return false;
  }
  return true;
}

/** Whether a point lies in the projection of a convex polygon of either orientation. */
function insidePolygon(poly: readonly Point[], u: number, v: number): boolean {
  let sign = 0;
  for (let i = 0; i < poly.length; i++) {
    const a = poly[i];
    const b = poly[(i + 1) % poly.length];
    const c = (b[0] - a[0]) * (v - a[1]) - (b[1] - a[1]) * (u - a[0]);
    if (c === 0) continue;
    if (sign !== 0 && c > 0 !== sign > 0) return false;
    sign = c;
  }
  return sign !== 0;
}

const clamp = (x: number): number => (x < 0 ? 0 : x > 1 ? 1 : x);

/** Squared distance of two segments in space. Ericson, Real-Time Collision Detection (2005), 5.1.9. */
function segmentGap3(p1: Point, q1: Point, p2: Point, q2: Point): number {
  const ux = q1[0] - p1[0];
  const uy = q1[1] - p1[1];
  const uz = q1[2] - p1[2];
  const vx = q2[0] - p2[0];
  const vy = q2[1] - p2[1];
  const vz = q2[2] - p2[2];
  const rx = p1[0] - p2[0];
  const ry = p1[1] - p2[1];
  const rz = p1[2] - p2[2];
  const a = ux * ux + uy * uy + uz * uz;
  const e = vx * vx + vy * vy + vz * vz;
  const f = vx * rx + vy * ry + vz * rz;
  let s = 0;
  let t = 0;
  if (a === 0) t = e > 0 ? clamp(f / e) : 0;
  else {
    const c = ux * rx + uy * ry + uz * rz;
    if (e === 0) s = clamp(-c / a);
    else {
      const b = ux * vx + uy * vy + uz * vz;
      const denominator = a * e - b * b;
      s = denominator > 0 ? clamp((b * f - c * e) / denominator) : 0;
      t = (b * s + f) / e;
      if (t < 0) {
        t = 0;
        s = clamp(-c / a);
      } else if (t > 1) {
        t = 1;
        s = clamp((b - c) / a);
      }
    }
  }
  return (rx + ux * s - vx * t) ** 2 + (ry + uy * s - vy * t) ** 2 + (rz + uz * s - vz * t) ** 2;
}

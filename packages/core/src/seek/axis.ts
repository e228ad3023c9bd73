import { type Loop2, makeFrame, nearestOnLoop, sectionAt } from '../cut/index.ts';
import { type Blocks, dot, normalize, type Vec3 } from '../mesh/index.ts';

/** A line that a model is round about. */
export interface RoundAxis {
  /** the middle of the circle */
  readonly origin: Vec3;
  readonly axis: Vec3;
  /** mm */
  readonly radius: number;
  /** root mean square distance of the outline from the circle, as a share of its radius */
  readonly residual: number;
}

/** An outline counts as round when it keeps within this share of the radius. */
const ROUND = 0.06;

/**
 * The axis of the circle, hole or rim at a picked place: sections square to some directions through the place, of which the
 * outline nearest to it is held against a circle. The coordinate axes, the surface's own normal and `more` are tried; the
 * roundest wins. Null when none is round.
 */
export function roundAxis(blocks: Blocks, at: Vec3, normal: Vec3, more: readonly Vec3[] = []): RoundAxis | null {
  let best: RoundAxis | null = null;
  for (const axis of [[0, 0, 1], [0, 1, 0], [1, 0, 0], normal, ...more] as const) {
    // a little inward, where the place itself lies on a face square to the axis
    const depth = Math.abs(dot(axis, normal)) > 0.95 ? 1e-3 : 0;
    const place = at.map((x, k) => x - normal[k] * depth) as unknown as Vec3;
    const frame = makeFrame(place, axis);
    const { loops } = sectionAt(blocks.mesh, frame, blocks);
    const near = loops.map((l) => ({ l, d: nearestOnLoop(l, 0, 0).distance })).sort((a, b) => a.d - b.d)[0];
    const circle = near && fitCircle(near.l);
    if (!circle || circle.residual > ROUND || (best && circle.residual >= best.residual - 1e-4)) continue;
    const origin = [0, 1, 2].map((k) => place[k] + frame.u[k] * circle.u + frame.v[k] * circle.v) as unknown as Vec3;
    best = { origin, axis: normalize(frame.normal), radius: circle.radius, residual: circle.residual };
  }
  return best;
}

/** The circle through a loop's outline by least squares. Kåsa, "A circle fitting procedure and its error analysis" (1976). */
export function fitCircle(l: Loop2): { u: number; v: number; radius: number; residual: number } | null {
  // even points along the outline, so that short chords do not count more
  const points: [number, number][] = [];
  let length = 0;
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) length += Math.hypot(l[i] - l[j], l[i + 1] - l[j + 1]);
  const step = length / 240;
  let due = 0;
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
    const own = Math.hypot(l[i] - l[j], l[i + 1] - l[j + 1]);
    let s = due;
    for (; s < own; s += step)
      points.push([l[j] + ((l[i] - l[j]) * s) / own, l[j + 1] + ((l[i + 1] - l[j + 1]) * s) / own]);
    due = s - own;
  }
  const n = points.length;
  if (n < 8) return null;
  const mu = points.reduce((s, p) => s + p[0], 0) / n;
  const mv = points.reduce((s, p) => s + p[1], 0) / n;
  let [suu, svv, suv, suz, svz] = [0, 0, 0, 0, 0];
  for (const [pu, pv] of points) {
    const [a, b] = [pu - mu, pv - mv];
    const z = a * a + b * b;
    suu += a * a;
    svv += b * b;
    suv += a * b;
    suz += a * z;
    svz += b * z;
  }
  const det = 2 * (suu * svv - suv * suv);
  if (Math.abs(det) < 1e-12) return null;
  const u = (suz * svv - svz * suv) / det;
  const v = (svz * suu - suz * suv) / det;
  const radius = Math.sqrt(u * u + v * v + (suu + svv) / n);
  const off = points.reduce((s, [pu, pv]) => s + (Math.hypot(pu - mu - u, pv - mv - v) - radius) ** 2, 0) / n;
  return { u: u + mu, v: v + mv, radius, residual: Math.sqrt(off) / radius };
}

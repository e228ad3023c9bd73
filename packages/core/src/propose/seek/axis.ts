import { makeFrame, sectionAt } from '../../cut/index.ts';
import {
  type Blocks,
  boxOf,
  dot,
  type Loop2,
  nearestOnLoop,
  normalize,
  perAxis,
  type Vec3,
  vecOf,
} from '../../mesh/index.ts';

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
 * The axis of the circle, hole or rim at a picked place: sections square to some directions, through the place and through
 * the middle of the body, of which the outline nearest to the place is held against a circle. The coordinate axes, the
 * surface's own normal and `more` are tried; the widest circle wins, so that a hoop is round about its middle and not about
 * its rope. Null when none is round.
 */
export function roundAxis(blocks: Blocks, at: Vec3, normal: Vec3, more: readonly Vec3[] = []): RoundAxis | null {
  const box = boxOf(blocks.mesh.positions);
  const middle = perAxis(box.min, (x, k) => (x + box.max[k]) / 2);
  let best: RoundAxis | null = null;
  for (const axis of [[0, 0, 1], [0, 1, 0], [1, 0, 0], normal, ...more] as const) {
    // a little inward, where the place itself lies on a face square to the axis
    const depth = Math.abs(dot(axis, normal)) > 0.95 ? 1e-3 : 0;
    const place = perAxis(at, (x, k) => x - normal[k] * depth);
    const lift = dot(middle, axis) - dot(place, axis);
    const level = perAxis(place, (x, k) => x + axis[k] * lift);
    const [own] = [place, level]
      .flatMap((through) => circleAt(blocks, through, axis))
      .filter((c) => c.residual <= ROUND)
      .sort((a, b) => a.residual - b.residual);
    if (own && (!best || own.radius > best.radius * 1.01)) best = own;
  }
  return best;
}

/** The outline nearest to a place in the section square to an axis, as a circle. */
function circleAt(blocks: Blocks, place: Vec3, axis: Vec3): RoundAxis[] {
  const frame = makeFrame(place, axis);
  const { loops } = sectionAt(blocks.mesh, frame, blocks);
  const near = loops.map((l) => ({ l, d: nearestOnLoop(l, 0, 0).distance })).sort((a, b) => a.d - b.d)[0];
  const circle = near && fitCircle(near.l);
  if (!circle) return [];
  const origin = vecOf((k) => place[k] + frame.u[k] * circle.u + frame.v[k] * circle.v);
  return [{ origin, axis: normalize(frame.normal), radius: circle.radius, residual: circle.residual }];
}

/** The circle through a loop's outline by least squares. Kåsa, "A circle fitting procedure and its error analysis" (1976). */
function fitCircle(l: Loop2): { u: number; v: number; radius: number; residual: number } | null {
  const n = l.length / 2;
  if (n < 4) return null;
  // the mean along the outline, by Simpson's rule on each edge, so that short chords do not count more
  let total = 0;
  for (let i = 0; i < n; i++) total += edge(l, i);
  const mean = (f: (u: number, v: number) => number): number => {
    let sum = 0;
    for (let i = 0; i < n; i++) {
      const k = i * 2;
      const j = i + 1 === n ? 0 : k + 2;
      const middle = f((l[k] + l[j]) / 2, (l[k + 1] + l[j + 1]) / 2);
      sum += (edge(l, i) * (f(l[k], l[k + 1]) + 4 * middle + f(l[j], l[j + 1]))) / 6;
    }
    return sum / total;
  };
  const mu = mean((u) => u);
  const mv = mean((_, v) => v);
  const suu = mean((u) => (u - mu) ** 2);
  const svv = mean((_, v) => (v - mv) ** 2);
  const suv = mean((u, v) => (u - mu) * (v - mv));
  const suz = mean((u, v) => (u - mu) * ((u - mu) ** 2 + (v - mv) ** 2));
  const svz = mean((u, v) => (v - mv) * ((u - mu) ** 2 + (v - mv) ** 2));
  const det = 2 * (suu * svv - suv * suv);
  if (Math.abs(det) < 1e-12) return null;
  const u = (suz * svv - svz * suv) / det;
  const v = (svz * suu - suz * suv) / det;
  const radius = Math.sqrt(u * u + v * v + suu + svv);
  const off = mean((pu, pv) => (Math.hypot(pu - mu - u, pv - mv - v) - radius) ** 2);
  return { u: u + mu, v: v + mv, radius, residual: Math.sqrt(off) / radius };
}

/** Length of the edge from corner i of a loop to the next, mm. */
function edge(l: Loop2, i: number): number {
  const j = (i + 1) % (l.length / 2);
  return Math.hypot(l[j * 2] - l[i * 2], l[j * 2 + 1] - l[i * 2 + 1]);
}

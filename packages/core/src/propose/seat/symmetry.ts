import type { FlatRegion } from '../../cut/index.ts';
import { type Loop2, nearestOnLoop } from '../../mesh/index.ts';

/** A line in a face's plane by a point and its unit direction. */
export interface AxisLine {
  readonly u: number;
  readonly v: number;
  readonly du: number;
  readonly dv: number;
}

/** How far an outline may be from its mirror image, as a share of its reach. */
const SAME = 0.012;
const SAMPLES = 96;

/** A point on the other side of a line. */
export function reflected({ u, v, du, dv }: AxisLine, p: readonly [number, number]): [number, number] {
  const along = (p[0] - u) * du + (p[1] - v) * dv;
  return [2 * (u + along * du) - p[0], 2 * (v + along * dv) - p[1]];
}

/** The line about which a region is its own mirror image, the best of its main directions and the frame's; else null. */
export function symmetryAxis(region: Pick<FlatRegion, 'outer2' | 'holes2'>): AxisLine | null {
  const { centre, angle, reach } = spread(region.outer2);
  const loops = [region.outer2, ...region.holes2];
  const points = sampled(region.outer2);
  let best: { line: AxisLine; off: number } | null = null;
  for (const a of [angle, angle + Math.PI / 2, 0, Math.PI / 2, Math.PI / 4, -Math.PI / 4]) {
    const line = { u: centre[0], v: centre[1], du: Math.cos(a), dv: Math.sin(a) };
    const limit = Math.min(SAME * reach, best?.off ?? Infinity);
    let off = 0;
    for (const p of points) {
      const q = reflected(line, p);
      off = Math.max(off, nearestOnLoop(loops[0], ...q).distance);
      if (off > limit) break;
    }
    if (off > limit) continue;
    const holesToo = region.holes2.every((h) =>
      sampled(h).every((p) => {
        const q = reflected(line, p);
        return region.holes2.some((other) => nearestOnLoop(other, ...q).distance <= SAME * reach);
      }),
    );
    if (holesToo && (!best || off < best.off - 1e-9)) best = { line, off };
  }
  return best?.line ?? null;
}

/** Points evenly along a loop. */
function sampled(l: Loop2): [number, number][] {
  const n = l.length / 2;
  const out: [number, number][] = [];
  const steps = Math.min(n, SAMPLES);
  for (let k = 0; k < steps; k++) {
    const i = Math.floor((k * n) / steps) * 2;
    out.push([l[i], l[i + 1]]);
  }
  return out;
}

/** Middle, main direction and reach of an outline: centroid and second moments of its area. */
function spread(l: Loop2): { centre: [number, number]; angle: number; reach: number } {
  const [x0, y0] = [l[0], l[1]];
  let area = 0;
  let [mu, mv, uu, uv, vv] = [0, 0, 0, 0, 0];
  for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
    const [a, b, c, d] = [l[j] - x0, l[j + 1] - y0, l[i] - x0, l[i + 1] - y0];
    const k = a * d - c * b;
    area += k / 2;
    mu += ((a + c) * k) / 6;
    mv += ((b + d) * k) / 6;
    uu += ((a * a + a * c + c * c) * k) / 12;
    vv += ((b * b + b * d + d * d) * k) / 12;
    uv += ((a * d + 2 * a * b + 2 * c * d + c * b) * k) / 24;
  }
  const [cu, cv] = [mu / area, mv / area];
  let reach = 0;
  for (let i = 0; i < l.length; i += 2) reach = Math.max(reach, Math.hypot(l[i] - x0 - cu, l[i + 1] - y0 - cv));
  const angle = 0.5 * Math.atan2(2 * (uv - area * cu * cv), uu - area * cu * cu - (vv - area * cv * cv));
  return { centre: [x0 + cu, y0 + cv], angle, reach };
}

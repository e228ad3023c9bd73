import { cross, dot, normalize, pointSegment2, type Vec3, vecOf } from '../mesh/index.ts';
import type { Cell } from './cell.ts';
import { atOffset, type Frame } from './frame.ts';
import type { Blade, Fan } from './sectors.ts';

/** A fan of half-planes round the line through `origin` along `axis`; `outward` leads away from it in each. */
export function makeFan(
  origin: Vec3,
  axis: Vec3,
  blades: readonly { readonly seam: string; readonly frame: Frame; readonly outward: Vec3 }[],
): Fan {
  const a = normalize(axis);
  const first = blades[0].outward;
  const along = dot(first, a);
  const x = normalize([first[0] - a[0] * along, first[1] - a[1] * along, first[2] - a[2] * along]);
  const y = cross(a, x);
  const placed = blades.map(({ seam, frame, outward }): Blade & { angle: number } => {
    const [c, s] = [dot(outward, x), dot(outward, y)];
    const l = Math.hypot(c, s);
    const angle = Math.atan2(s, c);
    return { seam, frame, ray: [c / l, s / l], angle: angle < -1e-12 ? angle + 2 * Math.PI : angle };
  });
  placed.sort((p, q) => p.angle - q.angle);
  return { origin, axis: a, x, y, blades: placed.map(({ seam, frame, ray }) => ({ seam, frame, ray })) };
}

/**
 * Moves a fan as a whole within a tiny window, so that no vertex lies on one of its half-planes, and its axis neither meets
 * an edge nor lies in a face: of some places round the one asked for, that with the widest gap to what is nearest.
 */
export function clearFan(fan: Fan, cells: readonly Cell[], window: number): Fan {
  const near: number[] = [];
  const edges: number[] = [];
  for (const cell of cells) {
    const flat = flatten(fan, cell.positions);
    nearFan(fan, flat, window, near);
    nearAxis(cell, flat, window, edges);
  }
  if (near.length === 0 && edges.length === 0) return fan;
  let best = -1;
  let shift: [number, number] = [0, 0];
  for (let k = 0; k < 48; k++) {
    // a sunflower of places: even over the disc, in no line with any blade
    const r = window * 0.9 * Math.sqrt((k + 0.5) / 48);
    const a = k * 2.399963229728653 + 0.1;
    const [u, v] = [r * Math.cos(a), r * Math.sin(a)];
    const gap = Math.min(gapToEdges(edges, u, v), gapOf(fan, near, u, v, best));
    if (gap > best) {
      best = gap;
      shift = [u, v];
    }
  }
  const by = vecOf((i) => fan.x[i] * shift[0] + fan.y[i] * shift[1]);
  const { origin } = fan;
  return {
    ...fan,
    origin: [origin[0] + by[0], origin[1] + by[1], origin[2] + by[2]],
    blades: fan.blades.map((b) => ({ ...b, frame: atOffset(b.frame, b.frame.offset + dot(b.frame.normal, by)) })),
  };
}

/** The vertices in the fan's (x, y). */
function flatten({ origin, x, y }: Fan, p: Float64Array): Float64Array {
  const flat = new Float64Array((p.length / 3) * 2);
  for (let k = 0, i = 0; k < p.length; k += 3, i += 2) {
    const dx = p[k] - origin[0];
    const dy = p[k + 1] - origin[1];
    const dz = p[k + 2] - origin[2];
    flat[i] = x[0] * dx + x[1] * dy + x[2] * dz;
    flat[i + 1] = y[0] * dx + y[1] * dy + y[2] * dz;
  }
  return flat;
}

/** Adds (x, y) of every vertex near a half-plane to `near`. */
function nearFan({ blades }: Fan, flat: Float64Array, window: number, near: number[]): void {
  for (let i = 0; i < flat.length; i += 2) {
    const a = flat[i];
    const b = flat[i + 1];
    for (let h = 0; h < blades.length; h++) {
      const [c, s] = blades[h].ray;
      const d = c * b - s * a;
      if (d > window || d < -window || c * a + s * b < -window) continue;
      near.push(a, b);
      break;
    }
  }
}

/** Adds both ends of every edge that the axis nearly meets, those of caps included. */
function nearAxis({ triangles: t, caps }: Cell, flat: Float64Array, window: number, edges: number[]): void {
  const visit = (a: number, b: number): void => {
    const ax = flat[a * 2];
    const bx = flat[b * 2];
    if ((ax > window && bx > window) || (ax < -window && bx < -window)) return;
    const ay = flat[a * 2 + 1];
    const by = flat[b * 2 + 1];
    if ((ay > window && by > window) || (ay < -window && by < -window)) return;
    if (pointSegment2(0, 0, ax, ay, bx, by) <= (2 * window) ** 2) edges.push(ax, ay, bx, by);
  };
  for (let i = 0; i < t.length; i += 3) {
    visit(t[i], t[i + 1]);
    visit(t[i + 1], t[i + 2]);
    visit(t[i + 2], t[i]);
  }
  for (const l of caps.flatMap((c) => c.loops)) {
    for (let i = 0; i < l.length; i++) visit(l[i], l[(i + 1) % l.length]);
  }
}

function gapToEdges(edges: readonly number[], u: number, v: number): number {
  let gap = Infinity;
  for (let i = 0; i < edges.length; i += 4) {
    gap = Math.min(gap, pointSegment2(u, v, edges[i], edges[i + 1], edges[i + 2], edges[i + 3]));
  }
  return Math.sqrt(gap);
}

/** Least distance of the near vertices to any blade's plane after a shift; stops below `enough`. */
function gapOf(fan: Fan, near: readonly number[], u: number, v: number, enough: number): number {
  let gap = Infinity;
  for (const { ray } of fan.blades) {
    const [c, s] = ray;
    for (let i = 0; i < near.length; i += 2) {
      const d = Math.abs(c * (near[i + 1] - v) - s * (near[i] - u));
      if (d >= gap) continue;
      gap = d;
      if (gap <= enough) return gap;
    }
  }
  return gap;
}

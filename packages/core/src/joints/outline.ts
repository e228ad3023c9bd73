import type { Loop2 } from '../cut/index.ts';

/** Outlines a joint can have; the size of an angular one is measured across its flats. */
export type OutlineShape = 'round' | 'square' | 'hexagon';

/** How far a polygon may stray from the circle it stands for, mm. */
export const CHORD_ERROR = 0.005;

/**
 * A convex outline round (0, 0), counter-clockwise.
 *
 * size: diameter, or width across flats, mm; turn: radians, counter-clockwise. A round outline is a polygon inside the
 * circle, its chords at most `CHORD_ERROR` mm from it.
 */
export function outlineOf(shape: OutlineShape, size: number, turn: number): Loop2 {
  const corners = shape === 'square' ? 4 : shape === 'hexagon' ? 6 : circleCorners(size / 2);
  const radius = shape === 'round' ? size / 2 : size / 2 / Math.cos(Math.PI / corners);
  const start = turn + (shape === 'round' ? 0 : Math.PI / corners);
  const out = new Float64Array(corners * 2);
  for (let i = 0; i < corners; i++) {
    const a = start + (i / corners) * 2 * Math.PI;
    out[i * 2] = radius * Math.cos(a);
    out[i * 2 + 1] = radius * Math.sin(a);
  }
  return out;
}

function circleCorners(radius: number): number {
  const step = 2 * Math.acos(Math.max(0, 1 - CHORD_ERROR / radius));
  return Math.max(12, Math.ceil((2 * Math.PI) / step / 4) * 4);
}

/**
 * A convex counter-clockwise loop moved outward by `distance` mm (inward when negative) with mitred corners: every edge
 * of the result is exactly that far from its own edge.
 */
export function offsetConvex(loop: Loop2, distance: number): Loop2 {
  const n = loop.length / 2;
  const out = new Float64Array(loop.length);
  for (let i = 0; i < n; i++) {
    const p = ((i + n - 1) % n) * 2;
    const c = i * 2;
    const q = ((i + 1) % n) * 2;
    const [ax, ay] = outward(loop[p], loop[p + 1], loop[c], loop[c + 1]);
    const [bx, by] = outward(loop[c], loop[c + 1], loop[q], loop[q + 1]);
    const k = distance / (1 + ax * bx + ay * by);
    out[c] = loop[c] + (ax + bx) * k;
    out[c + 1] = loop[c + 1] + (ay + by) * k;
  }
  return out;
}

function outward(ax: number, ay: number, bx: number, by: number): [number, number] {
  const dx = bx - ax;
  const dy = by - ay;
  const l = Math.hypot(dx, dy);
  return [dy / l, -dx / l];
}

/** A loop moved by (u, v). */
export function movedLoop(loop: Loop2, u: number, v: number): Loop2 {
  return loop.map((x, i) => x + (i % 2 === 0 ? u : v));
}

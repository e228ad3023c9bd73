import type { Loop2 } from '../mesh/index.ts';

/** How far a polygon may stray from the circle it stands for, mm. */
export const CHORD_ERROR = 0.005;

/**
 * A convex outline round (0, 0), counter-clockwise, that can be drawn narrower: `at(inset)` has every side moved inwards
 * by `inset` mm (the flat of a D in proportion), the same number of corners and sides parallel to those of `at(0)`.
 * Valid for insets below `inradius`.
 */
export interface Outline {
  at(inset: number): Loop2;
  readonly inradius: number;
  /** whether it can turn in itself */
  readonly round: boolean;
}

/** A circle of a diameter in mm as a polygon inside it, its chords at most `CHORD_ERROR` mm from it; finer if wanted. */
export function circle(diameter: number, turn = 0, finer = 1): Outline {
  const n = circleCorners(diameter / 2) * finer;
  return {
    at: (inset) => arc(diameter / 2 - inset, turn, turn + ((n - 1) / n) * 2 * Math.PI, n),
    inradius: diameter / 2,
    round: true,
  };
}

/** A square, hexagon … by its width across flats, mm; with `corner` mm of rounding. */
export function regular(sides: number, flats: number, turn: number, corner = 0): Outline {
  const radius = flats / 2 / Math.cos(Math.PI / sides);
  const start = turn + Math.PI / sides;
  return rounded(arc(radius, start, start + ((sides - 1) / sides) * 2 * Math.PI, sides), flats / 2, corner);
}

/** A rectangle `width` along u and `height` along v before it is turned, mm. */
export function rectangle(width: number, height: number, turn: number, corner = 0): Outline {
  const [w, h] = [width / 2, height / 2];
  const base = turned(Float64Array.of(w, -h, w, h, -w, h, -w, -h), turn);
  return rounded(base, Math.min(w, h), corner);
}

/** How far the flat of a D is from its middle, as a share of the radius. */
const FLAT_SHARE = 0.7;

/** A circle with a flat below (before it is turned), so that it lies on the bed and cannot turn. */
export function flattened(diameter: number, turn: number): Outline {
  const radius = diameter / 2;
  const half = Math.acos(FLAT_SHARE);
  const n = circleCorners(radius);
  const from = turn - Math.PI / 2 + half;
  const at = (inset: number): Loop2 => arc(radius - inset, from, from + 2 * (Math.PI - half), n);
  return { at, inradius: FLAT_SHARE * radius, round: false };
}

/** The part of a disc beyond a chord `from` mm off its middle, along +u before it is turned: a prong of a split pin. */
export function segment(diameter: number, from: number, turn: number): Outline {
  const radius = diameter / 2;
  const half = Math.acos(from / radius);
  const n = Math.ceil(circleCorners(radius) / 2);
  return {
    at: (inset) => arc(radius - inset, turn - half, turn + half, n),
    inradius: (radius - from) / 2,
    round: false,
  };
}

/** Corners of a circle's polygon, a multiple of four. */
function circleCorners(radius: number): number {
  const step = 2 * Math.acos(Math.max(0, 1 - CHORD_ERROR / radius));
  return Math.max(12, Math.ceil((2 * Math.PI) / step / 4) * 4);
}

/** A circle's points from one angle to another, both among them. */
export function arc(radius: number, from: number, to: number, count: number): Loop2 {
  const out = new Float64Array(count * 2);
  for (let i = 0; i < count; i++) {
    const a = from + ((to - from) * i) / (count - 1);
    out[i * 2] = radius * Math.cos(a);
    out[i * 2 + 1] = radius * Math.sin(a);
  }
  return out;
}

/** A polygon whose corners are arcs; the arcs keep their middles when the outline gets narrower. */
function rounded(base: Loop2, inradius: number, corner: number): Outline {
  const r = Math.min(corner, inradius * 0.999);
  if (r <= 0) return { at: (inset) => offsetConvex(base, -inset), inradius, round: false };
  const middles = offsetConvex(base, -r);
  const n = base.length / 2;
  const steps = Math.max(2, Math.ceil(circleCorners(r) / n));
  return {
    at(inset) {
      const out = new Float64Array(n * (steps + 1) * 2);
      const radius = Math.max(r - inset, 1e-3);
      for (let i = 0; i < n; i++) {
        const [px, py] = outward(base, (i + n - 1) % n);
        const [qx, qy] = outward(base, i);
        const from = Math.atan2(py, px);
        const sweep = Math.atan2(px * qy - py * qx, px * qx + py * qy);
        for (let s = 0; s <= steps; s++) {
          const a = from + (sweep * s) / steps;
          const k = (i * (steps + 1) + s) * 2;
          out[k] = middles[i * 2] + radius * Math.cos(a);
          out[k + 1] = middles[i * 2 + 1] + radius * Math.sin(a);
        }
      }
      return out;
    },
    inradius,
    round: false,
  };
}

/** Outward unit normal of the side from corner i to the next. */
export function outward(l: Loop2, i: number): [number, number] {
  const n = l.length / 2;
  const k = ((i + 1) % n) * 2;
  const dx = l[k] - l[i * 2];
  const dy = l[k + 1] - l[i * 2 + 1];
  const length = Math.hypot(dx, dy);
  return [dy / length, -dx / length];
}

/**
 * A convex counter-clockwise loop whose sides are moved outward, side i by `by(i, m)` mm along its normal m, with mitred
 * corners: every side of the result is exactly that far from its own.
 */
export function offsetSides(loop: Loop2, by: (side: number, normal: readonly [number, number]) => number): Loop2 {
  const n = loop.length / 2;
  const out = new Float64Array(loop.length);
  let a = outward(loop, n - 1);
  let da = by(n - 1, a);
  for (let i = 0; i < n; i++) {
    const b = outward(loop, i);
    const db = by(i, b);
    const sine = a[0] * b[1] - a[1] * b[0];
    // sides in one line have no corner between them
    const [x, y] =
      Math.abs(sine) < 1e-9
        ? [((a[0] + b[0]) / 2) * da, ((a[1] + b[1]) / 2) * da]
        : [(da * b[1] - db * a[1]) / sine, (db * a[0] - da * b[0]) / sine];
    out[i * 2] = loop[i * 2] + x;
    out[i * 2 + 1] = loop[i * 2 + 1] + y;
    a = b;
    da = db;
  }
  return out;
}

/** All sides moved outward by `distance` mm (inward when negative). */
export const offsetConvex = (loop: Loop2, distance: number): Loop2 => offsetSides(loop, () => distance);

/** A loop moved by (u, v). */
export function movedLoop(loop: Loop2, u: number, v: number): Loop2 {
  const out = new Float64Array(loop.length);
  for (let i = 0; i < loop.length; i += 2) {
    out[i] = loop[i] + u;
    out[i + 1] = loop[i + 1] + v;
  }
  return out;
}

function turned(loop: Loop2, angle: number): Loop2 {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const out = new Float64Array(loop.length);
  for (let i = 0; i < loop.length; i += 2) {
    out[i] = c * loop[i] - s * loop[i + 1];
    out[i + 1] = s * loop[i] + c * loop[i + 1];
  }
  return out;
}

import { GephyraError } from '../errors.ts';
import {
  cross,
  dot,
  type IndexedMesh,
  normalize,
  pointAlong,
  scale,
  squareTo,
  sub,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';
import { unionOf } from './combine.ts';
import { hullMesh } from './hull.ts';
import type { Kernel } from './kernel.ts';

/** The middle of a bore: points close together, each with the way it runs there (unit). */
export interface Route {
  readonly line: readonly { readonly at: Vec3; readonly way: Vec3 }[];
  /** along the line, mm */
  readonly length: number;
}

/** A drawn line and its chords are no farther apart than this, mm. */
const CHORD = 0.02;
/** Points nearer than this are one, mm. */
const SAME = 1e-6;

/**
 * The line through some points, its corners rounded with a radius:
 *
 *     a ──────╮  radius        Each corner takes radius · tan(turn / 2) of the straights beside it.
 *             │
 *             b
 *
 * Throws GephyraError `bore.route` for fewer than two different points, `bore.bend` where a corner has too little straight
 * beside it, or turns right back.
 */
export function routeThrough(points: readonly Vec3[], radius: number): Route {
  const own = points.filter((p, i) => i === 0 || Math.hypot(...sub(p, points[i - 1])) > SAME);
  if (own.length < 2) throw new GephyraError('bore.route', 'A bore needs two places that are not the same.');
  const ways = own.slice(1).map((p, i) => normalize(sub(p, own[i])));
  const turns = ways.slice(1).map((w, i) => Math.acos(Math.max(-1, Math.min(1, dot(ways[i], w)))));
  const taken = [0, ...turns.map((t) => radius * Math.tan(t / 2)), 0];
  ways.forEach((_, i) => {
    const straight = Math.hypot(...sub(own[i + 1], own[i]));
    const need = taken[i] + taken[i + 1];
    if (need <= straight * (1 + 1e-9)) return;
    const said = (x: number): string =>
      Number.isFinite(x) && x < 1e6 ? `${Number(x.toFixed(1))} mm` : 'more than there can be';
    throw new GephyraError(
      'bore.bend',
      `Between place ${i + 1} and place ${i + 2} the bends take ${said(need)}, and there are ${said(straight)}. Move them apart, or bend with a smaller radius.`,
    );
  });
  const line = [{ at: own[0], way: ways[0] }];
  turns.forEach((turn, i) => {
    const [corner, into, out] = [own[i + 1], ways[i], ways[i + 1]];
    if (turn < 1e-6) return;
    const start = pointAlong(corner, into, -taken[i + 1]);
    const steps = Math.max(1, Math.ceil(turn / (2 * Math.acos(Math.max(0.5, 1 - CHORD / Math.max(radius, CHORD))))));
    // square to the way, in the plane of the corner, towards the middle of the bend
    const inward = normalize(sub(out, scale(into, dot(into, out))));
    const middle = pointAlong(start, inward, radius);
    for (let k = 0; k <= steps; k++) {
      const a = (turn * k) / steps;
      const out2 = vecOf((x) => into[x] * Math.sin(a) - inward[x] * Math.cos(a));
      line.push({
        at: pointAlong(middle, out2, radius),
        way: vecOf((x) => into[x] * Math.cos(a) + inward[x] * Math.sin(a)),
      });
    }
  });
  line.push({ at: own[own.length - 1], way: ways[ways.length - 1] });
  const length = line.slice(1).reduce((sum, p, i) => sum + Math.hypot(...sub(p.at, line[i].at)), 0);
  return { line, length };
}

/** The radius in which what runs through a bore is bent where none is asked for, by its diameter, mm. */
export const usualBend = (diameter: number): number => 1.5 * diameter;

const SIDES = 48;
const INTO = 0.05;

/** How a bore ends: on through the skin, with its mouth widened by so much at 45°, mm; or blind, at the last place. */
export interface Ends {
  readonly mouth: number;
  readonly blind: boolean;
  /** both ends are wider to a depth, for a head or a collar */
  readonly sink?: { readonly diameter: number; readonly depth: number } | undefined;
  /** a slot for a strap: so much wider than thick, and how far it is turned about its way, radians */
  readonly slot?: { readonly wider: number; readonly turn: number } | undefined;
}

/**
 * What a bore takes away: a rod along a route, round or a slot, in which a ball of its diameter passes everywhere. At its ends it goes on
 * for a diameter, so that slanting skin is met, too. Throws GephyraError `solid.refused`.
 */
export function boreSolid(kernel: Kernel, { line }: Route, diameter: number, ends: Ends): IndexedMesh {
  const { mouth, blind, sink, slot } = ends;
  // corners of a polygon outside the circle, and as much more as bends lose between two places
  const bore = (diameter / 2 + (line.length > 2 ? CHORD : 0)) / Math.cos(Math.PI / SIDES);
  const [first, last] = [line[0], line[line.length - 1]];
  const on = [
    { at: pointAlong(first.at, first.way, -diameter - mouth), way: first.way },
    ...line,
    ...(blind ? [] : [{ at: pointAlong(last.at, last.way, diameter + mouth), way: last.way }]),
  ];
  const frames = framesAlong(on, slot?.turn);
  const half = (slot?.wider ?? 0) / 2;
  const section = (at: Vec3, frame: Across, radius: number): Vec3[] => circle(at, frame, radius, half);
  const solids = on.slice(1).flatMap((p, i) => {
    if (Math.hypot(...sub(p.at, on[i].at)) < SAME) return [];
    // a little into its neighbours: solids that only touch would keep a film between them
    const [from, to] = [pointAlong(on[i].at, on[i].way, -INTO), pointAlong(p.at, p.way, INTO)];
    return [hullMesh(kernel, [...section(from, frames[i], bore), ...section(to, frames[i + 1], bore)])];
  });
  if (mouth > 0) {
    const widened = ({ at, way }: Route['line'][number], out: 1 | -1, frame: Across): IndexedMesh =>
      hullMesh(kernel, [
        ...section(pointAlong(at, way, -out * mouth), frame, bore),
        ...section(pointAlong(at, way, out * diameter), frame, bore + mouth + diameter),
      ]);
    solids.push(widened(first, -1, frames[0]));
    if (!blind) solids.push(widened(last, 1, frames[frames.length - 1]));
  }
  if (sink) {
    const radius = sink.diameter / 2 / Math.cos(Math.PI / SIDES);
    const sunk = ({ at, way }: Route['line'][number], out: 1 | -1, frame: Across): IndexedMesh =>
      hullMesh(kernel, [
        ...circle(pointAlong(at, way, -out * sink.depth), frame, radius),
        ...circle(pointAlong(at, way, out * (sink.diameter + mouth)), frame, radius),
      ]);
    solids.push(sunk(first, -1, frames[0]));
    if (!blind) solids.push(sunk(last, 1, frames[frames.length - 1]));
  }
  return unionOf(kernel, solids);
}

/** Two directions square to a way. */
type Across = readonly [Vec3, Vec3];

/** Two directions square to the way at each place, turned as little as can be from one place to the next; the first by an angle. */
export function framesAlong(line: Route['line'], turn = 0): Across[] {
  const [{ way }] = line;
  const start = squareTo(way);
  const across = cross(way, start);
  let u = vecOf((k) => start[k] * Math.cos(turn) + across[k] * Math.sin(turn));
  return line.map((p) => {
    u = normalize(sub(u, scale(p.way, dot(u, p.way))));
    return [u, cross(p.way, u)] as const;
  });
}

/** A circle, or with `half` two of them drawn apart by that to either side. */
const circle = (at: Vec3, [u, v]: Across, radius: number, half = 0): Vec3[] =>
  Array.from({ length: SIDES }, (_, i) => {
    const a = ((i + 0.5) / SIDES) * 2 * Math.PI;
    const along = radius * Math.cos(a) + half * Math.sign(Math.cos(a));
    return vecOf((k) => at[k] + u[k] * along + v[k] * radius * Math.sin(a));
  });

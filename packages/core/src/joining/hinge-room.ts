import { atOffset, type Frame, fromFrame, type Loop2 } from '../cut/index.ts';
import type { HingeRoom, Prism } from '../joints/index.ts';
import type { IndexedMesh } from '../mesh/index.ts';
import type { MatingFace } from '../seams/index.ts';
import type { Reshaping } from '../solid/index.ts';
import { ringMesh } from './loose.ts';
import { reachOf } from './swing-room.ts';

/** What is taken off begins so far before the face, and the bore ends so far beyond the skin, mm. */
const OVER = 0.05;
const BEYOND = 2;
/** Steps of the arc in which what opens sweeps, radians, and slices by which it is measured. */
const STEP = 0.2;
const SLICES = 4;
/** How far chords of knuckles and rooms lie inside their corners, mm. */
const CHORD = 0.003;

/** A hinge at its place on a side of its face. */
interface HingeAt {
  readonly hinge: HingeRoom;
  readonly frame: Frame;
  readonly at: readonly [u: number, v: number];
  /** +1: the neighbour lies along the normal */
  readonly direction: 1 | -1;
}

/** Section square to the axis: across it (to its left) and from the face towards the neighbour, counter-clockwise seen against the axis. */
type Section = readonly (readonly [across: number, height: number])[];

/** What is between two places along the axis, of one section, whose first corner sees all others. */
function bar(
  { hinge, frame, at: [u, v], direction }: HingeAt,
  section: Section,
  from: number,
  to: number,
): IndexedMesh {
  const [c, s] = hinge.axis;
  const points = direction > 0 ? section : [section[0], ...section.slice(1).reverse()];
  return ringMesh(
    [from, to].map((along) =>
      points.map(([across, height]) => [
        ...fromFrame(frame, u + along * c - across * s, v + along * s + across * c, direction * height),
      ]),
    ),
  );
}

/** A circle about the axis, its chords as far inside as their corners are outside of it. */
function round(radius: number): Section {
  const n = Math.ceil(Math.PI / Math.acos(1 - CHORD / radius));
  const out = (2 * radius) / (1 + Math.cos(Math.PI / n));
  return Array.from({ length: n }, (_, i): [number, number] => {
    const a = (2 * Math.PI * (i + 0.5)) / n;
    return [out * Math.cos(a), out * Math.sin(a)];
  });
}

/** From the face to where it comes to when it has opened: `far` mm on the axis' right. */
function sweep(opens: number, far: number): Section {
  const steps = Math.ceil(opens / STEP);
  const out = far / Math.cos(opens / steps / 2);
  const arc = Array.from({ length: steps + 1 }, (_, i): [number, number] => {
    const a = Math.PI + (opens * i) / steps;
    return [out * Math.cos(a), out * Math.sin(a)];
  });
  return [[0, 0], [0, OVER], [-out, OVER], ...arc];
}

/**
 * What makes a hinge of a piece: room for the neighbour's knuckles and, on the own side, for the neighbour's face as it opens;
 * knuckles; the bore through all of it, out to the skin at both ends.
 */
export function hingeSteps(
  hinge: HingeRoom,
  face: MatingFace,
  at: readonly [number, number],
  frame: Frame,
  direction: 1 | -1,
  side: 'own' | 'other',
): Reshaping[] {
  const here = { hinge, frame, at, direction };
  const [knuckles, rooms] = side === 'own' ? [hinge.own, hinge.other] : [hinge.other, hinge.own];
  const far = reachOf(face, ...at);
  const gap = hinge.room - hinge.radius;
  const off = rooms.map(([from, to]) => bar(here, round(hinge.room), from - gap, to + gap));
  if (side === 'own') off.push(bar(here, sweep(hinge.opens, far), -far, far));
  const [before, beyond] = boreEnds(hinge, face.region, at);
  return [
    { does: 'take', meshes: off },
    { does: 'add', meshes: knuckles.map(([from, to]) => bar(here, round(hinge.radius), from, to)) },
    { does: 'take', meshes: [bar(here, round(hinge.bore), before, beyond)] },
  ];
}

/** Where the bore comes out along the axis, either way from the hinge: beyond the nearest rim of its face, mm from its place. */
function boreEnds(
  { axis: [c, s], own, other, bore }: HingeRoom,
  { outer2, holes2 }: MatingFace['region'],
  [u, v]: readonly [number, number],
): [number, number] {
  const ends = [...own, ...other].flat();
  return [-1, 1].map((way) => {
    const end = Math.max(...ends.map((e) => way * e));
    const met = [-bore, 0, bore].map((across) =>
      Math.min(
        ...[outer2, ...holes2]
          .flatMap((loop) => crossings(loop, [u - across * s, v + across * c], [way * c, way * s]))
          .filter((t) => t > end),
      ),
    );
    const out = Math.max(end, ...met.filter(Number.isFinite));
    return way * (out + 2 * bore + BEYOND);
  }) as [number, number];
}

/** How far along a line a loop is crossed. */
function crossings(loop: Loop2, [x, y]: readonly [number, number], [dx, dy]: readonly [number, number]): number[] {
  const out: number[] = [];
  const side = (i: number): number => dx * (loop[i + 1] - y) - dy * (loop[i] - x);
  for (let i = 0, j = loop.length - 2; i < loop.length; j = i, i += 2) {
    const [a, b] = [side(j), side(i)];
    if (a < 0 === b < 0) continue;
    const t = a / (a - b);
    const [px, py] = [loop[j] + t * (loop[i] - loop[j]), loop[j + 1] + t * (loop[i + 1] - loop[j + 1])];
    out.push(dx * (px - x) + dy * (py - y));
  }
  return out;
}

/** What is taken off the own piece as it opens, in slices that hold it, that others keep clear of. `inward`: +1 where the piece lies along the normal. */
export function hingePrisms(
  { axis: [c, s], opens }: HingeRoom,
  face: MatingFace,
  at: readonly [number, number],
  frame: Frame,
  inward: 1 | -1,
): Prism[] {
  const far = reachOf(face, ...at);
  const deep = far * Math.sin(Math.min(opens, Math.PI / 2));
  return Array.from({ length: SLICES }, (_, i) => {
    const [from, to] = [(i * deep) / SLICES, ((i + 1) * deep) / SLICES];
    const right = -far;
    const left = opens < Math.PI / 2 ? -from / Math.tan(opens) : Math.min(far, -to / Math.tan(opens));
    const outline = Float64Array.from(
      [
        [-far, right],
        [far, right],
        [far, left],
        [-far, left],
      ].flatMap(([along, across]) => [at[0] + along * c - across * s, at[1] + along * s + across * c]),
    );
    return {
      frame: from === 0 ? frame : atOffset(frame, frame.offset + inward * from),
      outline,
      depth: to - from,
      direction: inward,
    };
  });
}

import { atOffset, fromFrame, makeFrame } from '../../../cut/index.ts';
import { crossingsAlong, dot, type IndexedMesh, ringMesh, sub, tubeMesh, vecOf } from '../../../mesh/index.ts';
import { type Carving, type Room, type RoomPlace, reachOf, type Sweep } from '../../rooms.ts';
import type { Prism } from '../../wall.ts';

/** What is taken off begins so far before the face, and the bore ends so far beyond the skin, mm. */
const OVER = 0.05;
const BEYOND = 2;
/** Steps of the arc in which what opens sweeps, radians, and slices by which it is measured. */
const STEP = 0.2;
const SLICES = 4;
/** How far chords of knuckles and rooms lie inside their corners, mm: half of it outside their circle, half inside. */
const CHORD = 0.0048;

/** A knuckle's own bore is so much wider than that in the piece, that their walls do not coincide, mm. */
const STEP_IN_BORE = 0.001;
/** Stretches of the bore are no longer than so many of its radii. */
const PART = 18;

/**
 * Knuckles round an axis that lies in the face, through the joint's place; lengths in mm, along the axis from that place on.
 *
 *   own     |##|  |##|  |##|
 *        ---|##|##|##|##|##|---  face, and axis
 *   other      |##|  |##|
 */
export interface Knuckles {
  /** the axis in (u, v), unit; what opens is on its left */
  readonly axis: readonly [number, number];
  /** radius of the knuckles, of the room round them (as much is beyond their ends), and of the bore for the pin */
  readonly radius: number;
  readonly room: number;
  readonly bore: number;
  /** where knuckles begin and end: those of the own piece, and of its neighbour */
  readonly own: readonly (readonly [number, number])[];
  readonly other: readonly (readonly [number, number])[];
  /** how far it opens, radians; so far the own piece is taken off on the axis' right */
  readonly opens: number;
}

/** What a hinge is made of: in both pieces bore, knuckles and rooms for the others; of the own one goes what it opens over. */
export const hingeRooms = (hinge: Knuckles): Room[] => [
  {
    side: 'own',
    outlines: [],
    prisms: (place) => prismsOf(hinge, place),
    carving: (place) => carvingOf(hinge, place, 'own'),
  },
  { side: 'other', outlines: [], prisms: () => [], carving: (place) => carvingOf(hinge, place, 'other') },
];

/** A hinge at its place on a side of its face. */
type HingeAt = Pick<RoomPlace, 'frame' | 'at' | 'direction'> & { readonly hinge: Knuckles };

/** Section square to the axis: across it (to its left) and from the face towards the neighbour, counter-clockwise seen against the axis. */
type Section = readonly (readonly [across: number, height: number])[];

/** A section at a place along the axis, its first corner first. */
function ring({ hinge, frame, at: [u, v], direction }: HingeAt, section: Section, along: number): number[][] {
  const [c, s] = hinge.axis;
  const points = direction > 0 ? section : [section[0], ...section.slice(1).reverse()];
  return points.map(([across, height]) => [
    ...fromFrame(frame, u + along * c - across * s, v + along * s + across * c, direction * height),
  ]);
}

/** Corners of a circle whose chords lie so far inside them, mm. */
const cornersOf = (radius: number, chord: number): number => Math.ceil(Math.PI / Math.acos(1 - chord / radius));
/** Corners of rooms and of what turns in them, and of the bores: the step between these counts, too. */
const cornersOfRoom = ({ room }: Knuckles): number => cornersOf(room, CHORD);
const cornersOfBore = ({ bore }: Knuckles): number => cornersOf(bore, CHORD - 2 * STEP_IN_BORE);

/** A circle about the axis: its chords lie as far inside it as its corners outside. */
function round(radius: number, n: number): Section {
  const out = (2 * radius) / (1 + Math.cos(Math.PI / n));
  return Array.from({ length: n }, (_, i): [number, number] => {
    const a = (2 * Math.PI * (i + 0.5)) / n;
    return [out * Math.cos(a), out * Math.sin(a)];
  });
}

/**
 * The bore from one place to another along the axis, with rooms for knuckles, as one solid of revolution.
 *
 *          ____      ____
 *    _____|    |____|    |_____
 *    _____      ____      _____   axis in the middle
 *         |____|    |____|
 */
function shaft(
  here: HingeAt,
  rooms: readonly (readonly [number, number])[],
  before: number,
  beyond: number,
): IndexedMesh {
  const { room, bore } = here.hinge;
  const [narrow, wide] = [round(bore, cornersOfBore(here.hinge)), round(room, cornersOfRoom(here.hinge))];
  const rings: number[][][] = [];
  // long stretches in parts: the kernel compares long facets with all that lies beside them
  const stretch = (from: number, to: number): void => {
    const parts = Math.ceil((to - from) / (PART * bore));
    for (let i = 0; i <= parts; i++) rings.push(ring(here, narrow, from + ((to - from) * i) / parts));
  };
  let at = before;
  for (const [from, to] of rooms) {
    stretch(at, from);
    rings.push(ring(here, wide, from), ring(here, wide, to));
    at = to;
  }
  stretch(at, beyond);
  return ringMesh(rings);
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
 * What makes a hinge of a piece: off goes, on the own side, what the neighbour's face sweeps as it opens; then room
 * goes for the neighbour's knuckles, and the bore out to the skin at both ends; then knuckles are added, bored already.
 */
function carvingOf(hinge: Knuckles, { frame, region, at, direction }: RoomPlace, side: Room['side']): Carving {
  const here = { hinge, frame, at, direction };
  const { along, across } = directions(here);
  const [knuckles, rooms] = side === 'own' ? [hinge.own, hinge.other] : [hinge.other, hinge.own];
  const gap = hinge.room - hinge.radius;
  const [before, beyond] = boreEnds(hinge, region, at);
  const off = shaft(
    here,
    rooms.map(([from, to]) => [from - gap, to + gap]),
    before,
    beyond,
  );
  // with as many corners as what they face, so that the gap is the same all round
  const outside = round(hinge.radius, cornersOfRoom(hinge));
  const bore = round(hinge.bore + STEP_IN_BORE, cornersOfBore(hinge));
  const knuckle = ([from, to]: readonly [number, number]): IndexedMesh =>
    tubeMesh([ring(here, outside, from), ring(here, outside, to), ring(here, bore, to), ring(here, bore, from)]);
  return {
    ...(side === 'own' && { sweep: sweepOf(here, reachOf(region, at)) }),
    steps: [
      { does: 'take', meshes: [off] },
      { does: 'add', meshes: knuckles.map(knuckle) },
    ],
    along,
    across,
  };
}

/** Along the axis, to its left, and from the face towards the neighbour; unit. */
function directions({
  hinge: {
    axis: [c, s],
  },
  frame: { u, v, normal },
  direction,
}: HingeAt) {
  return {
    along: vecOf((k) => c * u[k] + s * v[k]),
    across: vecOf((k) => c * v[k] - s * u[k]),
    out: vecOf((k) => direction * normal[k]),
  };
}

function sweepOf(here: HingeAt, far: number): Sweep {
  const { opens } = here.hinge;
  const { along, across, out } = directions(here);
  const origin = fromFrame(here.frame, ...here.at);
  const section = sweep(opens, far);
  return {
    plane: makeFrame(
      origin,
      vecOf((k) => Math.cos(opens) * out[k] - Math.sin(opens) * across[k]),
    ),
    holds: (at) => {
      const d = sub(at, origin);
      const [right, height] = [dot(d, across), dot(d, out)];
      return height <= OVER && Math.abs(dot(d, along)) <= far && Math.sqrt(right * right + height * height) <= far;
    },
    meshes: [ringMesh([ring(here, section, -far), ring(here, section, far)])],
  };
}

/** Where the bore comes out along the axis, either way from the hinge: beyond the nearest rim of its face, mm from its place. */
function boreEnds(
  { axis: [c, s], own, other, bore }: Knuckles,
  { outer2, holes2 }: RoomPlace['region'],
  [u, v]: readonly [number, number],
): [number, number] {
  const ends = [...own, ...other].flat();
  return [-1, 1].map((way) => {
    const end = Math.max(...ends.map((e) => way * e));
    const met = [-bore, 0, bore].map((across) =>
      Math.min(
        ...[outer2, ...holes2]
          .flatMap((loop) => crossingsAlong(loop, [u - across * s, v + across * c], [way * c, way * s]))
          .filter((t) => t > end),
      ),
    );
    const out = Math.max(end, ...met.filter(Number.isFinite));
    return way * (out + 2 * bore + BEYOND);
  }) as [number, number];
}

/** What is taken off the own piece as it opens, in slices that hold it, that others keep clear of. */
function prismsOf({ axis: [c, s], opens }: Knuckles, { frame, region, at, inward }: RoomPlace): Prism[] {
  const far = reachOf(region, at);
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

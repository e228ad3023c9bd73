import { atOffset, closedMesh, fromFrame, type Solid } from '../../../cut/index.ts';
import {
  type Blocks,
  buildBlocks,
  cross,
  dot,
  type IndexedMesh,
  type Loop2,
  normalize,
  rayHits,
  ringMesh,
  type Vec3,
} from '../../../mesh/index.ts';
import type { Ring } from '../../form.ts';
import { type Exit, type Room, type RoomPlace, ringAt } from '../../rooms.ts';
import { slabsOf } from '../../slabs.ts';

/** A hole begins so far outside the face, and ends so far outside the skin, mm. */
const OVER = 0.05;
const CLEAR = 1;
/** Rays begin so far below a place, mm. */
const INSIDE = 1e-3;
/** A hole and the way of a head are taken as no shorter than this, mm. */
const LEAST_HOLE = 0.2;
const LEAST_WAY = 0.5;

/** A hole through the own piece to its outside: narrow from the face to where a head rests, as wide as that from there on. */
export interface Shaft {
  readonly hole: readonly [Ring, Ring];
  readonly head: Ring;
}

/** The room of a screw in the piece that its head is in. */
export const shaftRoom = (shaft: Shaft): Room => ({
  side: 'own',
  outlines: [shaft.hole[0].loop, shaft.head.loop],
  exit: (place, solid) => exitOf(shaft, place, solid),
  prisms: (place, exit) => [...holeSlabs(shaft, place), ...headSlabs(shaft, place, exit)],
  // it is open at its end, so only what lies beside it is a wall
  walled: (place, exit, wall) =>
    holeSlabs(shaft, place).map((slab) => ({
      ...slab,
      depth: Math.max(LEAST_HOLE, Math.min(slab.depth, (exit?.least ?? 0) - wall)),
    })),
  carving: (place, exit) =>
    exit && {
      steps: [{ does: 'take', meshes: [cutterOf(shaft, place, exit.most + CLEAR)] }],
      along: place.axis,
      across: normalize(cross(place.axis, place.frame.v)),
    },
});

const holeSlabs = ({ hole }: Shaft, { frame, inward }: RoomPlace) =>
  slabsOf({ kind: 'socket', rings: hole }, frame, inward);

function headSlabs({ head }: Shaft, { frame, inward }: RoomPlace, exit: Exit | null) {
  const from = head.height;
  const out = { ...head, height: Math.max(LEAST_WAY, (exit?.most ?? 0) - from) };
  return slabsOf(
    { kind: 'socket', rings: [{ ...head, height: 0 }, out] },
    atOffset(frame, frame.offset + inward * from),
    inward,
  );
}

const blocks = new WeakMap<Solid, Blocks>();
function blocksOf(solid: Solid): Blocks {
  let known = blocks.get(solid);
  if (!known) {
    known = buildBlocks(closedMesh(solid, () => 0));
    blocks.set(solid, known);
  }
  return known;
}

/** A ring of the head, moved along its axis to another height. */
function headAt({ hole: [a, b], head }: Shaft, height: number): Loop2 {
  const rise = b.height - a.height;
  const [s, t] = [0, 1].map((k) => (rise > 0 ? (b.loop[k] - a.loop[k]) / rise : 0));
  return head.loop.map((x, i) => x + (i % 2 === 0 ? s : t) * (height - head.height));
}

/** Where the head comes out of its piece, along its axis from the face. */
function exitOf(shaft: Shaft, { axis, frame, inward }: RoomPlace, solid: Solid): Exit {
  const way: Vec3 = [-axis[0], -axis[1], -axis[2]];
  const rise = Math.abs(dot(way, frame.normal));
  // where the way out meets the surface, from a height on; an edge that two triangles share is met once
  const metFrom = (loop: Loop2, i: number, height: number): number[] =>
    rayHits(blocksOf(solid), fromFrame(frame, loop[i], loop[i + 1], inward * (height + INSIDE)), way)
      .map((t) => height + INSIDE + t * rise)
      .sort((a, b) => a - b)
      .filter((t, k, list) => k === 0 || t - list[k - 1] > 1e-6);
  const { height } = shaft.head;
  const [face, seat] = [headAt(shaft, 0), shaft.head.loop];
  const outAt = (i: number): number => {
    for (const met of [metFrom(seat, i, height), metFrom(face, i, 0)]) if (met.length % 2 === 1) return met[0];
    return 0;
  };
  let [least, most] = [Infinity, 0];
  for (let i = 0; i < seat.length; i += 2) {
    const out = outAt(i);
    least = Math.min(least, out);
    most = Math.max(most, out);
  }
  const along = metFrom(middleOf(seat), 0, height);
  return { least, most: Math.max(most, along[0] ?? 0), barred: along[1] ?? null };
}

function middleOf(loop: Loop2): Loop2 {
  const sum = Float64Array.of(0, 0);
  for (let i = 0; i < loop.length; i++) sum[i % 2] += (2 * loop[i]) / loop.length;
  return sum;
}

/** What is taken out, from a little before the face to `end` mm behind it. */
function cutterOf(shaft: Shaft, place: RoomPlace, end: number): IndexedMesh {
  const { hole, head } = shaft;
  return ringMesh([
    ringAt(place, hole[0].loop, -OVER),
    ringAt(place, hole[1].loop, hole[1].height),
    ringAt(place, head.loop, head.height),
    ringAt(place, headAt(shaft, end), end),
  ]);
}

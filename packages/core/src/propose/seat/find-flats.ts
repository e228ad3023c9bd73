import { makeFrame } from '../../cut/index.ts';
import { type Flat, type Seam, wallLimits } from '../../document/index.ts';
import type { Evaluation } from '../../evaluate/index.ts';
import {
  add,
  distanceTo,
  dot,
  inverse,
  mapNormal,
  mapPoint,
  normalize,
  scale,
  sub,
  treeOf,
  triangleCross,
  type Vec3,
} from '../../mesh/index.ts';
import { flatsOf, inZone, placeZone, wallOfTag } from '../../seams/index.ts';
import { radians } from '../../units.ts';

export interface FlatWish {
  /** mm; without it as large as there is room, from 8 to 22 */
  readonly diameter?: number;
  /** on each piece on the seam's + side */
  readonly most?: number;
}

const SMALLEST = 8;
const LARGEST = 22;
/** Half of a wall that is too thin for any joint, mm. */
const THINNEST = 0.8;
/** From middle to middle, mm. */
const APART = 40;
/** Samples of a bent face; where its triangles are many more, as many as this are taken of them. */
const SAMPLES = 1500;
const MOST_SAMPLES = 6000;
/** Places of a piece that are looked at in vain before it is given up, and how far round each is given up with it, mm. */
const MOST_TRIES = 60;
const BESIDE = 2;
/** The face may turn so far within a flat. */
const BENT = Math.cos(radians(35));

/** Faces that look more ways than this, as a share of those that look one way, slide out along themselves: flats would lock them. */
const ONE_WAY = 0.5;

/** A place of a bent face. */
interface Sample {
  readonly at: Vec3;
  /** out of the piece on the + side */
  readonly out: Vec3;
  /** to the rim of the face, of either piece there, mm */
  readonly room: number;
  readonly piece: string;
}

/**
 * Places for flats on the bent faces of a seam, far apart and where there is most room, none in a zone to keep clear, and none
 * where the faces look all ways, as round a core that slides out along its axis. Flats
 * that are there already keep theirs. Without chance: the same evaluation gives the same flats.
 */
export function findFlats(e: Evaluation, seam: Seam, { diameter, most = 4 }: FlatWish = {}): Flat[] {
  const { plan } = e.context;
  const wall = wallLimits(plan.printer).warn;
  const least = (diameter ?? SMALLEST) / 2 + wall;
  const zones = plan.zones.map((z) => placeZone(z, e.map));
  const all = samplesOf(e, seam).filter((s) => !zones.some((z) => inZone(z, s.at)));
  // where no flat has room within the face it goes right across: the middle of a thin wall
  const widest = all.reduce((most, s) => Math.max(most, s.room), 0);
  const enough = Math.max(THINNEST, Math.min(least, widest / 2));
  const samples = all.filter((s) => s.room >= enough);
  const largest = ({ room }: Sample): number =>
    Math.floor(Math.min(LARGEST, room < least ? Math.max(SMALLEST, 4 * room) : 2 * (room - wall)));
  const back = inverse(e.map);
  const frame = makeFrame(seam.origin, seam.normal, seam.up);
  const inFrame = (d: Vec3): [number, number, number] => [
    rounded(dot(d, frame.u)),
    rounded(dot(d, frame.v)),
    rounded(dot(d, frame.normal)),
  ];
  const flats: Flat[] = [];
  const taken = new Set(flatsOf(seam).map((f) => f.n));
  for (const piece of [...new Set(samples.map((s) => s.piece))].sort()) {
    const own = samples.filter((s) => s.piece === piece);
    const places: Sample[] = [];
    let left = own;
    for (let tries = 0; tries < MOST_TRIES && places.length < most && left.length > 0; tries++) {
      const clear = (s: Sample): number => Math.min(3 * APART, ...places.map((p) => Math.hypot(...sub(p.at, s.at))));
      const worth = (s: Sample): number => Math.min(s.room, LARGEST / 2 + wall) * clear(s);
      const first = left.reduce((a, b) => (worth(b) > worth(a) + 1e-9 ? b : a));
      // in the middle of its surroundings
      const best = left.reduce(
        (a, b) => (b.room > a.room + 1e-9 && Math.hypot(...sub(b.at, first.at)) < SMALLEST ? b : a),
        first,
      );
      if (clear(best) < APART) break;
      left = left.filter((s) => Math.hypot(...sub(s.at, best.at)) > BESIDE);
      const size = diameter ?? largest(best);
      const out = outOf(own, best, size / 2);
      if (!out) continue;
      places.push(best);
      let n = 0;
      while (taken.has(n)) n++;
      taken.add(n);
      flats.push({
        n,
        at: inFrame(sub(mapPoint(back, best.at), frame.origin)),
        normal: inFrame(normalize(mapNormal(back, scale(out, -1)))),
        diameter: size,
      });
    }
  }
  return flats;
}

const rounded = (x: number): number => Number(x.toFixed(6));

/** The mean way out of a face within a radius of a place; null where it bends too much for that. */
function outOf(samples: readonly Sample[], { at }: Sample, radius: number): Vec3 | null {
  const near = samples.filter((s) => Math.hypot(...sub(s.at, at)) <= radius);
  const out = normalize(near.reduce((sum: Vec3, s) => add(sum, s.out), [0, 0, 0]));
  return near.every((s) => dot(s.out, out) > BENT) ? out : null;
}

/** Samples of a seam's bent faces on its + side, each with its distance to the rims of both sides' pieces. */
function samplesOf({ pieces, context }: Evaluation, seam: Seam): Sample[] {
  const depth = context.plan.seams.filter((s) => s.enabled).findIndex((s) => s.id === seam.id);
  const rims: [Vec3, Vec3][] = [];
  const faces: { piece: string; corners: readonly [Vec3, Vec3, Vec3]; out: Vec3; area: number }[] = [];
  for (const { key, solid } of pieces) {
    const { positions: p, triangles: t, tags } = solid;
    const corner = (i: number): Vec3 => [p[t[i] * 3], p[t[i] * 3 + 1], p[t[i] * 3 + 2]];
    const edges = new Map<string, readonly [number, number]>();
    for (let i = 0; i < tags.length; i++) {
      const wall = wallOfTag(tags[i]);
      if (wall?.depth !== depth) continue;
      for (let c = 0; c < 3; c++) {
        const [a, b] = [i * 3 + c, i * 3 + ((c + 1) % 3)];
        if (!edges.delete(`${t[b]} ${t[a]}`)) edges.set(`${t[a]} ${t[b]}`, [a, b]);
      }
      if (wall.side < 0) continue;
      const square = triangleCross(p, t, i);
      const double = Math.hypot(...square);
      if (double === 0) continue;
      const corners = [corner(i * 3), corner(i * 3 + 1), corner(i * 3 + 2)] as const;
      faces.push({ piece: key, corners, out: scale(square, 1 / double), area: double / 2 });
    }
    for (const [a, b] of edges.values()) rims.push([corner(a), corner(b)]);
  }
  const area = faces.reduce((sum, f) => sum + f.area, 0);
  const mean = faces.reduce((sum: Vec3, f) => add(sum, scale(f.out, f.area)), [0, 0, 0]);
  if (Math.hypot(...mean) < ONE_WAY * area) return [];
  const step = Math.min(20, Math.max(1.5, Math.sqrt(area / SAMPLES)));
  const places = faces.flatMap(({ piece, corners, out }) => spread(corners, step).map((at) => ({ piece, out, at })));
  const every = Math.max(1, places.length / MOST_SAMPLES);
  const chosen = Array.from({ length: Math.floor(places.length / every) }, (_, i) => places[Math.floor(i * every)]);
  const tree = treeOf(linesAsTriangles(rims));
  return chosen.map((s) => ({ ...s, room: distanceTo(tree, s.at) }));
}

/** Segments as triangles without area, to be asked for what is near. */
const linesAsTriangles = (lines: readonly (readonly [Vec3, Vec3])[]) => ({
  positions: Float64Array.from(lines.flat(2)),
  triangles: Uint32Array.from(lines.flatMap((_, i) => [2 * i, 2 * i + 1, 2 * i + 1])),
});

/** Points all over a triangle, about `step` apart; long thin ones get them along their length. */
function spread(corners: readonly [Vec3, Vec3, Vec3], step: number): Vec3[] {
  const long = (i: number): number => Math.hypot(...sub(corners[(i + 1) % 3], corners[i]));
  // the shortest side goes from c to a
  const short = [0, 1, 2].reduce((least, i) => (long(i) < long(least) ? i : least));
  const [c, a, b] = [corners[short], corners[(short + 1) % 3], corners[(short + 2) % 3]];
  const [along, across] = [sub(b, a), sub(c, a)];
  const n = Math.max(1, Math.round(Math.hypot(...along) / step));
  const points: Vec3[] = [];
  for (let i = 0; i < n; i++) {
    const u = (i + 0.5) / n;
    const m = Math.max(1, Math.round(((1 - u) * Math.hypot(...across)) / step));
    for (let j = 0; j < m; j++) points.push(add(a, add(scale(along, u), scale(across, ((1 - u) * (j + 0.5)) / m))));
  }
  return points;
}

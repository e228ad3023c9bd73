import {
  type FlatRegion,
  type Frame,
  fromFrame,
  insidePoint,
  makeFrame,
  regionsOfLoops,
  sectionAt,
} from '../../cut/index.ts';
import {
  boxOf,
  distance,
  dot,
  halfEdges,
  type IndexedMesh,
  nearestOnLoop,
  nextHalf,
  normalize,
  principalAxes,
  sizeOf,
  sub,
  tagBorders,
  tagPatch,
  triangleCross,
  type Vec3,
  vecOf,
} from '../../mesh/index.ts';
import { type BentLine, bentAlong } from './bent-line.ts';

//      .-----.
//     /  red  \
//    |.-~~~~~-.|   a line between two colours, and the plane that
//    |   blue  |   follows it best
//     `-------´

/** A closed line between colours on a body, with the plane that follows it best. Lengths mm. */
export interface ColourLine {
  /** of the palette: the colour that the line goes round, and what lies beyond most of it */
  readonly colours: readonly [number, number];
  readonly length: number;
  readonly at: Vec3;
  readonly normal: Vec3;
  /** how far the line lies from the plane: on the average and at most */
  readonly mean: number;
  readonly worst: number;
  /**
   * what a cut takes: `across` one region of the section, whose outline follows the line (`seed` lies in it, null when it is the
   * only one); `patch`: the colour lies on the surface there, and no cut parts it from the rest (`at` is a place on it); `off`: the section's
   * outlines run elsewhere
   */
  readonly cut:
    | { readonly kind: 'across'; readonly seed: Vec3 | null }
    | { readonly kind: 'patch'; readonly at: Vec3 }
    | { readonly kind: 'off' };
  /** a drawn line, swept across, that follows it better than the plane; null where none does, or it would cut elsewhere, too */
  readonly bent: BentLine | null;
}

/** Shorter lines are specks of a scan, as a share of the size; and so many are told. */
const LEAST = 0.05;
const MOST = 40;
/** A colour that one line goes round is a patch when it stands up from the plane by less than this share of its width. */
const FLAT = 0.15;
/** A section's outline follows a line when their points are this near on the average, beside twice what the line is off the plane, mm. */
const NEAR = 1;
/** Of longer lines so many points are held against outlines. */
const SAMPLES = 400;

/** The lines between colours of a closed mesh, longest first. Tags of the mesh are colours. */
export function colourLines(mesh: IndexedMesh): ColourLine[] {
  const loops = tagBorders(mesh);
  if (loops.length === 0) return [];
  const size = Math.max(...sizeOf(boxOf(mesh.positions)));
  const long = loops.map((l) => ({ ...l, length: lengthOf(mesh, l.halves) })).filter((l) => l.length >= LEAST * size);
  long.sort((a, b) => b.length - a.length);
  const { twin } = halfEdges(mesh);
  const told: ColourLine[] = [];
  /** of each half-edge the line that it was told with */
  const known = new Map<number, number>();
  for (const [i, { halves, tag: colour, length }] of long.entries()) {
    for (const h of halves) known.set(h, i);
    // the same line from its other side
    const other = known.get(twin[halves[0]]);
    const same = other !== undefined && long[other].halves.length === halves.length;
    if (same && halves.every((h) => known.get(twin[h]) === other)) continue;
    const points = halves.map((h) => point(mesh, mesh.triangles[h]));
    const plane = planeOf(points);
    const beyond = most(halves.map((h) => mesh.tags[Math.floor(twin[h] / 3)]));
    const { mean, worst } = offPlane(points, plane);
    const { cut, alone } = cutAlong(mesh, halves, points, plane, mean);
    told.push({
      colours: [colour, beyond],
      length,
      ...plane,
      mean,
      worst,
      cut,
      bent: alone ? bentAlong(points, plane) : null,
    });
    if (told.length === MOST) break;
  }
  return told;
}

const middleOf = (mesh: IndexedMesh, i: number): Vec3 => {
  const [a, b, c] = [0, 1, 2].map((k) => point(mesh, mesh.triangles[i * 3 + k]));
  return vecOf((k) => (a[k] + b[k] + c[k]) / 3);
};

const point = ({ positions: p }: IndexedMesh, v: number): Vec3 => [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];

const lengthOf = (mesh: IndexedMesh, halves: readonly number[]): number =>
  halves.reduce(
    (sum, h) => sum + distance(point(mesh, mesh.triangles[h]), point(mesh, mesh.triangles[nextHalf(h)])),
    0,
  );

/** The plane with the least squares of distances to a closed line, weighed by its length. */
function planeOf(points: readonly Vec3[]): { at: Vec3; normal: Vec3 } {
  const middles = points.map((a, i) => {
    const b = points[(i + 1) % points.length];
    return { m: vecOf((k) => (a[k] + b[k]) / 2), w: distance(a, b) };
  });
  const whole = middles.reduce((sum, { w }) => sum + w, 0) || 1;
  const at = vecOf((k) => middles.reduce((sum, { m, w }) => sum + (w * m[k]) / whole, 0));
  const s = new Float64Array(9);
  for (const { m, w } of middles) {
    const d = sub(m, at);
    for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) s[r * 3 + c] += w * d[r] * d[c];
  }
  const { axes, values } = principalAxes(s);
  const least = [0, 1, 2].reduce((a, b) => (values[b] < values[a] ? b : a));
  return { at, normal: normalize(axes[least]) };
}

function offPlane(
  points: readonly Vec3[],
  { at, normal }: { at: Vec3; normal: Vec3 },
): { mean: number; worst: number } {
  const off = points.map((p) => Math.abs(dot(sub(p, at), normal)));
  return { mean: off.reduce((sum, x) => sum + x, 0) / off.length, worst: off.reduce((a, b) => Math.max(a, b)) };
}

const most = (list: readonly number[]): number => {
  const votes = new Map<number, number>();
  for (const x of list) votes.set(x, (votes.get(x) ?? 0) + 1);
  return [...votes].sort((a, b) => b[1] - a[1])[0][0];
};

/** What a plane takes, and whether what lies in the plane is all in one. */
function cutAlong(
  mesh: IndexedMesh,
  halves: readonly number[],
  points: readonly Vec3[],
  { at, normal }: { at: Vec3; normal: Vec3 },
  mean: number,
): { cut: ColourLine['cut']; alone: boolean } {
  const across = 2 * points.reduce((far, p) => Math.max(far, distance(p, at)), 0);
  const patch = patchOf(mesh, halves, at, normal);
  if (patch.high < FLAT * across) return { cut: { kind: 'patch', at: middleOf(mesh, patch.triangle) }, alone: false };
  const frame = makeFrame(at, normal);
  const regions = regionsOfLoops(sectionAt(mesh, frame).loops).filter((r) => r.area > 0);
  const every = Math.ceil(points.length / SAMPLES);
  const flat = points
    .filter((_, i) => i % every === 0)
    .map((p): [number, number] => {
      const d = sub(p, at);
      return [dot(d, frame.u), dot(d, frame.v)];
    });
  const far = regions.map((r) => flat.reduce((sum, p) => sum + toOutline(r, p), 0) / flat.length);
  const best = far.indexOf(Math.min(...far));
  const alone = regions.length === 1;
  if (best < 0 || far[best] > NEAR + 2 * mean) return { cut: { kind: 'off' }, alone };
  return { cut: { kind: 'across', seed: alone ? null : inModel(frame, regions[best]) }, alone };
}

const inModel = (frame: Frame, region: FlatRegion): Vec3 => fromFrame(frame, ...insidePoint(region));

/** Of the two colours at a line the one that it alone goes round and that lies flatter: how far it stands up from the line's plane, and one of its triangles. */
function patchOf(
  mesh: IndexedMesh,
  halves: readonly number[],
  at: Vec3,
  normal: Vec3,
): { high: number; triangle: number } {
  const { triangles: t, tags } = mesh;
  const { twin } = halfEdges(mesh);
  let best = { high: Infinity, triangle: -1 };
  for (const side of [halves, halves.map((h) => twin[h])]) {
    const own = new Set(side);
    const patch = tagPatch(mesh, Math.floor(side[0] / 3));
    const corners = patch.flatMap((i) => [i * 3, i * 3 + 1, i * 3 + 2]);
    // another border: a band, not a patch
    const isBand = corners.some(
      (h) => twin[h] >= 0 && tags[Math.floor(twin[h] / 3)] !== tags[Math.floor(h / 3)] && !own.has(h),
    );
    if (isBand) continue;
    const high = corners.reduce((x, h) => Math.max(x, Math.abs(dot(sub(point(mesh, t[h]), at), normal))), 0);
    if (high < best.high) best = { high, triangle: largestOf(mesh, patch) };
  }
  return best;
}

const largestOf = ({ positions, triangles }: IndexedMesh, list: readonly number[]): number =>
  list.reduce((a, b) =>
    Math.hypot(...triangleCross(positions, triangles, b)) > Math.hypot(...triangleCross(positions, triangles, a))
      ? b
      : a,
  );

/** From a point to the nearest outline of a region, mm. */
const toOutline = ({ outer2, holes2 }: FlatRegion, [x, y]: readonly [number, number]): number =>
  Math.min(...[outer2, ...holes2].map((l) => nearestOnLoop(l, x, y).distance));

import { closedMesh, type Frame, fromFrame, halve, makeFrame, type Triangulator, triangulate } from '../cut/index.ts';
import type { FlatSeam, ProfileSeam, Seam } from '../document/index.ts';
import { GephyraError } from '../errors.ts';
import {
  type Affine,
  type Box,
  bounds,
  boxCorners,
  determinant,
  type IndexedMesh,
  inverse,
  type Loop2,
  loopArea,
  mapPoint,
  sizeOf,
  turnedOver,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';
import type { Kernel } from '../solid/index.ts';
import { flatOfPart, flatPlace, flatPlanes, sinkFlats } from './flats.ts';
import { bladesOf, planeId, type SeamPlace, seamPlace } from './place.ts';

/** A seam that is no plane, as a solid: what lies in it is on the seam's + side. */
export interface Cutter {
  /** closed, on the model; each triangle's tag is its facet */
  readonly mesh: IndexedMesh;
  /** by facet: the plane its faces lie in, or null where they are bent and carry no joints */
  readonly facets: readonly ({ readonly plane: string; readonly place: SeamPlace } | null)[];
  /** flats of the seam that could not be worked into it, by their numbers */
  readonly lost: readonly number[];
}

/** The kinds of seam that are solids. */
export type CutterSeam =
  | Extract<Seam, { kind: 'ring' | 'profile' }>
  | (Extract<Seam, { kind: 'flat' }> & { bound: object });

export const isCutter = (seam: Seam): seam is CutterSeam =>
  seam.kind === 'ring' || seam.kind === 'profile' || (seam.kind === 'flat' && seam.bound !== undefined);

/** A box thinner than this bounds nothing, in the source's units. */
const LEAST_BOUND = 1e-4;

/** Chords of round seams keep within this of the circle, mm. */
const CHORD = 0.02;

/**
 * The solid of a ring, a profile or a bounded flat seam. `reach` is the box of the model that it must part.
 * Throws GephyraError `seam.tangled` when a drawn line crosses itself, `seam.far` when it reaches so far from the model that the
 * kernel's numbers could not hold both.
 */
export function cutterOf(seam: CutterSeam, map: Affine, reach: Box, fallback: Triangulator, kernel: Kernel): Cutter {
  const cutter = { ...cutterSolid(seam, map, reach, fallback), lost: [] };
  const size = Math.hypot(...sizeOf(reach));
  const { positions: p } = cutter.mesh;
  for (let k = 0; k < p.length; k++) {
    const off = Math.max(reach.min[k % 3] - p[k], p[k] - reach.max[k % 3]);
    if (off <= FAR * size) continue;
    throw new GephyraError(
      'seam.far',
      'This seam reaches far beyond the model, so it could not be cut exactly. Bring its points or its radius nearer to the model.',
    );
  }
  const flats = flatPlanes(seam, map);
  if (flats.length === 0 || cutter.mesh.tags.length === 0) return cutter;
  const sunk = sinkFlats(
    kernel,
    cutter.mesh,
    flats.map(({ place, flat }) => ({ place, diameter: flat.diameter })),
    cutter.facets.length,
  );
  const facets = flats.map(({ plane }, i) => sunk.built[i] && { plane, place: sunk.built[i] });
  return {
    mesh: sunk.mesh,
    facets: [...cutter.facets, ...facets, null],
    lost: flats.flatMap(({ flat }, i) => (sunk.built[i] ? [] : [flat.n])),
  };
}

/** How many sizes of the model a seam's solid may reach beyond it. */
const FAR = 40;

type Plain = Omit<Cutter, 'lost'>;

function cutterSolid(seam: CutterSeam, map: Affine, reach: Box, fallback: Triangulator): Plain {
  if (seam.kind === 'flat') return boundedCutter(seam, map, reach, fallback);
  const source = makeFrame(seam.origin, seam.normal, seam.up);
  const back = inverse(map);
  const extent = extentIn(source, reach, back);
  if (seam.kind === 'ring') {
    const outline = circle(seam.radius, scaleOf(map));
    return {
      mesh: swept(
        outline,
        outline.map(() => 0),
        source,
        map,
        extent,
        0,
        [0, 1],
        fallback,
      ),
      facets: [null],
    };
  }
  const line = sampled(seam);
  if (line.length < 2) return { mesh: NOTHING, facets: [] };
  const { outline, facetOf } = sheetOutline(line, seam.curve === 'line', extent);
  if (crossesItself(outline)) {
    const why = 'The drawn line crosses itself, or its ends do where they run on straight';
    throw new GephyraError('seam.tangled', `${why}. Move its points apart.`);
  }
  const facets = line.slice(1).map((_, i) => facet(seam, i, map));
  return {
    mesh: swept(outline, facetOf, source, map, extent, seam.bend, bendWay(line), fallback),
    facets: [...facets, null],
  };
}

/**
 * The place of one plane of a seam: its own, a half-plane of a fan, a straight stretch of a profile, a side of its box, a flat
 * of a bent face. Null where there is no plane.
 */
export function partPlace(seam: Seam, part: number, map: Affine): SeamPlace | null {
  if (seam.kind === 'fan') return bladesOf(seam, map)[part]?.place ?? null;
  const flat = flatOfPart(seam, part);
  if (flat) return flatPlace(seam, flat, map);
  if (seam.kind === 'ring') return null;
  if (seam.kind === 'profile') return stretchPlace(seam, part, map);
  if (part === 0 || !seam.bound) return seamPlace(seam, map);
  const { low, high } = cornersOf(seam.bound);
  const axis = Math.floor((part - 1) / 2);
  const lower = part % 2 === 1;
  if (axis > 2) return null;
  const inward = [0, 0, 0] as [number, number, number];
  inward[axis] = lower ? 1 : -1;
  const origin = vecOf((a) => (a !== axis ? (low[a] + high[a]) / 2 : lower ? low[a] : high[a]));
  return seamPlace({ origin: origin as [number, number, number], normal: inward }, map);
}

function stretchPlace(seam: ProfileSeam, part: number, map: Affine): SeamPlace | null {
  if (seam.curve !== 'line' || seam.bend !== 0) return null;
  const source = makeFrame(seam.origin, seam.normal, seam.up);
  const [from, to] = sampled(seam).slice(part, part + 2);
  if (!from || !to) return null;
  const [nu, nv] = leftOf(from, to);
  const origin = fromFrame(source, (from[0] + to[0]) / 2, (from[1] + to[1]) / 2);
  const normal = vecOf((k) => source.u[k] * nu + source.v[k] * nv) as Seam['normal'];
  return seamPlace({ origin: [...origin], normal, up: [...source.normal] as Seam['normal'] }, map);
}

function facet(seam: Seam, part: number, map: Affine): Cutter['facets'][number] {
  const place = partPlace(seam, part, map);
  return place && { plane: planeId(seam.id, part), place };
}

export const cornersOf = ({ min, max }: NonNullable<FlatSeam['bound']>) => ({
  low: min.map((x, a) => Math.min(x, max[a])) as [number, number, number],
  high: max.map((x, a) => Math.max(x, min[a])) as [number, number, number],
});

const NOTHING: IndexedMesh = {
  positions: new Float64Array(0),
  triangles: new Uint32Array(0),
  tags: new Uint32Array(0),
};

/** Whether two sides of a closed outline that are no neighbours cross; sides in one line do not. */
function crossesItself(outline: readonly Point[]): boolean {
  const n = outline.length;
  const reach = Math.max(...outline.map(([x, y]) => Math.hypot(x - outline[0][0], y - outline[0][1])));
  const none = 1e-9 * reach * reach;
  const side = ([ax, ay]: Point, [bx, by]: Point, [x, y]: Point): number => {
    const cross = (bx - ax) * (y - ay) - (by - ay) * (x - ax);
    return Math.abs(cross) <= none ? 0 : Math.sign(cross);
  };
  for (let i = 0; i < n; i++) {
    const [a, b] = [outline[i], outline[(i + 1) % n]];
    for (let k = i + 2; k < n; k++) {
      if (i === 0 && k === n - 1) continue;
      const [c, d] = [outline[k], outline[(k + 1) % n]];
      if (side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0) return true;
    }
  }
  return false;
}

/** How far the model reaches in a source frame: round the frame's origin in its plane, and along its normal. */
interface Extent {
  readonly centre: readonly [number, number];
  readonly radius: number;
  readonly low: number;
  readonly high: number;
}

function extentIn(frame: Frame, box: Box, back: Affine): Extent {
  let [u0, u1, v0, v1, low, high] = [Infinity, -Infinity, Infinity, -Infinity, Infinity, -Infinity];
  for (const corner of boxCorners(box)) {
    const d = mapPoint(back, corner).map((x, a) => x - frame.origin[a]);
    const along = (axis: Vec3): number => d[0] * axis[0] + d[1] * axis[1] + d[2] * axis[2];
    u0 = Math.min(u0, along(frame.u));
    u1 = Math.max(u1, along(frame.u));
    v0 = Math.min(v0, along(frame.v));
    v1 = Math.max(v1, along(frame.v));
    low = Math.min(low, along(frame.normal));
    high = Math.max(high, along(frame.normal));
  }
  return { centre: [(u0 + u1) / 2, (v0 + v1) / 2], radius: Math.hypot(u1 - u0, v1 - v0) / 2, low, high };
}

const scaleOf = (map: Affine): number => Math.cbrt(Math.abs(determinant(map)));

export type Point = readonly [number, number];

function circle(radius: number, scale: number): Point[] {
  const n = Math.min(360, Math.max(24, Math.ceil(Math.PI / Math.acos(1 - Math.min(0.5, CHORD / (radius * scale))))));
  return Array.from({ length: n }, (_, i) => {
    const a = (i / n) * 2 * Math.PI;
    return [radius * Math.cos(a), radius * Math.sin(a)];
  });
}

/** The drawn line as points: arcs and smooth curves in short chords. */
export function sampled({ points, curve }: Pick<ProfileSeam, 'points' | 'curve'>): Point[] {
  const distinct = points.filter(
    (p, i) => i === 0 || Math.hypot(p[0] - points[i - 1][0], p[1] - points[i - 1][1]) > 1e-9,
  );
  if (curve === 'line' || distinct.length < 3) return distinct;
  if (curve === 'arc')
    return arc(distinct[0], distinct[Math.floor(distinct.length / 2)], distinct[distinct.length - 1]);
  return smooth(distinct);
}

/** An arc through three points; straight where they lie in line. */
function arc(a: Point, b: Point, c: Point): Point[] {
  const d = 2 * (a[0] * (b[1] - c[1]) + b[0] * (c[1] - a[1]) + c[0] * (a[1] - b[1]));
  if (Math.abs(d) < 1e-9 * Math.hypot(c[0] - a[0], c[1] - a[1]) ** 2) return [a, b, c];
  const [sa, sb, sc] = [a, b, c].map((p) => p[0] ** 2 + p[1] ** 2);
  const x = (sa * (b[1] - c[1]) + sb * (c[1] - a[1]) + sc * (a[1] - b[1])) / d;
  const y = (sa * (c[0] - b[0]) + sb * (a[0] - c[0]) + sc * (b[0] - a[0])) / d;
  const r = Math.hypot(a[0] - x, a[1] - y);
  const angle = (p: Point): number => Math.atan2(p[1] - y, p[0] - x);
  const turn = (from: number, to: number): number => (((to - from) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  const start = angle(a);
  const forward = turn(start, angle(b)) < turn(start, angle(c));
  const sweep = forward ? turn(start, angle(c)) : turn(start, angle(c)) - 2 * Math.PI;
  const n = Math.max(8, Math.ceil(Math.abs(sweep) / 0.08));
  return Array.from({ length: n + 1 }, (_, i) => {
    const t = start + (sweep * i) / n;
    return [x + r * Math.cos(t), y + r * Math.sin(t)];
  });
}

/** A smooth curve through all points: centripetal splines, which make no loops. Catmull and Rom (1974), Yuksel et al. (2011). */
function smooth(points: readonly Point[]): Point[] {
  const end = points.length - 1;
  const mirrored = (p: Point, q: Point): Point => [2 * p[0] - q[0], 2 * p[1] - q[1]];
  const all = [mirrored(points[0], points[1]), ...points, mirrored(points[end], points[end - 1])];
  const out: Point[] = [points[0]];
  const gap = (p: Point, q: Point): number => Math.sqrt(Math.hypot(q[0] - p[0], q[1] - p[1])) || 1e-6;
  for (let i = 1; i + 2 < all.length; i++) {
    const [p0, p1, p2, p3] = all.slice(i - 1, i + 3);
    const t1 = gap(p0, p1);
    const t2 = t1 + gap(p1, p2);
    const t3 = t2 + gap(p2, p3);
    for (let k = 1; k <= 10; k++) {
      const t = t1 + ((t2 - t1) * k) / 10;
      const mix = (a: number, b: number, ta: number, tb: number): number => (a * (tb - t) + b * (t - ta)) / (tb - ta);
      const on = (c: 0 | 1): number => {
        const a1 = mix(p0[c], p1[c], 0, t1);
        const a2 = mix(p1[c], p2[c], t1, t2);
        const a3 = mix(p2[c], p3[c], t2, t3);
        return mix(mix(a1, a2, 0, t2), mix(a2, a3, t1, t3), t1, t2);
      };
      out.push([on(0), on(1)]);
    }
  }
  return out;
}

const leftOf = (from: Point, to: Point): Point => {
  const l = Math.hypot(to[0] - from[0], to[1] - from[1]);
  return [-(to[1] - from[1]) / l, (to[0] - from[0]) / l];
};

/** The way in which a bend moves the sheet, in its plane: to the left of the line from end to end. */
export function bendWay(line: readonly Point[]): Point {
  const [first, last] = [line[0], line[line.length - 1]];
  if (line.length < 2) return [0, 1];
  return Math.hypot(first[0] - last[0], first[1] - last[1]) > 1e-9 ? leftOf(first, last) : leftOf(first, line[1]);
}

/** Everything to the left of the line, as a closed outline: the line itself, run on straight past the model, and a wide bow. */
function sheetOutline(line: readonly Point[], flat: boolean, { centre, radius }: Extent) {
  const n = line.length;
  const closed = Math.hypot(line[0][0] - line[n - 1][0], line[0][1] - line[n - 1][1]) < 1e-6 * radius;
  if (closed) {
    const outline = line.slice(0, -1);
    const area = loopArea(Float64Array.from(outline.flat()));
    if (area >= 0) return { outline, facetOf: outline.map((_, i) => (flat ? i : n - 1)) };
    return {
      outline: outline.toReversed(),
      facetOf: outline.map((_, i) => (flat ? (2 * n - 4 - i) % (n - 1) : n - 1)),
    };
  }
  const far = 3 * Math.max(radius, ...line.map((p) => Math.hypot(p[0] - centre[0], p[1] - centre[1])));
  const first = outTo(line[0], line[1], centre, far);
  const last = outTo(line[n - 1], line[n - 2], centre, far);
  const angle = (p: Point): number => Math.atan2(p[1] - centre[1], p[0] - centre[0]);
  const from = angle(last);
  const sweep = (((angle(first) - from) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  const steps = Math.max(2, Math.ceil(sweep / 0.5));
  const bow = Array.from({ length: steps - 1 }, (_, i): Point => {
    const a = from + (sweep * (i + 1)) / steps;
    return [centre[0] + far * Math.cos(a), centre[1] + far * Math.sin(a)];
  });
  const outline = [first, ...line.slice(1, -1), last, ...bow];
  // the first and last stretch run on in line, so their ends need no corner
  const facetOf = outline.map((_, i) => (flat && i < n - 1 ? i : n - 1));
  return { outline, facetOf };
}

/** From `inner` through `end` and on, to a circle. */
function outTo(end: Point, inner: Point, [cx, cy]: readonly [number, number], far: number): Point {
  const l = Math.hypot(end[0] - inner[0], end[1] - inner[1]);
  const [dx, dy] = [(end[0] - inner[0]) / l, (end[1] - inner[1]) / l];
  const [px, py] = [end[0] - cx, end[1] - cy];
  const b = px * dx + py * dy;
  const s = -b + Math.sqrt(Math.max(0, b * b - (px * px + py * py - far * far)));
  return [end[0] + s * dx, end[1] + s * dy];
}

const BENT_STEPS = 24;

/**
 * Sweeps a counter-clockwise outline along a frame's normal, over the model's whole length and somewhat more; `bend` moves
 * the middle sideways. Side i goes from corner i to the next and has facet `facetOf[i]`; the two ends have the last facet.
 */
function swept(
  outline: readonly Point[],
  facetOf: readonly number[],
  frame: Frame,
  map: Affine,
  { low, high, radius }: Extent,
  bend: number,
  sideways: Point,
  fallback: Triangulator,
): IndexedMesh {
  const rim = 0.02 * (radius + high - low);
  const steps = bend === 0 ? 1 : BENT_STEPS;
  const n = outline.length;
  const positions: number[] = [];
  for (let k = 0; k <= steps; k++) {
    const w = low - rim + ((high - low + 2 * rim) * k) / steps;
    const t = Math.min(1, Math.max(-1, (2 * (w - low)) / (high - low) - 1));
    const shift = bend * (1 - t * t);
    for (const [u, v] of outline) {
      positions.push(...mapPoint(map, fromFrame(frame, u + sideways[0] * shift, v + sideways[1] * shift, w)));
    }
  }
  const triangles: number[] = [];
  const tags: number[] = [];
  for (let k = 0; k < steps; k++) {
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n;
      const a = k * n;
      triangles.push(a + i, a + j, a + n + j, a + i, a + n + j, a + n + i);
      tags.push(facetOf[i], facetOf[i]);
    }
  }
  const flat: Loop2 = Float64Array.from(outline.flat());
  const ends = triangulate(flat, [], fallback);
  const last = Math.max(...facetOf);
  for (let i = 0; i < ends.length; i += 3) {
    triangles.push(ends[i], ends[i + 2], ends[i + 1]);
    triangles.push(steps * n + ends[i], steps * n + ends[i + 1], steps * n + ends[i + 2]);
    tags.push(last, last);
  }
  const mesh = {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: Uint32Array.from(tags),
  };
  return determinant(map) < 0 ? turnedOver(mesh) : mesh;
}

/** The part of a box above the seam's plane: facet 0 lies in the plane, the others on the box. */
function boundedCutter(seam: Extract<Seam, { kind: 'flat' }>, map: Affine, reach: Box, fallback: Triangulator): Plain {
  const { low, high } = cornersOf(seam.bound!);
  // of a box that reaches far out only what is round the model counts
  const back = inverse(map);
  const round = bounds(Float64Array.from(boxCorners(reach).flatMap((c) => mapPoint(back, c))));
  for (let a = 0; a < 3; a++) {
    const room = round.max[a] - round.min[a];
    low[a] = Math.max(low[a], round.min[a] - room);
    high[a] = Math.min(high[a], round.max[a] + room);
  }
  // a box without room cuts nothing
  if (low.some((x, a) => high[a] - x < LEAST_BOUND)) return { mesh: NOTHING, facets: [] };
  const place = seamPlace(seam, map);
  const { above } = halve(boxMesh({ min: low, max: high }, map), place.frame, fallback);
  const mesh = above ? closedMesh(above, () => 0) : NOTHING;
  return { mesh, facets: [0, ...BOX_SIDES.map((_, i) => i + 1)].map((part) => facet(seam, part, map)) };
}

/** The sides of a box by its corners, looked at from outside. */
const BOX_SIDES = [
  [0, 4, 6, 2],
  [1, 3, 7, 5],
  [0, 1, 5, 4],
  [2, 6, 7, 3],
  [0, 2, 3, 1],
  [4, 5, 7, 6],
];

/** A box of the source's coordinates on the model; side i has tag i + 1. */
export function boxMesh(box: Box, map: Affine): IndexedMesh {
  const mesh: IndexedMesh = {
    positions: Float64Array.from(boxCorners(box).flatMap((c) => mapPoint(map, c))),
    triangles: Uint32Array.from(BOX_SIDES.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])),
    tags: Uint32Array.from(BOX_SIDES.flatMap((_, i) => [i + 1, i + 1])),
  };
  return determinant(map) < 0 ? turnedOver(mesh) : mesh;
}

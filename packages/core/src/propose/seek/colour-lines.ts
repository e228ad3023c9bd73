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
  distance,
  dot,
  halfEdges,
  type IndexedMesh,
  nextHalf,
  normalize,
  principalAxes,
  sub,
  type Vec3,
  vecOf,
} from '../../mesh/index.ts';

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
   * only one); `patch`: the colour lies on the surface there, and no cut parts it from the rest; `off`: the section's
   * outlines run elsewhere
   */
  readonly cut:
    | { readonly kind: 'across'; readonly seed: Vec3 | null }
    | { readonly kind: 'patch' }
    | { readonly kind: 'off' };
}

/** Shorter lines are specks of a scan, as a share of the size; and so many are told. */
const LEAST = 0.05;
const MOST = 40;
/** A colour that one line goes round is a patch when it stands up from the plane by less than this share of its width. */
const FLAT = 0.15;
/** A section's outline follows a line when their points are this near on the average, beside twice what the line is off the plane, mm. */
const NEAR = 1;

/** The lines between colours of a closed mesh, longest first. Tags of the mesh are colours. */
export function colourLines(mesh: IndexedMesh): ColourLine[] {
  const loops = loopsOf(mesh);
  const size = sizeOf(mesh);
  const long = loops.map((l) => ({ ...l, length: lengthOf(mesh, l.halves) })).filter((l) => l.length >= LEAST * size);
  long.sort((a, b) => b.length - a.length);
  const { twin } = halfEdges(mesh);
  const told: ColourLine[] = [];
  /** of each half-edge the line that it was told with */
  const known = new Map<number, number>();
  for (const [i, { halves, colour, length }] of long.entries()) {
    for (const h of halves) known.set(h, i);
    // the same line from its other side
    const other = known.get(twin[halves[0]]);
    const same = other !== undefined && long[other].halves.length === halves.length;
    if (same && halves.every((h) => known.get(twin[h]) === other)) continue;
    const points = halves.map((h) => point(mesh, mesh.triangles[h]));
    const plane = planeOf(points);
    const beyond = most(halves.map((h) => mesh.tags[Math.floor(twin[h] / 3)]));
    const { mean, worst } = offPlane(points, plane);
    told.push({
      colours: [colour, beyond],
      length,
      ...plane,
      mean,
      worst,
      cut: cutAlong(mesh, halves, points, plane, mean),
    });
    if (told.length === MOST) break;
  }
  return told;
}

interface Loop {
  readonly halves: readonly number[];
  readonly colour: number;
}

/** Walks the borders of the regions of one colour: closed loops of half-edges, the colour on their left. */
function loopsOf(mesh: IndexedMesh): Loop[] {
  const { triangles: t, tags } = mesh;
  const { twin } = halfEdges(mesh);
  const isBorder = (h: number): boolean => twin[h] >= 0 && tags[Math.floor(twin[h] / 3)] !== tags[Math.floor(h / 3)];
  const seen = new Uint8Array(t.length);
  const out: Loop[] = [];
  for (let start = 0; start < t.length; start++) {
    if (seen[start] || !isBorder(start)) continue;
    const halves: number[] = [];
    let h = start;
    let closed = true;
    while (!seen[h]) {
      seen[h] = 1;
      halves.push(h);
      // round the corner at its end, inside the same colour
      let next = nextHalf(h);
      while (!isBorder(next)) {
        if (twin[next] < 0) break;
        next = nextHalf(twin[next]);
      }
      if (!isBorder(next)) {
        closed = false;
        break;
      }
      h = next;
    }
    if (closed && h === start) out.push({ halves, colour: tags[Math.floor(start / 3)] });
  }
  return out;
}

const point = ({ positions: p }: IndexedMesh, v: number): Vec3 => [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];

const lengthOf = (mesh: IndexedMesh, halves: readonly number[]): number =>
  halves.reduce(
    (sum, h) => sum + distance(point(mesh, mesh.triangles[h]), point(mesh, mesh.triangles[nextHalf(h)])),
    0,
  );

function sizeOf({ positions: p }: IndexedMesh): number {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let k = 0; k < p.length; k++) {
    low[k % 3] = Math.min(low[k % 3], p[k]);
    high[k % 3] = Math.max(high[k % 3], p[k]);
  }
  return p.length > 0 ? Math.max(high[0] - low[0], high[1] - low[1], high[2] - low[2]) : 0;
}

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
  return { mean: off.reduce((sum, x) => sum + x, 0) / off.length, worst: Math.max(...off) };
}

const most = (list: readonly number[]): number => {
  const votes = new Map<number, number>();
  for (const x of list) votes.set(x, (votes.get(x) ?? 0) + 1);
  return [...votes].sort((a, b) => b[1] - a[1])[0][0];
};

function cutAlong(
  mesh: IndexedMesh,
  halves: readonly number[],
  points: readonly Vec3[],
  { at, normal }: { at: Vec3; normal: Vec3 },
  mean: number,
): ColourLine['cut'] {
  const across = 2 * Math.max(...points.map((p) => distance(p, at)));
  if (patchHeight(mesh, halves, at, normal) < FLAT * across) return { kind: 'patch' };
  const frame = makeFrame(at, normal);
  const regions = regionsOfLoops(sectionAt(mesh, frame).loops).filter((r) => r.area > 0);
  const flat = points.map((p): [number, number] => {
    const d = sub(p, at);
    return [dot(d, frame.u), dot(d, frame.v)];
  });
  const far = regions.map((r) => flat.reduce((sum, p) => sum + toOutline(r, p), 0) / flat.length);
  const best = far.indexOf(Math.min(...far));
  if (best < 0 || far[best] > NEAR + 2 * mean) return { kind: 'off' };
  return { kind: 'across', seed: regions.length === 1 ? null : inModel(frame, regions[best]) };
}

const inModel = (frame: Frame, region: FlatRegion): Vec3 => fromFrame(frame, ...insidePoint(region));

/** How far the colour that a line goes round stands up from the line's plane, when the line is its whole border; else without end. */
function patchHeight(mesh: IndexedMesh, halves: readonly number[], at: Vec3, normal: Vec3): number {
  const { triangles: t, tags } = mesh;
  const { twin } = halfEdges(mesh);
  const colour = tags[Math.floor(halves[0] / 3)];
  const own = new Set(halves);
  const sides = [halves, halves.map((h) => twin[h])];
  let least = Infinity;
  for (const side of sides) {
    const inside = tags[Math.floor(side[0] / 3)];
    const seen = new Set<number>();
    const stack = [Math.floor(side[0] / 3)];
    let high = 0;
    while (stack.length > 0 && high < Infinity) {
      const i = stack.pop()!;
      if (seen.has(i)) continue;
      seen.add(i);
      for (let h = i * 3; h < i * 3 + 3; h++) {
        high = Math.max(high, Math.abs(dot(sub(point(mesh, t[h]), at), normal)));
        const g = twin[h];
        if (g < 0) continue;
        if (tags[Math.floor(g / 3)] === inside) stack.push(Math.floor(g / 3));
        // another border: a band, not a patch
        else if (!own.has(inside === colour ? h : g)) high = Infinity;
      }
    }
    least = Math.min(least, high);
  }
  return least;
}

/** From a point to the nearest outline of a region, mm. */
function toOutline({ outer2, holes2 }: FlatRegion, [x, y]: readonly [number, number]): number {
  let least = Infinity;
  for (const l of [outer2, ...holes2]) {
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
      const [dx, dy] = [l[i] - l[j], l[i + 1] - l[j + 1]];
      const s = Math.max(0, Math.min(1, ((x - l[j]) * dx + (y - l[j + 1]) * dy) / (dx * dx + dy * dy || 1)));
      least = Math.min(least, Math.hypot(x - l[j] - s * dx, y - l[j + 1] - s * dy));
    }
  }
  return least;
}

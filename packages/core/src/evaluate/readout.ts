import { crossedTriangles, type Frame, type Region } from '../cut/index.ts';
import { poleOf } from '../joints/index.ts';
import { type Blocks, distance, dot, normalize, rayHits, triangleCross, type Vec3, vecOf } from '../mesh/index.ts';
import type { SizedBody } from '../seams/index.ts';
import { radians } from '../units.ts';
import type { Evaluation, Piece } from './model.ts';

/** What a seam leaves on one of its sides. */
export interface SideReadout {
  readonly side: 1 | -1;
  readonly pieces: readonly SidePiece[];
}

export interface SidePiece {
  readonly piece: string;
  /** areas of the piece's caps on this seam, mm² */
  readonly areas: readonly number[];
  /** share of the piece's other surface that hangs over by more than 45° when it lies on the largest of these caps */
  readonly overhang: number;
  /** share of the caps' outline where the skin meets the seam at less than 20°, so that a feather edge is left */
  readonly feather: number;
  /** radius of the widest circle in the caps, mm */
  readonly widest: number;
}

/** Beyond this angle from the upright a face needs support. */
const OVERHANG = Math.cos(Math.PI / 4);
const FEATHER = Math.cos(radians(20));

/** What the selected seam leaves on either side: its pieces with their caps, as bases and as edges. */
export function seamReadout(e: Evaluation, seam: string): SideReadout[] {
  return ([1, -1] as const).map((side) => {
    const pieces = e.pieces.flatMap((piece): SidePiece[] => {
      const faces = e.faces.filter((f) => f.seam === seam && f.pieces[side > 0 ? 1 : 0] === piece.key);
      if (faces.length === 0) return [];
      const largest = faces.reduce((a, b) => (b.area > a.area ? b : a));
      const down: Vec3 = normalize(vecOf((k) => -side * largest.frame.normal[k]));
      return [
        {
          piece: piece.key,
          areas: faces.map((f) => f.area),
          overhang: overhangShare(piece, down),
          feather: featherShare(piece, seam, side),
          widest: Math.max(...faces.map((f) => poleOf(f.region).distance)),
        },
      ];
    });
    return { side, pieces };
  });
}

/** Share of a piece's skin that looks down by more than 45° when `down` points to the bed. */
function overhangShare({ solid }: Pick<Piece, 'solid'>, down: Vec3): number {
  const { positions: p, triangles: t } = solid;
  let bed = -Infinity;
  for (let k = 0; k < p.length; k += 3) bed = Math.max(bed, p[k] * down[0] + p[k + 1] * down[1] + p[k + 2] * down[2]);
  let all = 0;
  let over = 0;
  for (let i = 0; i < t.length / 3; i++) {
    const c = triangleCross(p, t, i);
    const twice = Math.hypot(...c);
    all += twice;
    if (dot(c, down) <= OVERHANG * twice) continue;
    // what lies on the bed itself needs no support
    const height = (v: number): number => bed - (p[v * 3] * down[0] + p[v * 3 + 1] * down[1] + p[v * 3 + 2] * down[2]);
    if (Math.max(height(t[i * 3]), height(t[i * 3 + 1]), height(t[i * 3 + 2])) > 0.2) over += twice;
  }
  return all > 0 ? over / all : 0;
}

/** Share of the outline of a piece's caps at which its skin comes in at a shallow angle. */
function featherShare({ solid }: Piece, seam: string, side: 1 | -1): number {
  const edges = new Set<string>();
  const { positions: p, triangles: t } = solid;
  let normal: Vec3 = [0, 0, 1];
  for (const cap of solid.caps) {
    if (cap.side !== side || (cap.seam !== seam && !cap.seam.startsWith(`${seam}:`))) continue;
    normal = normalize(triangleCross(p, cap.triangles, 0));
    for (const l of [cap.outer, ...cap.holes]) {
      for (let i = 0; i < l.length; i++) edges.add(edgeKey(l[i], l[(i + 1) % l.length]));
    }
  }
  let all = 0;
  let shallow = 0;
  for (let i = 0; i < t.length; i += 3) {
    for (let c = 0; c < 3; c++) {
      const [a, b] = [t[i + c], t[i + ((c + 1) % 3)]];
      if (!edges.has(edgeKey(a, b))) continue;
      const length = Math.hypot(p[a * 3] - p[b * 3], p[a * 3 + 1] - p[b * 3 + 1], p[a * 3 + 2] - p[b * 3 + 2]);
      all += length;
      // the cap looks out of the piece: skin that looks the other way closes a thin wedge with it
      if (-dot(normalize(triangleCross(p, t, i / 3)), normal) > FEATHER) shallow += length;
    }
  }
  return all > 0 ? shallow / all : 0;
}

const edgeKey = (a: number, b: number): string => (a < b ? `${a} ${b}` : `${b} ${a}`);

/** Where the edge of a seam lies, as shares of its length. */
export interface Showing {
  /** on smooth outer surface, where it will be seen */
  readonly smooth: number;
  /** in a crease, which hides it */
  readonly crease: number;
  /** inside, facing other parts of the model near by */
  readonly inside: number;
  /** looking down */
  readonly under: number;
}

/** Steps along the outline that are looked at. */
const LOOKS = 160;
/** How far above and below the seam the surface is compared, share of the size. */
const NEIGHBOUR = 0.006;
const CREASE = Math.cos(radians(30));
const UNDER = -0.7;

/**
 * How much of a seam will be seen: places along the outlines of its faces are sorted by what lies round them. A place is
 * inside when something of the same body stands in front of it within a tenth of the size; in a crease when the surface
 * bends inwards by more than 30° between a little above and a little below.
 */
export function seamShowing(
  sized: SizedBody,
  frame: Frame,
  regions: readonly Pick<Region, 'outer2' | 'holes2'>[],
): Showing {
  const blocks = sized.blocks();
  const size = distance(sized.box.max, sized.box.min);
  const step = size * NEIGHBOUR;
  const above = skinAt(blocks, frame, frame.offset + step);
  const below = skinAt(blocks, frame, frame.offset - step);
  const own = skinAt(blocks, frame, frame.offset);
  let [smooth, crease, inside, under, all] = [0, 0, 0, 0, 0];
  for (const { at, length } of walkOutlines(regions, LOOKS)) {
    const here = nearestSkin(own, at);
    if (!here) continue;
    all += length;
    const place = vecOf(
      (k) => frame.origin[k] + frame.u[k] * at[0] + frame.v[k] * at[1] + here.normal[k] * 1e-4 * size,
    );
    const hits = rayHits(blocks, place, here.normal);
    if (hits.some((s) => s < size * 0.1)) {
      inside += length;
      continue;
    }
    const [up, down] = [nearestSkin(above, at), nearestSkin(below, at)];
    if (ledge(here, up, step) || ledge(here, down, step)) crease += length;
    else if (up && down && dot(up.normal, down.normal) < CREASE && bendsIn(up, down, frame, step)) crease += length;
    else if (here.normal[2] < UNDER) under += length;
    else smooth += length;
  }
  const share = (x: number): number => (all > 0 ? x / all : 0);
  return { smooth: share(smooth), crease: share(crease), inside: share(inside), under: share(under) };
}

interface Skin {
  readonly u: number;
  readonly v: number;
  readonly normal: Vec3;
  /** the normal in the plane's (u, v) */
  readonly out: readonly [number, number];
}

/** Middles of the stretches in which a plane meets triangles, with the triangles' normals. */
function skinAt(blocks: Blocks, frame: Frame, offset: number): Skin[] {
  const { positions: p, triangles: t } = blocks.mesh;
  const plane = { ...frame, offset };
  const out: Skin[] = [];
  for (const i of crossedTriangles(blocks.mesh, plane, 0, blocks).crossed) {
    let [u, v, n] = [0, 0, 0];
    for (let c = 0; c < 3; c++) {
      const a = t[i * 3 + c] * 3;
      const b = t[i * 3 + ((c + 1) % 3)] * 3;
      const da = dot([p[a], p[a + 1], p[a + 2]], plane.normal) - offset;
      const db = dot([p[b], p[b + 1], p[b + 2]], plane.normal) - offset;
      if (da > 0 === db > 0) continue;
      const s = da / (da - db);
      const x = vecOf((k) => p[a + k] + s * (p[b + k] - p[a + k]) - frame.origin[k]);
      u += dot(x, frame.u);
      v += dot(x, frame.v);
      n++;
    }
    if (n === 0) continue;
    const normal = normalize(triangleCross(p, t, i));
    out.push({ u: u / n, v: v / n, normal, out: [dot(normal, frame.u), dot(normal, frame.v)] });
  }
  return out;
}

function nearestSkin(list: readonly Skin[], [u, v]: readonly [number, number]): Skin | null {
  let best: Skin | null = null;
  let least = Infinity;
  for (const s of list) {
    const d = (s.u - u) ** 2 + (s.v - v) ** 2;
    if (d < least) [least, best] = [d, s];
  }
  return best;
}

/** Whether the model juts out near the seam, so that its outline there is farther out than the seam's. */
function ledge(here: Skin, beside: Skin | null, step: number): boolean {
  if (!beside) return false;
  const [du, dv] = [beside.u - here.u, beside.v - here.v];
  return Math.hypot(du, dv) > 3 * step && du * here.out[0] + dv * here.out[1] > 0;
}

/** Whether the surface is hollow between a place above the seam and one below it. */
function bendsIn(up: Skin, down: Skin, frame: Frame, step: number): boolean {
  const way: Vec3 = vecOf(
    (k) => frame.u[k] * (up.u - down.u) + frame.v[k] * (up.v - down.v) + frame.normal[k] * 2 * step,
  );
  return dot(way, up.normal) < 0 || dot(way, down.normal) > 0;
}

/** Places along outlines, in even steps, and how much of the length each stands for. */
function walkOutlines(regions: readonly Pick<Region, 'outer2' | 'holes2'>[], wanted: number) {
  const loops = regions.flatMap((r) => [r.outer2, ...r.holes2]);
  const lengths = loops.map((l) => {
    let sum = 0;
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) sum += Math.hypot(l[i] - l[j], l[i + 1] - l[j + 1]);
    return sum;
  });
  const step = Math.max(1e-9, lengths.reduce((a, b) => a + b, 0) / wanted);
  const out: { at: [number, number]; length: number }[] = [];
  for (const l of loops) {
    let due = step / 2;
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
      const length = Math.hypot(l[i] - l[j], l[i + 1] - l[j + 1]);
      let s = due;
      for (; s < length; s += step) {
        const k = s / length;
        out.push({ at: [l[j] + k * (l[i] - l[j]), l[j + 1] + k * (l[i + 1] - l[j + 1])], length: step });
      }
      due = s - length;
    }
  }
  return out;
}

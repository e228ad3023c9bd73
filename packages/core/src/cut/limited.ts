import { GephyraError } from '../errors.ts';
import { cross, dot, type Vec3 } from '../mesh/index.ts';
import type { CapLoops, Cell } from './cell.ts';
import { Crossings, type CutPlane, chain } from './crossings.ts';
import type { Frame } from './frame.ts';
import { FILM_WINDOWS, sideOf } from './part.ts';
import { type Region, regionsOf } from './regions.ts';

/** A cell cut through some regions of a section only. */
export interface Limited {
  /** the cell itself where nothing was cut; else one cell that has caps of both sides, in one or in several solids */
  readonly cell: Cell;
  /** the regions that the plane cuts out of this cell, in the frame's (u, v), and whether they were cut */
  readonly regions: readonly { readonly region: Region; readonly cut: boolean }[];
}

/**
 * Cuts a cell by a plane through those regions of its section for which `on` says yes.
 *
 *    ____        ____            the limb on the left is cut, the one on the right is left
 *   |    |      |    |           as it is: its crossed triangles stay whole
 *   |-on-|      | off|
 *   |    |______|    |
 *   |________________|
 *
 * What stays connected elsewhere stays one solid; that is only known later, so both sides come as one cell. No vertex of
 * the cell may lie on the plane. Throws GephyraError `cut.open` when the surface is not closed.
 */
export function limitedCut(
  cell: Cell,
  frame: Frame,
  plane: CutPlane,
  capNormals: ReadonlyMap<string, Vec3>,
  on: (region: Region) => boolean,
): Limited {
  const { positions: p, triangles: t, tags } = cell;
  if (sideOf(cell, plane) !== 0) return { cell, regions: [] };
  const vertices = p.length / 3;
  const { up, high, low } = signs(p, plane);
  const film = FILM_WINDOWS * plane.window;
  if (high <= film || -low <= film) return { cell, regions: [] };
  const crossed = crossedTriangles(t, up);

  const crossings = new Crossings(p, plane, crossed.length + 64);
  const next: number[] = [];
  const entry = new Map<number, Turned>();
  for (const i of crossed) {
    const turned = turn(t, i, up, crossings);
    entry.set(i, turned);
    // as seen from below the plane: the cap of the lower side
    if (turned.loneUp) next[turned.x] = turned.y;
    else next[turned.y] = turned.x;
  }
  const walks = cell.caps.map((cap) => walkCap(cap, up, crossings, capNormals, plane, next));

  const loops = chain(next, crossings.count).map((l) => Uint32Array.from(l));
  const regions = regionsOf({ positions: crossings.positions }, { seam: plane.seam, side: -1, loops }, frame).map(
    (region) => ({ region, cut: on(region) }),
  );
  const isCut = new Uint8Array(crossings.count);
  const cutLoops: Uint32Array[] = [];
  for (const { region, cut } of regions) {
    if (!cut) continue;
    for (const loop of [region.outer, ...region.holes]) {
      cutLoops.push(loop);
      for (const x of loop) isCut[x] = 1;
    }
  }
  if (cutLoops.length === 0) return { cell, regions };

  // every new vertex twice: for what lies above, and for what lies below
  const aboveAt = new Int32Array(crossings.count);
  let added = 0;
  for (let x = 0; x < crossings.count; x++) if (isCut[x]) aboveAt[x] = vertices + 2 * added++;
  const positions = new Float64Array(p.length + added * 6);
  positions.set(p);
  for (let x = 0; x < crossings.count; x++) {
    if (!isCut[x]) continue;
    const place = crossings.positions.subarray(x * 3, x * 3 + 3);
    positions.set(place, aboveAt[x] * 3);
    positions.set(place, aboveAt[x] * 3 + 3);
  }
  const above = (x: number): number => aboveAt[x];
  const below = (x: number): number => aboveAt[x] + 1;

  const parted = crossed.filter((i) => isCut[entry.get(i)!.x]);
  const triangles = new Uint32Array(t.length + parted.length * 6);
  const allTags = new Uint32Array(tags.length + parted.length * 2);
  triangles.set(t);
  allTags.set(tags);
  let at = tags.length;
  for (const i of parted) {
    const { lone, b, c, x, y, loneUp } = entry.get(i)!;
    const [own, other] = loneUp ? [above, below] : [below, above];
    triangles.set([lone, own(x), own(y)], i * 3);
    triangles.set([other(x), b, c, other(x), c, other(y)], at * 3);
    allTags.fill(tags[i], at, at + 2);
    at += 2;
  }
  const caps: CapLoops[] = cell.caps.map((cap, i) => ({
    ...cap,
    loops: closeCap(walks[i], up, isCut, above, below),
  }));
  caps.push(
    { seam: plane.seam, side: 1, loops: cutLoops.map((l) => l.map(above).reverse()) },
    { seam: plane.seam, side: -1, loops: cutLoops.map((l) => l.map(below)) },
  );
  return { cell: { positions, triangles, tags: allTags, caps }, regions };
}

function signs(p: Float64Array, { normal, offset }: CutPlane): { up: Uint8Array; high: number; low: number } {
  const [nx, ny, nz] = normal;
  const up = new Uint8Array(p.length / 3);
  let high = 0;
  let low = 0;
  for (let v = 0, k = 0; v < up.length; v++, k += 3) {
    const d = nx * p[k] + ny * p[k + 1] + nz * p[k + 2] - offset;
    up[v] = d > 0 ? 1 : 0;
    if (d > high) high = d;
    if (d < low) low = d;
  }
  return { up, high, low };
}

function crossedTriangles(t: Uint32Array, up: Uint8Array): number[] {
  const crossed: number[] = [];
  for (let i = 0, k = 0; k < t.length; i++, k += 3) {
    const sum = up[t[k]] + up[t[k + 1]] + up[t[k + 2]];
    if (sum === 1 || sum === 2) crossed.push(i);
  }
  return crossed;
}

/** A crossed triangle, turned until the corner that is alone on its side comes first; x and y are on its two edges. */
interface Turned {
  readonly lone: number;
  readonly b: number;
  readonly c: number;
  readonly x: number;
  readonly y: number;
  readonly loneUp: boolean;
}

function turn(t: Uint32Array, i: number, up: Uint8Array, crossings: Crossings): Turned {
  let [lone, b, c] = [t[i * 3], t[i * 3 + 1], t[i * 3 + 2]];
  if (up[lone] === up[c]) [lone, b, c] = [b, c, lone];
  else if (up[lone] === up[b]) [lone, b, c] = [c, lone, b];
  const loneUp = up[lone] === 1;
  const at = (v: number): number => (loneUp ? crossings.at(v, lone) : crossings.at(lone, v));
  return { lone, b, c, x: at(b), y: at(c), loneUp };
}

/** A loop of an earlier cap: its corners, and what it crosses between each and the next (−1: nothing). */
interface Walk {
  readonly loop: Uint32Array;
  readonly crossing: Int32Array;
}

/** The loops of a cap, and for each crossing the one at the other end of the stretch of plane inside this cap. */
interface Walked {
  readonly walks: readonly Walk[];
  readonly mates: ReadonlyMap<number, number>;
}

/** Follows the loops of a cap; where its inside meets the plane, crossings are joined in pairs along the line. */
function walkCap(
  cap: CapLoops,
  up: Uint8Array,
  crossings: Crossings,
  capNormals: ReadonlyMap<string, Vec3>,
  plane: CutPlane,
  next: number[],
): Walked {
  const normal = capNormals.get(cap.seam);
  if (!normal) throw new GephyraError('cut.seam', `The seam ${cap.seam} of an earlier cut is not known.`);
  const ups: number[] = [];
  const downs: number[] = [];
  const walks = cap.loops.map((loop): Walk => {
    const crossing = new Int32Array(loop.length).fill(-1);
    for (let i = 0; i < loop.length; i++) {
      const a = loop[i];
      const b = loop[i + 1 === loop.length ? 0 : i + 1];
      if (up[a] === up[b]) continue;
      crossing[i] = up[a] ? crossings.at(b, a) : crossings.at(a, b);
      (up[a] ? downs : ups).push(crossing[i]);
    }
    return { loop, crossing };
  });
  if (ups.length !== downs.length) throw new GephyraError('cut.open', 'A cap of an earlier seam is not closed.');
  const direction = cross(normal, plane.normal);
  const q = crossings.positions;
  const place = (x: number): number => dot([q[x * 3], q[x * 3 + 1], q[x * 3 + 2]], direction) * -cap.side;
  ups.sort((a, b) => place(a) - place(b));
  downs.sort((a, b) => place(a) - place(b));
  const mates = new Map<number, number>();
  ups.forEach((x, i) => {
    mates.set(x, downs[i]);
    mates.set(downs[i], x);
    next[downs[i]] = x;
  });
  return { walks, mates };
}

/** The loops of a cap after the cut: at crossings that are cut they go over to the mate, others they pass. */
function closeCap(
  { walks, mates }: Walked,
  up: Uint8Array,
  isCut: Uint8Array,
  above: (x: number) => number,
  below: (x: number) => number,
): Uint32Array[] {
  const out: Uint32Array[] = [];
  const chains = new Map<number, { readonly points: number[]; readonly end: number }>();
  for (const { loop, crossing } of walks) {
    const n = loop.length;
    const stops = Array.from(crossing.keys()).filter((i) => crossing[i] >= 0 && isCut[crossing[i]]);
    if (stops.length === 0) {
      out.push(loop);
      continue;
    }
    stops.forEach((from, k) => {
      const to = stops[(k + 1) % stops.length];
      const copy = (x: number, near: number): number => (up[near] ? above(x) : below(x));
      const points = [copy(crossing[from], loop[(from + 1) % n])];
      for (let i = (from + 1) % n; ; i = (i + 1) % n) {
        points.push(loop[i]);
        if (i === to) break;
      }
      points.push(copy(crossing[to], loop[to]));
      chains.set(crossing[from], { points, end: crossing[to] });
    });
  }
  const used = new Set<number>();
  for (const first of chains.keys()) {
    if (used.has(first)) continue;
    const points: number[] = [];
    let x = first;
    do {
      used.add(x);
      const chained = chains.get(x)!;
      points.push(...chained.points);
      x = mates.get(chained.end)!;
    } while (x !== first);
    out.push(Uint32Array.from(points));
  }
  return out;
}

import { GephyraError } from '../errors.ts';
import { boxOf, cross, dot, type Vec3 } from '../mesh/index.ts';
import type { CapLoops, Cell } from './cell.ts';
import { Crossings, type CutPlane, chain } from './crossings.ts';

/** The two sides of a cut cell; a side without anything is null, an uncut cell is passed on as it is. */
export interface Parted {
  readonly above: Cell | null;
  readonly below: Cell | null;
  /** distance of the vertex nearest to the plane, mm; infinite for a cell whose box keeps away from it */
  readonly nearest: number;
}

/** A cut cap before its vertices are renumbered: new ones stand as −1 − k. */
interface LooseCap extends Pick<CapLoops, 'seam' | 'side'> {
  readonly loops: readonly Int32Array[];
}

/**
 * Cuts a cell by a plane into what lies above it (along the normal) and below.
 *
 *         above
 *      /\      /\         each crossed edge gets one new vertex, computed from its end below to its end above, so
 *   --x--x----x--x--      both triangles at the edge, and both sides, get the same bits; crossed triangles and
 *    /    \  /    \       crossed caps give directed segments, which chain into the loops of the new cap
 *         below
 *
 * `capNormals` gives the normal of each earlier seam by id. Linear in the triangles of the cell.
 * Throws GephyraError `cut.open` when the cell's surface is not closed.
 */
export function partCell(cell: Cell, plane: CutPlane, capNormals: ReadonlyMap<string, Vec3>): Parted {
  const { positions: p, triangles: t, tags } = cell;
  const side = sideOf(cell, plane);
  if (side !== 0) return { above: side > 0 ? cell : null, below: side > 0 ? null : cell, nearest: Infinity };
  const vertexCount = p.length / 3;

  // Vertices above fill `places` from the front, those below from behind towards it; both keep room for new ones after
  // them: as many as most cuts have, and no more than a closed surface has edges. number[v]: its number above (0, 1,
  // 2 …); below, its number less the count of those below, so it is negative.
  const room = Math.min(8 * Math.ceil(Math.sqrt(tags.length)) + 8192, 2 * tags.length);
  const number = scratch(vertexCount);
  const places = new Float64Array(p.length + room * 6);
  const belowEnd = vertexCount + room;
  const { above: aboveCount, nearest, high, low } = classify(p, plane, number, places, belowEnd);
  const belowCount = vertexCount - aboveCount;
  // what would only be the film of a flush face stays where it is
  if (high <= FILM_WINDOWS * plane.window) return { above: null, below: cell, nearest };
  if (-low <= FILM_WINDOWS * plane.window) return { above: cell, below: null, nearest };

  // Whole triangles: those above fill `whole` from the front, those below from the back. Room is left between them for
  // the triangles with new vertices (three for each new vertex), so that both sides can stay where they are.
  const whole = new Uint32Array(t.length + room * 9);
  const wholeTags = new Uint32Array(tags.length + room * 3);
  const crossedTriangles: number[] = [];
  const [front, back] = sortTriangles(t, tags, number, belowCount, whole, wholeTags, crossedTriangles);
  const above = new LateTriangles();
  const below = new LateTriangles();

  const crossings = new Crossings(p, plane, crossedTriangles.length + 64);
  const next: number[] = [];
  const link = (from: number, to: number): void => {
    next[from] = to;
  };
  for (const i of crossedTriangles) {
    // turn the triangle until its lone corner comes first
    let k0 = t[i * 3];
    let k1 = t[i * 3 + 1];
    let k2 = t[i * 3 + 2];
    const s0 = number[k0] >= 0;
    const s1 = number[k1] >= 0;
    const s2 = number[k2] >= 0;
    if (s0 === s2) [k0, k1, k2] = [k1, k2, k0];
    else if (s0 === s1) [k0, k1, k2] = [k2, k0, k1];
    const lone = number[k0];
    const b = number[k1];
    const c = number[k2];
    if (lone >= 0) {
      const x = crossings.at(k1, k0);
      const y = crossings.at(k2, k0);
      above.add(lone, -1 - x, -1 - y, tags[i]);
      below.add(-1 - x, belowCount + b, belowCount + c, tags[i]);
      below.add(-1 - x, belowCount + c, -1 - y, tags[i]);
      link(x, y);
    } else {
      const x = crossings.at(k0, k1);
      const y = crossings.at(k0, k2);
      below.add(belowCount + lone, -1 - x, -1 - y, tags[i]);
      above.add(-1 - x, b, c, tags[i]);
      above.add(-1 - x, c, -1 - y, tags[i]);
      link(y, x);
    }
  }

  const capsAbove: LooseCap[] = [];
  const capsBelow: LooseCap[] = [];
  for (const cap of cell.caps) {
    const normal = capNormals.get(cap.seam);
    if (!normal) throw new GephyraError('cut.seam', `The seam ${cap.seam} of an earlier cut is not known.`);
    const parts = partCap(cap, number, crossings, cross(normal, plane.normal), link);
    if (parts.above.length > 0) capsAbove.push({ ...cap, loops: parts.above });
    if (parts.below.length > 0) capsBelow.push({ ...cap, loops: parts.below });
  }

  const loops = chain(next, crossings.count);
  const fits = front + above.count + below.count <= back;
  const finish = (late: LateTriangles, caps: LooseCap[], sign: 1 | -1): Cell => {
    const own = sign > 0 ? aboveCount : belowCount;
    const first = sign > 0 ? 0 : belowEnd - belowCount;
    let positions = places.subarray(first * 3, (first + own + crossings.count) * 3);
    if (crossings.count > room) {
      positions = new Float64Array((own + crossings.count) * 3);
      positions.set(places.subarray(first * 3, (first + own) * 3));
    }
    const [from, to] = sign > 0 ? [0, front] : [back, wholeTags.length];
    const [start, end] = sign > 0 ? [from, to + late.count] : [from - late.count, to];
    let triangles = whole.subarray(start * 3, end * 3);
    let sideTags = wholeTags.subarray(start, end);
    if (!fits) {
      triangles = new Uint32Array((end - start) * 3);
      sideTags = new Uint32Array(end - start);
      triangles.set(whole.subarray(from * 3, to * 3), (from - start) * 3);
      sideTags.set(wholeTags.subarray(from, to), from - start);
    }
    late.write(triangles, sideTags, sign > 0 ? to - from : 0, own);
    positions.set(crossings.positions.subarray(0, crossings.count * 3), own * 3);
    const oldOrNew = (x: number): number => (x < 0 ? own - 1 - x : sign > 0 ? number[x] : own + number[x]);
    const renumbered = caps.map((cap) => ({ ...cap, loops: cap.loops.map((l) => Uint32Array.from(l, oldOrNew)) }));
    const fresh = loops.map((l) => {
      const loop = new Uint32Array(l.length);
      for (let i = 0; i < l.length; i++) loop[sign > 0 ? l.length - 1 - i : i] = own + l[i];
      return loop;
    });
    const allCaps = [...renumbered, { seam: plane.seam, side: sign, loops: fresh }];
    return { positions, triangles, tags: sideTags, caps: allCaps };
  };
  return {
    above: finish(above, capsAbove, 1),
    below: finish(below, capsBelow, -1),
    nearest,
  };
}

/** A side that reaches no farther than this many windows from the plane is no piece. */
export const FILM_WINDOWS = 2;

/** +1 or −1 when the cell's whole box lies above or below the plane, else 0. */
export function sideOf(cell: Cell, { normal, offset, window }: CutPlane): number {
  const box = boxOf(cell.positions);
  let low = -offset;
  let high = -offset;
  for (let a = 0; a < 3; a++) {
    const [x, y] = [normal[a] * box.min[a], normal[a] * box.max[a]];
    low += Math.min(x, y);
    high += Math.max(x, y);
  }
  return low > window ? 1 : high < -window ? -1 : 0;
}

// The two passes over the whole mesh are functions of their own: short loops are optimized soon and stay so.

/** Numbers the vertices of either side and puts them there, in one pass; counts those above, finds the nearest. */
function classify(
  p: Float64Array,
  plane: CutPlane,
  number: Int32Array,
  places: Float64Array,
  belowEnd: number,
): { above: number; nearest: number; high: number; low: number } {
  const nx = plane.normal[0];
  const ny = plane.normal[1];
  const nz = plane.normal[2];
  const offset = plane.offset;
  let above = 0;
  let below = 0;
  let nearest = Infinity;
  let high = 0;
  let low = 0;
  for (let v = 0, k = 0; k < p.length; v++, k += 3) {
    const x = p[k];
    const y = p[k + 1];
    const z = p[k + 2];
    let w = 0;
    const d = nx * x + ny * y + nz * z - offset;
    const far = d < 0 ? -d : d;
    if (far < nearest) nearest = far;
    if (d > high) high = d;
    if (d < low) low = d;
    if (d > 0) {
      number[v] = above;
      w = above++ * 3;
    } else {
      number[v] = --below;
      w = (belowEnd + below) * 3;
    }
    places[w] = x;
    places[w + 1] = y;
    places[w + 2] = z;
  }
  return { above, nearest, high, low };
}

/** Sorts whole triangles to the front (above) and the back (below); gives where they end and begin. */
function sortTriangles(
  t: Uint32Array,
  tags: Uint32Array,
  number: Int32Array,
  belowCount: number,
  whole: Uint32Array,
  wholeTags: Uint32Array,
  crossed: number[],
): [number, number] {
  let front = 0;
  let back = wholeTags.length;
  for (let i = 0, k = 0; k < t.length; i++, k += 3) {
    const a = number[t[k]];
    const b = number[t[k + 1]];
    const c = number[t[k + 2]];
    if ((a | b | c) >= 0) {
      const w = front * 3;
      whole[w] = a;
      whole[w + 1] = b;
      whole[w + 2] = c;
      wholeTags[front++] = tags[i];
    } else if ((a & b & c) < 0) {
      const w = --back * 3;
      whole[w] = belowCount + a;
      whole[w + 1] = belowCount + b;
      whole[w + 2] = belowCount + c;
      wholeTags[back] = tags[i];
    } else crossed.push(i);
  }
  return [front, back];
}

let numbers = new Int32Array(0);

/** Memory for vertex numbers, used again by every cut; nothing keeps it after the cut. */
function scratch(length: number): Int32Array {
  if (numbers.length < length) numbers = new Int32Array(Math.ceil(length * 1.2));
  return numbers;
}

/** The triangles of one side that have new vertices, which are written −1 − k until all numbers are known. */
class LateTriangles {
  private readonly corners: number[] = [];
  private readonly tags: number[] = [];

  add(a: number, b: number, c: number, tag: number): void {
    this.corners.push(a, b, c);
    this.tags.push(tag);
  }

  get count(): number {
    return this.tags.length;
  }

  /** Writes them from triangle `at` on; `own` is the number of vertices the side had before. */
  write(triangles: Uint32Array, tags: Uint32Array, at: number, own: number): void {
    for (let i = 0; i < this.corners.length; i++) {
      const x = this.corners[i];
      triangles[at * 3 + i] = x < 0 ? own - 1 - x : x;
    }
    tags.set(this.tags, at);
  }
}

/**
 * Cuts the polygon of an earlier cap along the line `direction` (cap normal × plane normal, up to sign).
 *
 * The loops are followed into chains that end at crossings. Along the line, where the polygon's inside is, each place
 * where a loop comes up through the plane is joined to the next where one goes down: sorted apart and paired in order,
 * which stays sound when two crossings nearly coincide. New vertices stand as −1 − k in the loops that come out.
 */
function partCap(
  cap: CapLoops,
  number: Int32Array,
  crossings: Crossings,
  direction: Vec3,
  link: (from: number, to: number) => void,
): { above: Int32Array[]; below: Int32Array[] } {
  const above: Int32Array[] = [];
  const below: Int32Array[] = [];
  const ups: number[] = [];
  const downs: number[] = [];
  const chains = new Map<number, { body: number[]; end: number }>();
  for (const loop of cap.loops) {
    const n = loop.length;
    let first = -1;
    for (let i = 0; i < n && first < 0; i++) {
      if (number[loop[i]] >= 0 !== number[loop[(i + 1) % n]] >= 0) first = i;
    }
    if (first < 0) {
      (number[loop[0]] >= 0 ? above : below).push(Int32Array.from(loop));
      continue;
    }
    let start = -1;
    let body: number[] = [];
    for (let s = 0; s <= n; s++) {
      const a = loop[(first + s) % n];
      const b = loop[(first + s + 1) % n];
      if (s > 0) body.push(a);
      const aUp = number[a] >= 0;
      if (aUp === number[b] >= 0) continue;
      const x = aUp ? crossings.at(b, a) : crossings.at(a, b);
      if (s < n) (aUp ? downs : ups).push(x);
      if (start >= 0) chains.set(start, { body, end: x });
      start = x;
      body = [];
    }
  }
  if (ups.length !== downs.length) throw new GephyraError('cut.open', 'A cap of an earlier seam is not closed.');
  const outward = cap.side < 0 ? 1 : -1;
  const place = (x: number): number => {
    const q = crossings.positions;
    return outward * dot([q[x * 3], q[x * 3 + 1], q[x * 3 + 2]], direction);
  };
  ups.sort((a, b) => place(a) - place(b));
  downs.sort((a, b) => place(a) - place(b));
  const mate = new Map<number, number>();
  for (let i = 0; i < ups.length; i++) {
    mate.set(ups[i], downs[i]);
    mate.set(downs[i], ups[i]);
    link(downs[i], ups[i]);
  }
  const used = new Set<number>();
  for (const first of chains.keys()) {
    if (used.has(first)) continue;
    const loop: number[] = [];
    let x = first;
    do {
      used.add(x);
      const chained = chains.get(x)!;
      loop.push(-1 - x, ...chained.body, -1 - chained.end);
      x = mate.get(chained.end)!;
    } while (x !== first);
    (number[loop[1]] >= 0 ? above : below).push(Int32Array.from(loop));
  }
  return { above, below };
}

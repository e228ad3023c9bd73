import { type Box, halfEdges, type IndexedMesh, nextHalf } from '../mesh/index.ts';
import type { Frame } from './frame.ts';

/** Sections of a model at stations along a direction, and the boxes of what lies between them. */
export interface Profile {
  /** normal · x of each station, ascending */
  readonly at: Float64Array;
  /** mm² */
  readonly area: Float64Array;
  /** length of all outlines, mm */
  readonly perimeter: Float64Array;
  /** number of outer outlines */
  readonly regions: Uint16Array;
  /**
   * six numbers a slab: min x, y, z, max x, y, z of what lies between two stations, in the model's axes. One slab more than
   * stations; slab i ends at station i. An empty one has min above max.
   */
  readonly slabs: Float64Array;
  /** extreme normal · x of the model */
  readonly from: number;
  readonly to: number;
}

/** Share of the largest area by which neighbouring stations may differ before one is put between them. */
const STEP = 0.05;
const ROUNDS = 3;

/**
 * Sections over the whole length of closed meshes: `count` even stations, and up to half as many more where the area or the
 * number of regions changes quickly. Each section is walked along from triangle to triangle, so the cost is that of the
 * triangles the stations meet; the adjacency is kept with the mesh. Outlines that do not close are left out.
 */
export function profileAlong(meshes: readonly IndexedMesh[], frame: Frame, count: number): Profile {
  const heights = meshes.map((m) => heightsOf(m.positions, frame));
  let from = Infinity;
  let to = -Infinity;
  for (const h of heights) {
    for (let v = 0; v < h.length; v++) {
      if (h[v] < from) from = h[v];
      if (h[v] > to) to = h[v];
    }
  }
  // an irrational share keeps stations off the round heights at which vertices lie in rows
  const even = Float64Array.from(
    { length: count },
    (_, i) => from + ((to - from) * (i + 0.5 + 0.0137 * Math.SQRT2)) / (count + 0.04),
  );
  let rows = measure(meshes, heights, frame, even);
  const most = Math.floor(count / 2);
  let added = 0;
  for (let round = 0; round < ROUNDS && added < most; round++) {
    const between = placesBetween(rows).slice(0, most - added);
    if (between.length === 0) break;
    added += between.length;
    rows = [...rows, ...measure(meshes, heights, frame, Float64Array.from(between))].sort((a, b) => a.at - b.at);
  }
  const at = Float64Array.from(rows, (r) => r.at);
  return {
    at,
    area: Float64Array.from(rows, (r) => r.area),
    perimeter: Float64Array.from(rows, (r) => r.perimeter),
    regions: Uint16Array.from(rows, (r) => r.regions),
    slabs: slabsOf(meshes, heights, at, rows),
    from,
    to,
  };
}

/** The box of what lies between two places along the direction, to the precision of the stations. Null: nothing. */
export function slabBox({ at, slabs, from, to }: Profile, low: number, high: number): Box | null {
  if (low >= to || high <= from) return null;
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i <= at.length; i++) {
    if (i < at.length && at[i] <= low) continue;
    if (i > 0 && at[i - 1] >= high) break;
    for (let a = 0; a < 3; a++) {
      min[a] = Math.min(min[a], slabs[i * 6 + a]);
      max[a] = Math.max(max[a], slabs[i * 6 + 3 + a]);
    }
  }
  return min[0] <= max[0] ? { min, max } : null;
}

interface Row {
  readonly at: number;
  area: number;
  perimeter: number;
  regions: number;
  /** box of the section: min x, y, z, max x, y, z */
  readonly box: Float64Array;
}

const emptyBox = (): Float64Array => Float64Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity);

function heightsOf(p: Float64Array, { normal: [nx, ny, nz] }: Frame): Float64Array {
  const h = new Float64Array(p.length / 3);
  for (let v = 0, k = 0; v < h.length; v++, k += 3) h[v] = nx * p[k] + ny * p[k + 1] + nz * p[k + 2];
  return h;
}

/** The middles of the steps at which the profile changes most, the greatest first. */
function placesBetween(rows: readonly Row[]): number[] {
  const largest = rows.reduce((m, r) => Math.max(m, r.area), 0);
  const steps = rows.slice(1).map((r, i) => {
    const change = Math.abs(r.area - rows[i].area) / largest;
    return { at: (r.at + rows[i].at) / 2, change: r.regions === rows[i].regions ? change : change + STEP };
  });
  return steps
    .filter((s) => s.change >= STEP)
    .sort((a, b) => b.change - a.change)
    .map((s) => s.at);
}

function measure(
  meshes: readonly IndexedMesh[],
  heights: readonly Float64Array[],
  frame: Frame,
  at: Float64Array,
): Row[] {
  const sorted = at.slice().sort();
  const rows = Array.from(sorted, (x): Row => ({ at: x, area: 0, perimeter: 0, regions: 0, box: emptyBox() }));
  meshes.forEach((mesh, i) => {
    const { lists, starts } = triangleLists(mesh.triangles, heights[i], sorted);
    const { twin } = halfEdges(mesh);
    const seen = new Int32Array(mesh.triangles.length / 3).fill(-1);
    rows.forEach((row, s) => {
      walkStation(mesh, heights[i], frame, twin, lists.subarray(starts[s], starts[s + 1]), seen, s, row);
    });
  });
  return rows;
}

/** First station at or above a height. */
function stationFrom(at: Float64Array, height: number): number {
  let low = 0;
  let high = at.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (at[middle] < height) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The triangles that each station meets, station after station. */
function triangleLists(t: Uint32Array, h: Float64Array, at: Float64Array): { lists: Uint32Array; starts: Uint32Array } {
  const starts = new Uint32Array(at.length + 2);
  const first = new Uint16Array(t.length / 3);
  const last = new Uint16Array(t.length / 3);
  for (let i = 0, k = 0; k < t.length; i++, k += 3) {
    const a = h[t[k]];
    const b = h[t[k + 1]];
    const c = h[t[k + 2]];
    const low = a < b ? (a < c ? a : c) : b < c ? b : c;
    const high = a > b ? (a > c ? a : c) : b > c ? b : c;
    const s0 = stationFrom(at, low);
    let s1 = s0;
    while (s1 < at.length && at[s1] < high) {
      starts[s1 + 2]++;
      s1++;
    }
    first[i] = s0;
    last[i] = s1;
  }
  for (let s = 2; s < starts.length; s++) starts[s] += starts[s - 1];
  const lists = new Uint32Array(starts[starts.length - 1]);
  for (let i = 0; i < first.length; i++) for (let s = first[i]; s < last[i]; s++) lists[starts[s + 1]++] = i;
  return { lists, starts };
}

/** Follows the outlines of one section and adds what they measure to its row. */
function walkStation(
  { positions: p, triangles: t }: IndexedMesh,
  h: Float64Array,
  { u, v, origin }: Frame,
  twin: Int32Array,
  list: Uint32Array,
  seen: Int32Array,
  station: number,
  row: Row,
): void {
  const level = row.at;
  const { box } = row;
  for (const start of list) {
    if (seen[start] === station) continue;
    let area = 0;
    let length = 0;
    let [px, py, x0, y0] = [0, 0, 0, 0];
    let points = 0;
    let i = start;
    let closed = false;
    while (seen[i] !== station) {
      seen[i] = station;
      // the section leaves a triangle, solid on its left, over the edge that goes up through the level
      const k = i * 3;
      const ua = h[t[k]] > level;
      const ub = h[t[k + 1]] > level;
      const uc = h[t[k + 2]] > level;
      const e = !ua && ub ? k : !ub && uc ? k + 1 : !uc && ua ? k + 2 : -1;
      if (e < 0) break;
      const down = t[e];
      const up = t[nextHalf(e)];
      const s = (level - h[down]) / (h[up] - h[down]);
      const x = p[down * 3] + s * (p[up * 3] - p[down * 3]);
      const y = p[down * 3 + 1] + s * (p[up * 3 + 1] - p[down * 3 + 1]);
      const z = p[down * 3 + 2] + s * (p[up * 3 + 2] - p[down * 3 + 2]);
      if (x < box[0]) box[0] = x;
      if (y < box[1]) box[1] = y;
      if (z < box[2]) box[2] = z;
      if (x > box[3]) box[3] = x;
      if (y > box[4]) box[4] = y;
      if (z > box[5]) box[5] = z;
      const a = (x - origin[0]) * u[0] + (y - origin[1]) * u[1] + (z - origin[2]) * u[2];
      const b = (x - origin[0]) * v[0] + (y - origin[1]) * v[1] + (z - origin[2]) * v[2];
      if (points === 0) [x0, y0] = [a, b];
      else {
        area += (px - x0) * (b - y0) - (a - x0) * (py - y0);
        length += Math.hypot(a - px, b - py);
      }
      px = a;
      py = b;
      points++;
      const across = twin[e];
      if (across < 0) break;
      i = (across / 3) | 0;
      closed = i === start;
    }
    if (!closed || points < 3) continue;
    length += Math.hypot(x0 - px, y0 - py);
    row.area += area / 2;
    row.perimeter += length;
    if (area > 0) row.regions++;
  }
}

/** Boxes between stations: of the vertices there, and of the sections at both ends. */
function slabsOf(
  meshes: readonly IndexedMesh[],
  heights: readonly Float64Array[],
  at: Float64Array,
  rows: readonly Row[],
): Float64Array {
  const slabs = new Float64Array((at.length + 1) * 6);
  for (let i = 0; i <= at.length; i++) slabs.set(emptyBox(), i * 6);
  const grow = (slab: number, lowX: number, lowY: number, lowZ: number, x: number, y: number, z: number): void => {
    const k = slab * 6;
    if (lowX < slabs[k]) slabs[k] = lowX;
    if (lowY < slabs[k + 1]) slabs[k + 1] = lowY;
    if (lowZ < slabs[k + 2]) slabs[k + 2] = lowZ;
    if (x > slabs[k + 3]) slabs[k + 3] = x;
    if (y > slabs[k + 4]) slabs[k + 4] = y;
    if (z > slabs[k + 5]) slabs[k + 5] = z;
  };
  meshes.forEach(({ positions: p }, m) => {
    const h = heights[m];
    for (let v = 0, k = 0; v < h.length; v++, k += 3) {
      const slab = stationFrom(at, h[v]);
      grow(slab, p[k], p[k + 1], p[k + 2], p[k], p[k + 1], p[k + 2]);
    }
  });
  rows.forEach(({ box: [a, b, c, d, e, f] }, i) => {
    if (a > d) return;
    grow(i, a, b, c, d, e, f);
    grow(i + 1, a, b, c, d, e, f);
  });
  return slabs;
}

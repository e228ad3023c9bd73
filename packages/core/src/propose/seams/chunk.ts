import { closedMesh, type Frame, type Solid, volumeFrom } from '../../cut/index.ts';
import { halfEdges, type IndexedMesh, nextHalf, type Vec3 } from '../../mesh/index.ts';

/** What a triangle of a stand-in is: skin, skin that is to be seen, or from here on a face of an earlier seam by its number. */
export const SKIN = 0;
export const SHOWN = 1;
export const CAP = 2;
/** Faces of the search's own cuts are counted from here. */
const OWN = 1 << 16;

/**
 * A piece as the search knows it: a stand-in with all that is asked of it again and again.
 *
 * order    corners as they are reached from the first of each shell, along edges
 * from     the corner from which each was reached; itself for the first ones
 * ends     two corners an edge
 * edge     the edge of each half-edge
 * volumes  six times the signed volume of each triangle with the origin, mm³
 * areas    twice the area vector of each triangle, mm²
 * sizes    area of each triangle of the model's own surface; 0 for caps, mm²
 * halves   half of the length of each area vector, mm²
 * hollow   0 … 1 a corner: how sharply the skin bends inwards there
 * room     points before its caps that joints may take up, and the corner that each belongs to
 */
export interface Chunk {
  readonly solid: Solid;
  readonly frames: ReadonlyMap<string, Frame>;
  readonly mesh: IndexedMesh;
  readonly order: Uint32Array;
  readonly from: Uint32Array;
  readonly ends: Uint32Array;
  readonly edge: Int32Array;
  readonly volumes: Float64Array;
  readonly areas: Float64Array;
  readonly sizes: Float64Array;
  readonly halves: Float64Array;
  readonly hollow: Float32Array;
  readonly room: Float64Array;
  readonly roomOf: Uint32Array;
  /** corners that tell where it is, not nearer to each other than need be */
  readonly sample: Uint32Array;
  /** min and max with the room for joints, mm */
  readonly box: Float64Array;
  /** mm³ */
  readonly volume: number;
  /** of the model's own surface, mm² */
  readonly skin: number;
}

/** A solid of the search with its figures. `jointRoom` is kept before every cap, mm. */
export function chunkOf(solid: Solid, frames: ReadonlyMap<string, Frame>, jointRoom: number): Chunk {
  const order = new Map(solid.caps.map((c, i) => [`${c.seam} ${c.side}`, i]));
  const mesh = closedMesh(solid, (seam, side) => OWN + order.get(`${seam} ${side}`)!);
  const { positions: p, triangles: t, tags } = mesh;
  const { twin } = halfEdges(mesh);
  const edge = new Int32Array(t.length);
  const ends: number[] = [];
  for (let h = 0; h < t.length; h++) {
    if (twin[h] >= 0 && twin[h] < h) edge[h] = edge[twin[h]];
    else {
      edge[h] = ends.length / 2;
      ends.push(t[h], t[nextHalf(h)]);
    }
  }
  const n = tags.length;
  const volumes = new Float64Array(n);
  const areas = new Float64Array(n * 3);
  const sizes = new Float64Array(n);
  const halves = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [t[i * 3] * 3, t[i * 3 + 1] * 3, t[i * 3 + 2] * 3];
    const [ax, ay, az] = [p[a], p[a + 1], p[a + 2]];
    const [ux, uy, uz] = [p[b] - ax, p[b + 1] - ay, p[b + 2] - az];
    const [vx, vy, vz] = [p[c] - ax, p[c + 1] - ay, p[c + 2] - az];
    const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    areas[i * 3] = x;
    areas[i * 3 + 1] = y;
    areas[i * 3 + 2] = z;
    volumes[i] = ax * x + ay * y + az * z;
    halves[i] = Math.hypot(x, y, z) / 2;
    sizes[i] = tags[i] >= CAP ? 0 : halves[i];
  }
  const room: number[] = [];
  const roomOf: number[] = [];
  const stood = new Set<string>();
  for (let h = 0; h < t.length; h++) {
    const i = Math.floor(h / 3);
    if (tags[i] < CAP || stood.has(`${tags[i]} ${t[h]}`)) continue;
    stood.add(`${tags[i]} ${t[h]}`);
    const size = Math.hypot(areas[i * 3], areas[i * 3 + 1], areas[i * 3 + 2]) || 1;
    for (let k = 0; k < 3; k++) room.push(p[t[h] * 3 + k] + (areas[i * 3 + k] / size) * jointRoom);
    roomOf.push(t[h]);
  }
  const box = emptyBox();
  for (let k = 0; k < p.length; k += 3) grow(box, 0, p[k], p[k + 1], p[k + 2]);
  for (let k = 0; k < room.length; k += 3) grow(box, 0, room[k], room[k + 1], room[k + 2]);
  return {
    solid,
    frames,
    mesh,
    ...reached(p.length / 3, ends),
    ends: Uint32Array.from(ends),
    edge,
    volumes,
    areas,
    sizes,
    halves,
    hollow: hollows(mesh, twin, areas),
    room: Float64Array.from(room),
    roomOf: Uint32Array.from(roomOf),
    sample: thinned(p),
    box,
    volume: volumeFrom(p, t, [p[0], p[1], p[2]] as Vec3),
    skin: sizes.reduce((sum, x) => sum + x, 0),
  };
}

/** Every corner as it is reached along edges, breadth first (Moore, "The shortest path through a maze", 1959). */
function reached(corners: number, ends: readonly number[]): Pick<Chunk, 'order' | 'from'> {
  const first = new Uint32Array(corners + 1);
  for (const v of ends) first[v + 1]++;
  for (let v = 0; v < corners; v++) first[v + 1] += first[v];
  const beside = new Uint32Array(ends.length);
  const filled = first.slice(0, corners);
  for (let e = 0; e < ends.length; e += 2) {
    beside[filled[ends[e]]++] = ends[e + 1];
    beside[filled[ends[e + 1]]++] = ends[e];
  }
  const order = new Uint32Array(corners);
  const from = new Uint32Array(corners);
  const seen = new Uint8Array(corners);
  let count = 0;
  for (let start = 0; start < corners; start++) {
    if (seen[start]) continue;
    seen[start] = 1;
    from[start] = start;
    order[count++] = start;
    for (let next = count - 1; next < count; next++) {
      const v = order[next];
      for (let k = first[v]; k < first[v + 1]; k++) {
        const w = beside[k];
        if (seen[w]) continue;
        seen[w] = 1;
        from[w] = v;
        order[count++] = w;
      }
    }
  }
  return { order, from };
}

/** How far apart corners need to be to tell where something is, mm: a printer's volume has many times as much. */
const APART = 32;

/** One corner of each small cube that has any. */
function thinned(p: Float64Array): Uint32Array {
  const taken = new Set<number>();
  const kept: number[] = [];
  for (let v = 0, k = 0; k < p.length; v++, k += 3) {
    const cube = (Math.round(p[k] / APART) * 4099 + Math.round(p[k + 1] / APART)) * 4099 + Math.round(p[k + 2] / APART);
    if (taken.has(cube)) continue;
    taken.add(cube);
    kept.push(v);
  }
  return Uint32Array.from(kept);
}

/** All of a chunk, as its need is asked for. */
export const wholeOf = ({ mesh, sample }: Chunk) => ({
  points: mesh.positions,
  sample,
  part: -1,
  parts: [],
  sideOf: new Int32Array(0),
});

// from 15° of bend on an edge counts as hollow, from 60° fully
const FAINT = Math.PI / 12;
const FULL = Math.PI / 3;

function hollows(
  { positions: p, triangles: t, tags }: IndexedMesh,
  twin: Int32Array,
  areas: Float64Array,
): Float32Array {
  const out = new Float32Array(p.length / 3);
  for (let h = 0; h < t.length; h++) {
    const g = twin[h];
    if (g < h) continue;
    const i = Math.floor(h / 3);
    const j = Math.floor(g / 3);
    if (tags[i] >= CAP || tags[j] >= CAP) continue;
    const [ax, ay, az] = areas.subarray(i * 3, i * 3 + 3);
    const [bx, by, bz] = areas.subarray(j * 3, j * 3 + 3);
    const apex = t[nextHalf(nextHalf(g))] * 3;
    const a = t[h] * 3;
    // the neighbour's corner stands in front of this triangle where the surface bends inwards
    if (ax * (p[apex] - p[a]) + ay * (p[apex + 1] - p[a + 1]) + az * (p[apex + 2] - p[a + 2]) <= 0) continue;
    const size = Math.hypot(ax, ay, az) * Math.hypot(bx, by, bz);
    if (size === 0) continue;
    const bend = Math.acos(Math.max(-1, Math.min(1, (ax * bx + ay * by + az * bz) / size)));
    const how = Math.min(1, Math.max(0, (bend - FAINT) / (FULL - FAINT)));
    for (const v of [t[h], t[nextHalf(h)]]) if (how > out[v]) out[v] = how;
  }
  return out;
}

/** Boxes as six numbers: min x y z, max x y z. */
export const emptyBox = (): Float64Array =>
  Float64Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity);

/** Widens the box at `at` to hold a point. */
export function grow(boxes: Float64Array, at: number, x: number, y: number, z: number): void {
  if (x < boxes[at]) boxes[at] = x;
  if (y < boxes[at + 1]) boxes[at + 1] = y;
  if (z < boxes[at + 2]) boxes[at + 2] = z;
  if (x > boxes[at + 3]) boxes[at + 3] = x;
  if (y > boxes[at + 4]) boxes[at + 4] = y;
  if (z > boxes[at + 5]) boxes[at + 5] = z;
}

/** Widens one box to hold another. */
export function growBox(box: Float64Array, other: Float64Array): void {
  for (let k = 0; k < 3; k++) {
    if (other[k] < box[k]) box[k] = other[k];
    if (other[k + 3] > box[k + 3]) box[k + 3] = other[k + 3];
  }
}

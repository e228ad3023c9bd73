import { GephyraError } from '../errors.ts';
import { type Box, type IndexedMesh, vecOf } from '../mesh/index.ts';
import { featureOf, flipToFeatures } from './feature.ts';
import { Table } from './number-table.ts';
import { EDGES, LOOPS } from './table.ts';

/** A field to be meshed: negative inside, in mm. */
export interface Field {
  /** It rises by no more than this for each mm, but where it tears: at least 1. */
  readonly steep: number;
  /** Whether it may rise faster in places, as from inside to outside at the rim of a surface: nothing is left out by `steep` alone then. */
  readonly tears: boolean;
  /**
   * Like a distance: `steep` times as steep at most, but where it tears. `reach` says from what distance on the value need
   * not be exact: a point farther away may be told as that far.
   */
  value(x: number, y: number, z: number, reach: number): number;
  /** Whether it may jump at the place that was asked for last: cells with such a corner are looked at closely. */
  jumps(): boolean;
  /** Where it rises at a place near the surface, a unit vector put into `out`. */
  rise(x: number, y: number, z: number, out: Float64Array): void;
}

/** More cells than this at the surface are refused: about 4 GB of working memory. */
const MOST_CELLS = 12_000_000;

/** Bytes of working memory a cell at the surface takes, measured. */
const BYTES_A_CELL = 320;

/** What sampling a surface of `area` mm² with cells of `cell` mm takes. */
export function samplingCost(area: number, cell: number): { cells: number; bytes: number } {
  // a plane meets about 1.5 cells for each square of a cell's side, whatever way it lies
  const cells = Math.ceil((area / (cell * cell)) * 1.5);
  return { cells, bytes: cells * BYTES_A_CELL };
}

const BLOCK = 2;

/** Cells whose corners are no farther than this from a plane's, in cells, hold no edge. */
const BENT = 0.04;
/** Places are searched for in so many steps at most, and to within this, in cells. */
const SEARCH = 12;
const FINE = 1e-3;

/** The corners of a cell (bits) on each of its faces: low x, high x, low y … */
const FACE_CORNERS = [0, 1, 2].flatMap((axis) =>
  [0, 1].map((side) => [...Array(8).keys()].reduce((bits, c) => bits | (((c >> axis) & 1) === side ? 1 << c : 0), 0)),
);

/**
 * The surface on which a field is 0, as a closed mesh (where it stays inside the box), sampled at the corners of cubes of
 * `cell` mm. Where the field is no plane within a cell, places on the surface are found by search and not straight between
 * the corners, and where its sides meet at more than 30° there, the edge or corner they meet in is put into the cell: Kobbelt, Botsch,
 * Schwanecke and Seidel, "Feature sensitive surface extraction from volume data" (2001). Blocks too far from the surface to
 * meet it are left out, from large to small, so that work and memory grow with the surface and not with the volume.
 *
 * `progress` is called with the share done; what it throws ends the work. Throws GephyraError `skin.tooFine` past
 * MOST_CELLS.
 */
export function fieldSurface(
  field: Field,
  box: Box,
  cell: number,
  progress: (share: number) => void = () => {},
): IndexedMesh {
  const counts = vecOf((a) => Math.max(1, Math.ceil((box.max[a] - box.min[a]) / cell)));
  const grid = new Grid(field, box.min, cell, counts);
  let top = BLOCK;
  while (top < Math.max(...counts) / 3) top *= 2;
  const tops: [number, number, number][] = [];
  for (let i = 0; i < counts[0]; i += top)
    for (let j = 0; j < counts[1]; j += top) for (let k = 0; k < counts[2]; k += top) tops.push([i, j, k]);
  let done = 0;
  const walk = (i: number, j: number, k: number, size: number, share: number): void => {
    const half = (size * cell) / 2;
    const radius = half * Math.sqrt(3);
    if (!grid.near(i, j, k, half, radius)) {
      done += share;
      return;
    }
    if (size === BLOCK) {
      grid.block(i / BLOCK, j / BLOCK, k / BLOCK, radius * 2);
      done += share;
      progress(done);
      return;
    }
    const h = size / 2;
    for (let c = 0; c < 8; c++) {
      const x = i + (c & 1) * h;
      const y = j + ((c >> 1) & 1) * h;
      const z = k + ((c >> 2) & 1) * h;
      if (x < counts[0] && y < counts[1] && z < counts[2]) walk(x, y, z, h, share / 8);
      else done += share / 8;
    }
  };
  for (const [i, j, k] of tops) walk(i, j, k, top, 1 / tops.length);
  grid.follow(BLOCK * cell * Math.sqrt(3));
  return grid.done();
}

/** The samples taken so far, and the surface built on them. */
class Grid {
  private readonly nodes: Table;
  private readonly vertices: Table;
  private positions = new Float64Array(3 * 65536);
  private vertexCount = 0;
  private triangles = new Uint32Array(3 * 131072);
  private used = 0;
  private cells = 0;
  /** farther than this from the surface a cell with such a corner does not meet it */
  private readonly beyond: number;
  private readonly ny: number;
  private readonly nz: number;
  private readonly corner = new Float64Array(8);
  private readonly ring = new Uint32Array(12);
  /** how the field rises at vertices that were found by search */
  private readonly rises = new Map<number, Float64Array>();
  /** nodes at which the field may jump */
  private readonly jumping = new Set<number>();
  /** vertices within cells, where sides of the surface meet */
  private readonly features = new Set<number>();
  private readonly blocks = new Set<number>();
  private readonly entered: number[] = [];
  private readonly blockCounts: number[];

  constructor(
    private readonly field: Field,
    private readonly min: readonly [number, number, number],
    private readonly cell: number,
    counts: readonly number[],
  ) {
    this.beyond = field.tears ? Infinity : cell * Math.sqrt(3) * field.steep * 1.001;
    this.ny = counts[1] + BLOCK + 2;
    this.nz = counts[2] + BLOCK + 2;
    this.blockCounts = counts.map((n) => Math.ceil(n / BLOCK));
    this.nodes = new Table(1 << 16);
    this.vertices = new Table(1 << 16);
  }

  /** Whether the surface can come within the cube with its corner at node (i, j, k). */
  near(i: number, j: number, k: number, half: number, radius: number): boolean {
    const { min, cell } = this;
    const x = min[0] + i * cell + half;
    const y = min[1] + j * cell + half;
    const z = min[2] + k * cell + half;
    const far = radius * this.field.steep * 1.001;
    return Math.abs(this.field.value(x, y, z, far)) < far;
  }

  /** Meshes a block of cells, once. */
  block(i: number, j: number, k: number, reach: number): void {
    const key = this.blockKey(i, j, k);
    if (this.blocks.has(key)) return;
    this.blocks.add(key);
    for (let x = i * BLOCK; x < (i + 1) * BLOCK; x++)
      for (let y = j * BLOCK; y < (j + 1) * BLOCK; y++)
        for (let z = k * BLOCK; z < (k + 1) * BLOCK; z++) this.cellAt(x, y, z, reach);
  }

  /**
   * Goes on into blocks that the surface enters although they were left out: fields of torn surfaces may be steeper than
   * they should be, and the mesh must close all the same.
   */
  follow(reach: number): void {
    for (let key = this.entered.pop(); key !== undefined; key = this.entered.pop()) {
      const k = key % this.nz;
      const j = Math.floor(key / this.nz) % this.ny;
      const i = Math.floor(key / (this.nz * this.ny));
      this.block(i, j, k, reach);
    }
  }

  private blockKey(i: number, j: number, k: number): number {
    return (i * this.ny + j) * this.nz + k;
  }

  /** Notes the blocks that lie across those faces of a cell which the surface crosses. */
  private enter(x: number, y: number, z: number, inside: number): void {
    const at = [x, y, z];
    for (let axis = 0; axis < 3; axis++) {
      const rest = at[axis] % BLOCK;
      if (rest !== 0 && rest !== BLOCK - 1) continue;
      const side = rest === 0 ? 0 : 1;
      const face = FACE_CORNERS[axis * 2 + side];
      const some = inside & face;
      const next = Math.floor(at[axis] / BLOCK) + (side === 0 ? -1 : 1);
      if (some === 0 || some === face || next < 0 || next >= this.blockCounts[axis]) continue;
      const b = at.map((v) => Math.floor(v / BLOCK));
      b[axis] = next;
      const key = this.blockKey(b[0], b[1], b[2]);
      if (!this.blocks.has(key)) this.entered.push(key);
    }
  }

  private node(x: number, y: number, z: number, reach: number): number {
    const key = (x * this.ny + y) * this.nz + z;
    const slot = this.nodes.slot(key);
    if (slot >= 0) return this.nodes.values[slot];
    const { min, cell } = this;
    let value = this.field.value(min[0] + x * cell, min[1] + y * cell, min[2] + z * cell, reach);
    // no sample is exactly on the surface, so no two crossings of a cell coincide
    if (Math.abs(value) < cell * 1e-4) value = value < 0 ? -cell * 1e-4 : cell * 1e-4;
    if (this.field.jumps()) this.jumping.add(key);
    this.nodes.put(key, value);
    return value;
  }

  private cellAt(x: number, y: number, z: number, reach: number): void {
    const { corner } = this;
    let inside = 0;
    // first the corners that the most other cells of its block have, and those across
    const first = (x & 1 ? 0 : 1) | (y & 1 ? 0 : 2) | (z & 1 ? 0 : 4);
    for (let k = 0; k < 8; k++) {
      const c = first ^ (k & 1 ? 7 - (k >> 1) : k >> 1);
      const value = this.node(x + (c & 1), y + ((c >> 1) & 1), z + ((c >> 2) & 1), reach);
      // so far from the surface that no other corner is across it
      if (Math.abs(value) > this.beyond) return;
      corner[c] = value;
      if (value < 0) inside |= 1 << c;
    }
    const loops = LOOPS[inside];
    if (loops.length === 0) return;
    this.enter(x, y, z, inside);
    if (++this.cells > MOST_CELLS) {
      throw new GephyraError(
        'skin.tooFine',
        `The surface meets more than ${MOST_CELLS / 1e6} million cells of ${this.cell} mm. Choose larger cells or a thicker wall.`,
      );
    }
    const bent = this.isBent() || this.jumpsAt(x, y, z);
    for (const loop of loops) {
      const n = loop.length;
      for (let k = 0; k < n; k++) this.ring[k] = this.vertex(x, y, z, loop[k], bent);
      const feature = bent ? this.feature(x, y, z, n) : -1;
      if (feature < 0) for (let k = 1; k + 1 < n; k++) this.add(this.ring[0], this.ring[k], this.ring[k + 1]);
      else for (let k = 0; k < n; k++) this.add(this.ring[k], this.ring[(k + 1) % n], feature);
    }
  }

  private add(a: number, b: number, c: number): void {
    if (this.used + 3 > this.triangles.length) {
      const grown = new Uint32Array(this.triangles.length * 2);
      grown.set(this.triangles);
      this.triangles = grown;
    }
    this.triangles[this.used++] = a;
    this.triangles[this.used++] = b;
    this.triangles[this.used++] = c;
  }

  /**
   * Whether the field at the corners of the cell is farther from the distance to a plane than a gentle curve's: what bends within
   * it, and what jumps, which looks like a plane of another slope.
   */
  private isBent(): boolean {
    const { corner: v } = this;
    let middle = 0;
    const slope = [0, 0, 0];
    for (let c = 0; c < 8; c++) {
      middle += v[c] / 8;
      for (let a = 0; a < 3; a++) slope[a] += ((c >> a) & 1 ? v[c] : -v[c]) / 8;
    }
    const most = BENT * this.cell;
    if (Math.abs(2 * Math.hypot(slope[0], slope[1], slope[2]) - this.cell) > most) return true;
    for (let c = 0; c < 8; c++) {
      let plane = middle;
      for (let a = 0; a < 3; a++) plane += (c >> a) & 1 ? slope[a] : -slope[a];
      if (Math.abs(v[c] - plane) > most) return true;
    }
    return false;
  }

  private jumpsAt(x: number, y: number, z: number): boolean {
    if (this.jumping.size === 0) return false;
    for (let c = 0; c < 8; c++) {
      if (this.jumping.has(((x + (c & 1)) * this.ny + y + ((c >> 1) & 1)) * this.nz + z + ((c >> 2) & 1))) return true;
    }
    return false;
  }

  /** The number of a new vertex where the sides of the surface meet within a cell; −1 where they do not. */
  private feature(x: number, y: number, z: number, n: number): number {
    const { min, cell, ring, positions, rises } = this;
    const at = featureOf(
      Array.from({ length: n }, (_, k) => ({
        at: [positions[ring[k] * 3], positions[ring[k] * 3 + 1], positions[ring[k] * 3 + 2]],
        normal: rises.get(ring[k])!,
      })),
      [min[0] + x * cell, min[1] + y * cell, min[2] + z * cell],
      cell,
    );
    if (!at) return -1;
    const v = this.newVertex(at[0], at[1], at[2]);
    this.features.add(v);
    return v;
  }

  private newVertex(x: number, y: number, z: number): number {
    if (this.vertexCount * 3 + 3 > this.positions.length) {
      const grown = new Float64Array(this.positions.length * 2);
      grown.set(this.positions);
      this.positions = grown;
    }
    const at = this.vertexCount * 3;
    this.positions[at] = x;
    this.positions[at + 1] = y;
    this.positions[at + 2] = z;
    return this.vertexCount++;
  }

  /** The vertex on an edge of a cell; `exact`: found by search, with the side of the surface it is on. */
  private vertex(x: number, y: number, z: number, edge: number, exact: boolean): number {
    const [c, axis] = EDGES[edge];
    const i = x + (c & 1);
    const j = y + ((c >> 1) & 1);
    const k = z + ((c >> 2) & 1);
    const key = ((i * this.ny + j) * this.nz + k) * 3 + axis;
    const a = this.corner[c];
    const b = this.corner[c | (1 << axis)];
    const slot = this.vertices.slot(key);
    let v = slot >= 0 ? this.vertices.values[slot] : -1;
    if (v < 0) {
      const s = a / (a - b);
      const { min, cell } = this;
      v = this.newVertex(
        min[0] + (i + (axis === 0 ? s : 0)) * cell,
        min[1] + (j + (axis === 1 ? s : 0)) * cell,
        min[2] + (k + (axis === 2 ? s : 0)) * cell,
      );
      this.vertices.put(key, v);
    }
    if (exact && !this.rises.has(v)) this.refine(v, [i, j, k], axis, a, b);
    return v;
  }

  /** Moves a vertex along its edge to where the field changes its sign, and notes how it rises there, just outside. */
  private refine(v: number, node: readonly number[], axis: number, a: number, b: number): void {
    const { min, cell, positions, field } = this;
    const start = node.map((n, x) => min[x] + n * cell);
    const at = [...start];
    let [low, high] = [0, cell];
    let [atLow, atHigh] = [a, b];
    for (let step = 0; step < SEARCH && high - low > FINE * cell; step++) {
      // straight between both, then halves, so that a jump is closed in on too
      const share = step % 2 === 0 ? Math.min(0.95, Math.max(0.05, atLow / (atLow - atHigh))) : 0.5;
      const t = low + share * (high - low);
      at[axis] = start[axis] + t;
      const value = field.value(at[0], at[1], at[2], cell);
      if (value < 0 === a < 0) [low, atLow] = [t, value];
      else [high, atHigh] = [t, value];
      if (Math.abs(value) < FINE * FINE * cell) {
        if (value < 0 === a < 0) high = Math.min(high, t + FINE * cell);
        else low = Math.max(low, t - FINE * cell);
        break;
      }
    }
    const smooth = Math.abs(atLow - atHigh) < 4 * (high - low) + FINE * FINE * cell;
    const s = smooth && atLow !== atHigh ? low + (atLow / (atLow - atHigh)) * (high - low) : (low + high) / 2;
    positions[v * 3 + axis] = start[axis] + Math.min(high, Math.max(low, s));
    at[axis] = start[axis] + (b >= 0 ? high : low);
    const rise = new Float64Array(3);
    field.rise(at[0], at[1], at[2], rise);
    this.rises.set(v, rise);
  }

  done(): IndexedMesh {
    flipToFeatures(this.triangles.subarray(0, this.used), this.features);
    return {
      positions: this.positions.slice(0, this.vertexCount * 3),
      triangles: this.triangles.slice(0, this.used),
      tags: new Uint32Array(this.used / 3),
    };
  }
}

import { GephyraError } from '../errors.ts';
import { type Box, type IndexedMesh, vecOf } from '../mesh/index.ts';
import { EDGES, TRIANGLES } from './table.ts';

/**
 * A field to be meshed: negative inside, in mm, and never steeper than a distance. `reach` says from what distance on the
 * value need not be exact: a point farther away may be told as that far.
 */
export type Field = (x: number, y: number, z: number, reach: number) => number;

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

const BLOCK = 4;

/** The corners of a cell (bits) on each of its faces: low x, high x, low y … */
const FACE_CORNERS = [0, 1, 2].flatMap((axis) =>
  [0, 1].map((side) => [...Array(8).keys()].reduce((bits, c) => bits | (((c >> axis) & 1) === side ? 1 << c : 0), 0)),
);

/**
 * The surface on which a field is 0, as a closed mesh (where it stays inside the box), sampled at the corners of cubes of
 * `cell` mm and cut straight between them. Blocks too far from the surface to meet it are left out, from large to small,
 * so that work and memory grow with the surface and not with the volume.
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
  private readonly ny: number;
  private readonly nz: number;
  private readonly corner = new Float64Array(8);
  private readonly blocks = new Set<number>();
  private readonly entered = new Set<number>();
  private readonly blockCounts: number[];

  constructor(
    private readonly field: Field,
    private readonly min: readonly [number, number, number],
    private readonly cell: number,
    counts: readonly number[],
  ) {
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
    return Math.abs(this.field(x, y, z, radius * 1.001)) < radius * 1.001;
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
    while (this.entered.size > 0) {
      const [key] = this.entered;
      this.entered.delete(key);
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
      if (!this.blocks.has(key)) this.entered.add(key);
    }
  }

  private node(x: number, y: number, z: number, reach: number): number {
    const key = (x * this.ny + y) * this.nz + z;
    const slot = this.nodes.slot(key);
    if (slot >= 0) return this.nodes.values[slot];
    const { min, cell } = this;
    let value = this.field(min[0] + x * cell, min[1] + y * cell, min[2] + z * cell, reach);
    // no sample is exactly on the surface, so no two crossings of a cell coincide
    if (Math.abs(value) < cell * 1e-4) value = value < 0 ? -cell * 1e-4 : cell * 1e-4;
    this.nodes.put(key, value);
    return value;
  }

  private cellAt(x: number, y: number, z: number, reach: number): void {
    const { corner } = this;
    let inside = 0;
    for (let c = 0; c < 8; c++) {
      const value = this.node(x + (c & 1), y + ((c >> 1) & 1), z + ((c >> 2) & 1), reach);
      corner[c] = value;
      if (value < 0) inside |= 1 << c;
    }
    const list = TRIANGLES[inside];
    if (list.length === 0) return;
    this.enter(x, y, z, inside);
    if (++this.cells > MOST_CELLS) {
      throw new GephyraError(
        'skin.tooFine',
        `The surface meets more than ${MOST_CELLS / 1e6} million cells of ${this.cell} mm. Choose larger cells or a thicker wall.`,
      );
    }
    if (this.used + list.length > this.triangles.length) {
      const grown = new Uint32Array(this.triangles.length * 2);
      grown.set(this.triangles);
      this.triangles = grown;
    }
    for (let n = 0; n < list.length; n++) this.triangles[this.used++] = this.vertex(x, y, z, list[n]);
  }

  private vertex(x: number, y: number, z: number, edge: number): number {
    const [c, axis] = EDGES[edge];
    const i = x + (c & 1);
    const j = y + ((c >> 1) & 1);
    const k = z + ((c >> 2) & 1);
    const key = ((i * this.ny + j) * this.nz + k) * 3 + axis;
    const slot = this.vertices.slot(key);
    if (slot >= 0) return this.vertices.values[slot];
    const a = this.corner[c];
    const b = this.corner[c | (1 << axis)];
    const s = a / (a - b);
    if (this.vertexCount * 3 + 3 > this.positions.length) {
      const grown = new Float64Array(this.positions.length * 2);
      grown.set(this.positions);
      this.positions = grown;
    }
    const at = this.vertexCount * 3;
    const { min, cell } = this;
    this.positions[at] = min[0] + (i + (axis === 0 ? s : 0)) * cell;
    this.positions[at + 1] = min[1] + (j + (axis === 1 ? s : 0)) * cell;
    this.positions[at + 2] = min[2] + (k + (axis === 2 ? s : 0)) * cell;
    this.vertices.put(key, this.vertexCount);
    return this.vertexCount++;
  }

  done(): IndexedMesh {
    return {
      positions: this.positions.slice(0, this.vertexCount * 3),
      triangles: this.triangles.slice(0, this.used),
      tags: new Uint32Array(this.used / 3),
    };
  }
}

/** Numbers by number: open addressing over flat arrays. */
class Table {
  keys: Float64Array;
  values: Float64Array;
  private size = 0;

  constructor(capacity: number) {
    this.keys = new Float64Array(capacity).fill(-1);
    this.values = new Float64Array(capacity);
  }

  /** Where the key's value is; −1: nowhere. */
  slot(key: number): number {
    const { keys } = this;
    const mask = keys.length - 1;
    for (let s = hash(key) & mask; ; s = (s + 1) & mask) {
      if (keys[s] === key) return s;
      if (keys[s] < 0) return -1;
    }
  }

  put(key: number, value: number): void {
    if (++this.size * 2 > this.keys.length) this.grow();
    const mask = this.keys.length - 1;
    let s = hash(key) & mask;
    while (this.keys[s] >= 0) s = (s + 1) & mask;
    this.keys[s] = key;
    this.values[s] = value;
  }

  private grow(): void {
    const { keys, values } = this;
    this.keys = new Float64Array(keys.length * 2).fill(-1);
    this.values = new Float64Array(keys.length * 2);
    const mask = this.keys.length - 1;
    for (let i = 0; i < keys.length; i++) {
      if (keys[i] < 0) continue;
      let s = hash(keys[i]) & mask;
      while (this.keys[s] >= 0) s = (s + 1) & mask;
      this.keys[s] = keys[i];
      this.values[s] = values[i];
    }
  }
}

function hash(key: number): number {
  const low = key | 0;
  const high = (key / 4294967296) | 0;
  let h = Math.imul(low, 0x9e3779b1) ^ Math.imul(high, 0x85ebca77);
  h ^= h >>> 15;
  return h >>> 0;
}

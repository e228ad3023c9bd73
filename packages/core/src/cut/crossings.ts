import { GephyraError } from '../errors.ts';
import type { Vec3 } from '../mesh/index.ts';

/** A plane normal · x = offset with no vertex of the cell on it. */
export interface CutPlane {
  readonly seam: string;
  readonly normal: Vec3;
  readonly offset: number;
  /** cells whose box keeps farther away than this are not looked at, mm */
  readonly window: number;
}

/** One new vertex per crossed edge, found again by its two ends. */
export class Crossings {
  count = 0;
  positions: Float64Array;
  private readonly p: Float64Array;
  private readonly plane: CutPlane;
  private capacity: number;
  private low: Int32Array;
  private high: Int32Array;
  private index: Int32Array;

  constructor(p: Float64Array, plane: CutPlane, expected: number) {
    this.p = p;
    this.plane = plane;
    this.capacity = 64;
    while (this.capacity < expected * 2) this.capacity *= 2;
    this.low = new Int32Array(this.capacity).fill(-1);
    this.high = new Int32Array(this.capacity);
    this.index = new Int32Array(this.capacity);
    this.positions = new Float64Array(expected * 3);
  }

  /** The new vertex on the edge from vertex `b` below the plane to vertex `a` above it. */
  at(b: number, a: number): number {
    const mask = this.capacity - 1;
    let h = this.slot(b, a);
    while (this.low[h] >= 0) {
      if (this.low[h] === b && this.high[h] === a) return this.index[h];
      h = (h + 1) & mask;
    }
    this.low[h] = b;
    this.high[h] = a;
    this.index[h] = this.count;
    this.write(b * 3, a * 3);
    if (this.count * 2 > this.capacity) this.grow();
    return this.count - 1;
  }

  private slot(b: number, a: number): number {
    const h = Math.imul(b, 0x9e3779b1) ^ Math.imul(a, 0x85ebca77);
    return (h ^ (h >>> 15)) & (this.capacity - 1);
  }

  private write(b: number, a: number): void {
    const { p, plane } = this;
    const [nx, ny, nz] = plane.normal;
    const db = nx * p[b] + ny * p[b + 1] + nz * p[b + 2] - plane.offset;
    const da = nx * p[a] + ny * p[a + 1] + nz * p[a + 2] - plane.offset;
    const s = db / (db - da);
    if (this.count * 3 + 3 > this.positions.length) {
      const grown = new Float64Array(this.positions.length * 2);
      grown.set(this.positions);
      this.positions = grown;
    }
    const k = this.count++ * 3;
    this.positions[k] = p[b] + s * (p[a] - p[b]);
    this.positions[k + 1] = p[b + 1] + s * (p[a + 1] - p[b + 1]);
    this.positions[k + 2] = p[b + 2] + s * (p[a + 2] - p[b + 2]);
  }

  private grow(): void {
    const { low, high, index } = this;
    this.capacity *= 2;
    this.low = new Int32Array(this.capacity).fill(-1);
    this.high = new Int32Array(this.capacity);
    this.index = new Int32Array(this.capacity);
    for (let i = 0; i < low.length; i++) {
      if (low[i] < 0) continue;
      let h = this.slot(low[i], high[i]);
      while (this.low[h] >= 0) h = (h + 1) & (this.capacity - 1);
      this.low[h] = low[i];
      this.high[h] = high[i];
      this.index[h] = index[i];
    }
  }
}

/** Follows next[] into closed loops; loops of two vertices enclose nothing and are left out. */
export function chain(next: readonly number[], count: number): number[][] {
  const seen = new Uint8Array(count);
  const loops: number[][] = [];
  for (let i = 0; i < count; i++) {
    if (seen[i]) continue;
    const loop: number[] = [];
    let x = i;
    do {
      if (x === undefined || seen[x]) {
        throw new GephyraError('cut.open', 'The surface is not closed where the seam crosses it, so it has no cap.');
      }
      seen[x] = 1;
      loop.push(x);
      x = next[x];
    } while (x !== i);
    if (loop.length > 2) loops.push(loop);
  }
  return loops;
}

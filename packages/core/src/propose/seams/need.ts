import { perAxis, type Vec3 } from '../../mesh/index.ts';

/** Where something is: corners xyz xyz …, which of them are looked at, and of those only the ones of one part. */
export interface Places {
  readonly points: Float64Array;
  readonly sample: Uint32Array;
  /** −1: all of them */
  readonly part: number;
  /** the part of each side */
  readonly parts: ArrayLike<number>;
  readonly sideOf: Int32Array;
}

/**
 * How many pieces something will come to, told without cutting it. 1 when it fits a printer.
 *
 * Most of it is a count: how many cells of a grid as large as a printer's usable volume have something in them, the least of
 * several ways to lay the grid. The rest is a smooth bound from size and volume, so that two things with the same count
 * are told apart.
 */
export class Needs {
  private readonly stamps = new Int32Array(1 << 15);
  private stamp = 0;
  private readonly largest: Vec3;
  private readonly poses: readonly Vec3[];

  /** `rooms`: the usable sizes of the printers; `jointRoom`: what joints may take up before a cut face, mm. */
  constructor(
    private readonly rooms: readonly Vec3[],
    private readonly jointRoom: number,
  ) {
    this.largest = rooms.reduce((a, b) => (b[0] * b[1] * b[2] > a[0] * a[1] * a[2] ? b : a));
    const [x, y, z] = this.largest;
    const all: Vec3[] = [
      [x, y, z],
      [y, x, z],
      [x, z, y],
      [z, x, y],
      [y, z, x],
      [z, y, x],
    ];
    this.poses = all.filter((a, i) => all.findIndex((b) => b[0] === a[0] && b[1] === a[1] && b[2] === a[2]) === i);
  }

  /** The usable volume of the largest printer, mm³. */
  get roomVolume(): number {
    const [x, y, z] = this.largest;
    return x * y * z;
  }

  /** Every length that something may have along an axis, mm. */
  get lengths(): readonly number[] {
    return [...new Set(this.rooms.flat())];
  }

  /** Into how many stretches a box comes along each axis, in the way that comes to fewest cells. */
  shares(box: Float64Array): Vec3 {
    const size: Vec3 = [box[3] - box[0], box[4] - box[1], box[5] - box[2]];
    let best: Vec3 = [1, 1, 1];
    let least = Infinity;
    for (const room of this.poses) {
      const n = this.counts(size, room);
      if (n[0] * n[1] * n[2] >= least) continue;
      least = n[0] * n[1] * n[2];
      best = n;
    }
    return best;
  }

  private counts(size: Vec3, room: Vec3): Vec3 {
    return perAxis(size, (s, a) => {
      const pitch = this.pitch(room[a]);
      return Math.max(1, Math.ceil((s - (room[a] - pitch)) / pitch - 1e-9));
    });
  }

  /** What of a length is left between two lines, each of which takes room for joints. */
  private pitch(room: number): number {
    return Math.max(room / 4, room - 2 * this.jointRoom);
  }

  /** The usable size of the largest printer, mm. */
  get room(): Vec3 {
    return this.largest;
  }

  /** Whether a box fits a printer in one of the six ways along its axes. */
  fits(box: Float64Array): boolean {
    const size = [box[3] - box[0], box[4] - box[1], box[5] - box[2]].sort((a, b) => a - b);
    return this.rooms.some((room) => {
      const sorted = [...room].sort((a, b) => a - b);
      return size.every((s, i) => s <= sorted[i] + 1e-6);
    });
  }

  /** The need of some places in a box. `thorough` tries every way to lay the grid, else one with three shifts. */
  of(places: Places, box: Float64Array, volume: number, thorough: boolean): number {
    if (this.fits(box)) return 1;
    const size: Vec3 = [box[3] - box[0], box[4] - box[1], box[5] - box[2]];
    const poses = thorough ? this.poses : [this.bestPose(size)];
    const byVolume = volume / (0.85 * this.roomVolume);
    let least = Infinity;
    for (const room of poses) {
      for (const shift of thorough ? SHIFTS : FEW) least = Math.min(least, this.cells(places, box, size, room, shift));
    }
    const room = this.bestPose(size);
    const over = 1 + size.reduce((sum, s, a) => sum + Math.max(0, s / room[a] - 1), 0);
    const smooth = Math.max(over, volume / (0.5 * this.roomVolume));
    // one cell, yet it does not fit in one piece: its joints need the room
    return 0.75 * Math.max(least, byVolume, 1.3) + 0.25 * smooth;
  }

  private bestPose(size: Vec3): Vec3 {
    let best = this.poses[0];
    let least = Infinity;
    for (const pose of this.poses) {
      const n = size.reduce((product, s, a) => product * Math.max(1, s / pose[a]), 1);
      if (n < least - 1e-9) {
        least = n;
        best = pose;
      }
    }
    return best;
  }

  private cells(
    { points: p, sample, part, parts, sideOf }: Places,
    box: Float64Array,
    size: Vec3,
    room: Vec3,
    shift: Vec3,
  ): number {
    // each line between two cells takes room for joints from both
    const pitch = perAxis(room, (r) => this.pitch(r));
    const n = this.counts(size, room);
    // a model of many printers is counted in coarser cells than there is room for stamps
    if (n[0] * n[1] * n[2] >= this.stamps.length) return n[0] * n[1] * n[2];
    const [ox, oy, oz] = [0, 1, 2].map((a) => {
      const end = (room[a] - pitch[a]) / 2;
      return box[a] + end - (n[a] * pitch[a] + 2 * end - size[a]) * shift[a];
    });
    const [ix, iy, iz] = pitch.map((r) => 1 / r);
    const [nx, ny, nz] = n;
    const stamp = ++this.stamp;
    const { stamps } = this;
    let count = 0;
    for (let i = 0; i < sample.length; i++) {
      const v = sample[i];
      if (part >= 0 && parts[sideOf[v]] !== part) continue;
      const k = v * 3;
      let x = ((p[k] - ox) * ix) | 0;
      let y = ((p[k + 1] - oy) * iy) | 0;
      let z = ((p[k + 2] - oz) * iz) | 0;
      x = x < 0 ? 0 : x >= nx ? nx - 1 : x;
      y = y < 0 ? 0 : y >= ny ? ny - 1 : y;
      z = z < 0 ? 0 : z >= nz ? nz - 1 : z;
      const at = (z * ny + y) * nx + x;
      if (stamps[at] === stamp) continue;
      stamps[at] = stamp;
      count++;
    }
    return count;
  }
}

const FEW: readonly Vec3[] = [
  [0, 0, 0],
  [0.5, 0.5, 0.5],
  [1, 1, 1],
];
const SHIFTS: readonly Vec3[] = [...FEW, [0, 0.5, 1], [1, 0.5, 0], [0.5, 0, 0.5], [0.5, 1, 0.5], [0, 0, 1], [1, 1, 0]];

import { type Frame, fromFrame, type Solid } from '../../cut/index.ts';
import { type Occupied, prismMesh } from '../../mating/index.ts';
import { dot, type Vec3 } from '../../mesh/index.ts';
import { inZone, type MatingFace, type PlacedZone } from '../../seams/index.ts';
import { FAR_OFF, type RoomField, roomField, squaredDistances } from './room-field.ts';

/** How a joint stands on a face: what it needs below it on either side. Lengths in mm. */
export interface Footing {
  /** round its middle, on the face */
  readonly reach: number;
  /** how deep its sockets go into the pieces on the − and on the + side; 0: it stands on that side */
  readonly depths: readonly [number, number];
  /** material to be left round it */
  readonly wall: number;
  /** more than that to the face's edge */
  readonly spare: number;
}

interface Soup {
  readonly positions: Float64Array;
  readonly triangles: ArrayLike<number>;
}

/**
 * Where joints can stand on a face: a map with everything counted that stands in their way below it.
 *
 *     ______________________   face       For every cell, how much material lies under it on either side: down to the
 *      |  |  |  |  |  |  |               skin, to other cuts, to sockets of joints that are there already. Cells are
 *      v  v  v__v  v  v  v               filled with every triangle that passes over them, at the nearest that it comes
 *     \______/  \_______/    skin        (a depth buffer that is never too deep), so what the map allows mostly holds.
 */
export class StandingRoom {
  readonly field: RoomField;
  /** material under each cell, of the piece on the − side and of that on the + side, mm; at most `deep` */
  private readonly material: readonly [Float32Array, Float32Array];
  private readonly kept: Uint8Array;
  private readonly distances = new Map<string, Float64Array>();

  constructor(
    face: MatingFace,
    solids: readonly [Solid, Solid],
    occupied: Occupied,
    zones: readonly PlacedZone[],
    cell: number,
    private readonly deep: number,
  ) {
    this.field = roomField(face.region, cell, 100);
    const { width, height } = this.field;
    const materialOf = (side: 0 | 1): Float32Array => {
      const out = new Float32Array(width * height).fill(deep);
      const frame = face.frames[side];
      const solid = solids[side];
      const inward = side === 0 ? -1 : 1;
      this.lower(out, frame, inward, { positions: solid.positions, triangles: solid.triangles });
      for (const cap of solid.caps) {
        if (cap.seam === face.plane || face.caps.includes(cap)) continue;
        this.lower(out, frame, inward, { positions: solid.positions, triangles: cap.triangles });
      }
      for (const { prisms } of occupied.get(face.pieces[side]) ?? []) {
        for (const prism of prisms) this.lower(out, frame, inward, prismMesh(prism));
      }
      return out;
    };
    this.material = [materialOf(0), materialOf(1)];
    this.kept = this.keptClear(face.frame, zones);
  }

  /** The middles of all cells in which something can stand, row by row. */
  places(can: (u: number, v: number) => boolean): [number, number][] {
    const { u0, v0, cell, width, height } = this.field;
    const out: [number, number][] = [];
    for (let j = 0; j < height; j++) {
      for (let i = 0; i < width; i++) {
        const [u, v] = [u0 + (i + 0.5) * cell, v0 + (j + 0.5) * cell];
        if (can(u, v)) out.push([u, v]);
      }
    }
    return out;
  }

  /** Whether a joint can stand at a place, by the map's cell there. */
  standing(footing: Footing): (u: number, v: number) => boolean {
    const { u0, v0, cell, width, height, room } = this.field;
    const { reach, wall, spare } = footing;
    const far = footing.depths.map((depth, side) => ({
      under: this.from(side, depth + wall),
      beside: depth > 0 ? this.from(side, depth) : null,
    }));
    return (u, v) => {
      const i = Math.floor((u - u0) / cell);
      const j = Math.floor((v - v0) / cell);
      if (i < 0 || j < 0 || i >= width || j >= height) return false;
      const k = j * width + i;
      // distances are those of the cell's middle
      const off = Math.hypot(u - u0 - (i + 0.5) * cell, v - v0 - (j + 0.5) * cell);
      if (room[k] < reach + wall + spare + off || this.kept[k]) return false;
      return far.every(
        ({ under, beside }) => under[k] >= reach + off && (beside === null || beside[k] >= reach + wall + off),
      );
    };
  }

  /** The most material that lies under any place with `room` mm to the edge, on its thinner side; `deep` stands for more. */
  deepest(room: number): number {
    let most = 0;
    for (let k = 0; k < this.field.room.length; k++) {
      if (this.field.room[k] >= room) most = Math.max(most, Math.min(this.material[0][k], this.material[1][k]));
    }
    return most;
  }

  /** Whether every place with `room` mm to the edge is to be kept clear. */
  allKept(room: number): boolean {
    return this.field.room.every((x, k) => x < room || this.kept[k] === 1);
  }

  /** Distance of each cell from those with less material than `least` on a side, mm. */
  private from(side: number, least: number): Float64Array {
    const key = `${side} ${least}`;
    let known = this.distances.get(key);
    if (!known) {
      const { width, height, cell } = this.field;
      const material = this.material[side];
      const wanted = Math.min(least, this.deep);
      const squared = squaredDistances(
        Float64Array.from(material, (m) => (m < wanted ? 0 : FAR_OFF)),
        width,
        height,
      );
      known = squared.map((d) => Math.max(0, Math.sqrt(d) - 0.5) * cell);
      this.distances.set(key, known);
    }
    return known;
  }

  private keptClear(frame: Frame, zones: readonly PlacedZone[]): Uint8Array {
    const { u0, v0, cell, width, height } = this.field;
    const out = new Uint8Array(width * height);
    if (zones.length === 0) return out;
    for (let j = 0, k = 0; j < height; j++) {
      for (let i = 0; i < width; i++, k++) {
        const at: Vec3 = fromFrame(frame, u0 + (i + 0.5) * cell, v0 + (j + 0.5) * cell);
        if (zones.some((z) => inZone(z, at))) out[k] = 1;
      }
    }
    return out;
  }

  /** Lowers the map to the triangles that lie on its side of a plane. */
  private lower(out: Float32Array, frame: Frame, inward: number, { positions: p, triangles: t }: Soup): void {
    const { u0, v0, cell, width, height } = this.field;
    const o = [dot(frame.origin, frame.u), dot(frame.origin, frame.v), dot(frame.origin, frame.normal)];
    const half = cell / 2;
    const c = new Float64Array(9);
    for (let i = 0; i < t.length; i += 3) {
      let low = Infinity;
      let high = -Infinity;
      for (let k = 0; k < 3; k++) {
        const v = t[i + k] * 3;
        const x = p[v];
        const y = p[v + 1];
        const z = p[v + 2];
        const h = (x * frame.normal[0] + y * frame.normal[1] + z * frame.normal[2] - o[2]) * inward;
        c[k * 3 + 2] = h;
        if (h < low) low = h;
        if (h > high) high = h;
        c[k * 3] = x * frame.u[0] + y * frame.u[1] + z * frame.u[2] - o[0];
        c[k * 3 + 1] = x * frame.v[0] + y * frame.v[1] + z * frame.v[2] - o[1];
      }
      if (low >= this.deep || high <= 1e-6) continue;
      const i0 = Math.max(0, Math.floor((Math.min(c[0], c[3], c[6]) - u0) / cell));
      const i1 = Math.min(width - 1, Math.floor((Math.max(c[0], c[3], c[6]) - u0) / cell));
      const j0 = Math.max(0, Math.floor((Math.min(c[1], c[4], c[7]) - v0) / cell));
      const j1 = Math.min(height - 1, Math.floor((Math.max(c[1], c[4], c[7]) - v0) / cell));
      if (i0 > i1 || j0 > j1) continue;
      // the triangle's plane over (u, v); an upright one comes as near as its nearest corner
      const [ux, uy, uz] = [c[3] - c[0], c[4] - c[1], c[5] - c[2]];
      const [vx, vy, vz] = [c[6] - c[0], c[7] - c[1], c[8] - c[2]];
      const turn = ux * vy - uy * vx;
      const upright = Math.abs(turn) < 1e-12;
      const du = upright ? 0 : (uz * vy - uy * vz) / turn;
      const dv = upright ? 0 : (ux * vz - uz * vx) / turn;
      const drop = (Math.abs(du) + Math.abs(dv)) * half;
      for (let j = j0; j <= j1; j++) {
        const v = v0 + (j + 0.5) * cell;
        for (let q = i0; q <= i1; q++) {
          const u = u0 + (q + 0.5) * cell;
          if (!upright && outside(c, turn, u, v, half)) continue;
          const over = upright ? low : c[2] + (u - c[0]) * du + (v - c[1]) * dv - drop;
          const h = Math.max(0, low, Math.min(over, high));
          const k = j * width + q;
          if (h < out[k]) out[k] = h;
        }
      }
    }
  }
}

/** Whether a square cell lies wholly beyond one side of a triangle. */
function outside(c: Float64Array, turn: number, u: number, v: number, half: number): boolean {
  const sign = turn > 0 ? 1 : -1;
  for (let k = 0; k < 9; k += 3) {
    const m = (k + 3) % 9;
    const ex = c[m] - c[k];
    const ey = c[m + 1] - c[k + 1];
    const d = (ex * (v - c[k + 1]) - ey * (u - c[k])) * sign;
    if (d + (Math.abs(ex) + Math.abs(ey)) * half < 0) return true;
  }
  return false;
}

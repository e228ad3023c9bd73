import { type FlatRegion, type Frame, makeFrame, regionsOfLoops } from '../../cut/index.ts';
import type { Vec3 } from '../../mesh/index.ts';
import { CAP, type Chunk, emptyBox, grow, SHOWN } from './chunk.ts';

/** One region of a chunk's section, told without cutting it. */
export interface SliceRegion {
  /** in the slice's frame */
  readonly flat: FlatRegion;
  /** mm of its line on skin, on skin to be seen, in creases */
  readonly seen: number;
  readonly shown: number;
  readonly creased: number;
  /** numbers of the caps it crosses */
  readonly caps: ReadonlySet<number>;
  /** all of its outlines, mm */
  readonly perimeter: number;
  /** the sides it joins */
  readonly above: number;
  readonly below: number;
  /** boxes of its outline with the room for joints, for the side above and the one below */
  readonly boxAbove: Float64Array;
  readonly boxBelow: Float64Array;
}

/** What hangs together on one side of the plane. */
export interface Side {
  readonly above: boolean;
  /** mm³ */
  volume: number;
  /** of the model's own surface, mm² */
  skin: number;
  readonly box: Float64Array;
  /** how far it reaches from the plane, mm */
  deep: number;
  /** of all its surface what hangs over by more than 45° when it stands on the plane, mm² */
  hanging: number;
}

/** A chunk parted by a plane: regions, and the sides they join. */
export interface Slice {
  readonly frame: Frame;
  readonly regions: readonly SliceRegion[];
  readonly sides: readonly Side[];
  /** the side of each corner; written over by the next slice of the same chunk */
  readonly sideOf: Int32Array;
}

/**
 * Parts a chunk by planes without building meshes: corners are joined along edges that the plane does not cross, crossed
 * half-edges are walked into loops, and loops grouped into regions, each of which joins two sides.
 *
 * Volumes are taken from a point of the plane, so that faces in the plane add nothing to them.
 */
export class Slicer {
  private readonly d: Float64Array;
  // what hangs together along the edges by which corners are reached has one label; labels are joined along the other edges
  private readonly label: Int32Array;
  private readonly parent: Int32Array;
  private readonly sideOf: Int32Array;
  private readonly nextEdge: Int32Array;
  private readonly throughTriangle: Int32Array;
  private readonly met: Float64Array;
  private readonly crossed: Int32Array;

  constructor(
    readonly chunk: Chunk,
    private readonly jointRoom: number,
  ) {
    const n = chunk.mesh.positions.length / 3;
    const edges = chunk.ends.length / 2;
    this.d = new Float64Array(n);
    this.label = new Int32Array(n);
    this.parent = new Int32Array(n);
    this.sideOf = new Int32Array(n);
    this.nextEdge = new Int32Array(edges);
    this.throughTriangle = new Int32Array(edges);
    this.met = new Float64Array(edges * 3);
    this.crossed = new Int32Array(chunk.mesh.tags.length);
  }

  /** The chunk at n · x = offset; null when nothing of it lies on one of the sides. */
  at(normal: Vec3, offset: number): Slice | null {
    const { chunk, d } = this;
    const { positions: p, triangles: t } = chunk.mesh;
    const [nx, ny, nz] = normal;
    let low = Infinity;
    let high = -Infinity;
    for (let v = 0, k = 0; v < d.length; v++, k += 3) {
      let x = nx * p[k] + ny * p[k + 1] + nz * p[k + 2] - offset;
      // what lies on the plane is taken to be above it
      if (x > -1e-6 && x < 1e-6) x = 1e-6;
      d[v] = x;
      if (x < low) low = x;
      if (x > high) high = x;
    }
    if (low >= 0 || high <= 0) return null;
    this.joinEdges();
    let crossings = 0;
    for (let i = 0, k = 0; k < t.length; i++, k += 3) {
      const ups = (d[t[k]] > 0 ? 1 : 0) + (d[t[k + 1]] > 0 ? 1 : 0) + (d[t[k + 2]] > 0 ? 1 : 0);
      if (ups === 1 || ups === 2) this.crossed[crossings++] = i;
    }
    const frame = makeFrame([nx * offset, ny * offset, nz * offset], normal);
    const loops = this.walk(crossings);
    const flats = loops.map((l) => this.flat(l, frame));
    const groups = regionsOfLoops(flats);
    const regions = groups.map((flat) => {
      const own = [flat.outer2, ...flat.holes2].map((f) => loops[flats.indexOf(f as Float64Array)]);
      for (const loop of own)
        for (const half of [0, 1]) this.join(this.endOf(own[0][0], half), this.endOf(loop[0], half));
      return { flat, own };
    });
    const sides = this.sides(crossings, frame);
    return {
      frame,
      regions: regions.map(({ flat, own }) => this.region(flat, own, frame)),
      sides,
      sideOf: this.sideOf,
    };
  }

  private joinEdges(): void {
    const { d, chunk, label, parent } = this;
    const { ends, order, from } = chunk;
    for (let i = 0; i < order.length; i++) {
      const v = order[i];
      const u = from[v];
      if (u !== v && d[u] > 0 === d[v] > 0) label[v] = label[u];
      else {
        label[v] = v;
        parent[v] = v;
      }
    }
    for (let e = 0; e < ends.length; e += 2) {
      const a = ends[e];
      const b = ends[e + 1];
      if (label[a] !== label[b] && d[a] > 0 === d[b] > 0) this.join(a, b);
    }
  }

  private root(v: number): number {
    const { parent } = this;
    let x = this.label[v];
    while (parent[x] !== x) {
      parent[x] = parent[parent[x]];
      x = parent[x];
    }
    return x;
  }

  private join(a: number, b: number): void {
    const x = this.root(a);
    const y = this.root(b);
    if (x < y) this.parent[y] = x;
    else if (y < x) this.parent[x] = y;
  }

  /** The corner of a crossed edge above the plane (0) or below it (1). */
  private endOf(e: number, half: number): number {
    const a = this.chunk.ends[e * 2];
    return this.d[a] > 0 === (half === 0) ? a : this.chunk.ends[e * 2 + 1];
  }

  /** Loops of crossed edges, the solid on their left seen from above. */
  private walk(crossings: number): number[][] {
    const { chunk, d, nextEdge, throughTriangle, met, crossed } = this;
    const { triangles: t, positions: p } = chunk.mesh;
    const { edge, ends } = chunk;
    for (let c = 0; c < crossings; c++) {
      const i = crossed[c] * 3;
      let from = -1;
      let to = -1;
      for (let k = 0; k < 3; k++) {
        const up = d[t[i + k]] > 0;
        if (up === d[t[i + ((k + 1) % 3)]] > 0) continue;
        if (up) from = edge[i + k];
        else to = edge[i + k];
      }
      nextEdge[from] = to;
      throughTriangle[from] = crossed[c];
      for (const e of [from, to]) {
        const a = ends[e * 2];
        const b = ends[e * 2 + 1];
        const s = d[a] / (d[a] - d[b]);
        for (let k = 0; k < 3; k++) met[e * 3 + k] = p[a * 3 + k] + (p[b * 3 + k] - p[a * 3 + k]) * s;
      }
    }
    const loops: number[][] = [];
    for (let c = 0; c < crossings; c++) {
      const i = crossed[c] * 3;
      for (let k = 0; k < 3; k++) {
        const e = edge[i + k];
        if (d[t[i + k]] <= 0 || d[t[i + ((k + 1) % 3)]] > 0 || nextEdge[e] < 0) continue;
        const loop: number[] = [];
        for (let x = e; nextEdge[x] >= 0; ) {
          loop.push(x);
          const after = nextEdge[x];
          nextEdge[x] = -1;
          x = after;
        }
        loops.push(loop);
      }
    }
    return loops;
  }

  private flat(loop: readonly number[], { origin: o, u, v }: Frame): Float64Array {
    const { met } = this;
    const out = new Float64Array(loop.length * 2);
    loop.forEach((e, i) => {
      const x = met[e * 3] - o[0];
      const y = met[e * 3 + 1] - o[1];
      const z = met[e * 3 + 2] - o[2];
      out[i * 2] = x * u[0] + y * u[1] + z * u[2];
      out[i * 2 + 1] = x * v[0] + y * v[1] + z * v[2];
    });
    return out;
  }

  private region(flat: FlatRegion, loops: readonly (readonly number[])[], frame: Frame): SliceRegion {
    const { met, chunk, throughTriangle, sideOf, jointRoom } = this;
    const { hollow, ends, mesh } = chunk;
    const [nx, ny, nz] = frame.normal;
    let [seen, shown, creased, perimeter] = [0, 0, 0, 0];
    const caps = new Set<number>();
    const boxAbove = emptyBox();
    const boxBelow = emptyBox();
    const bend = (e: number): number => Math.max(hollow[ends[e * 2]], hollow[ends[e * 2 + 1]]);
    for (const loop of loops) {
      loop.forEach((e, i) => {
        const f = loop[i + 1 === loop.length ? 0 : i + 1];
        const x = met[e * 3];
        const y = met[e * 3 + 1];
        const z = met[e * 3 + 2];
        grow(boxAbove, 0, x, y, z);
        grow(boxBelow, 0, x, y, z);
        grow(boxAbove, 0, x - nx * jointRoom, y - ny * jointRoom, z - nz * jointRoom);
        grow(boxBelow, 0, x + nx * jointRoom, y + ny * jointRoom, z + nz * jointRoom);
        const far = Math.hypot(met[f * 3] - x, met[f * 3 + 1] - y, met[f * 3 + 2] - z);
        perimeter += far;
        const tag = mesh.tags[throughTriangle[e]];
        if (tag >= CAP) caps.add(tag);
        else {
          seen += far;
          if (tag === SHOWN) shown += far;
          creased += (far * (bend(e) + bend(f))) / 2;
        }
      });
    }
    const [first] = loops[0];
    const above = sideOf[this.endOf(first, 0)];
    const below = sideOf[this.endOf(first, 1)];
    return { flat, seen, shown, creased, caps, perimeter, above, below, boxAbove, boxBelow };
  }

  private sides(crossings: number, frame: Frame): Side[] {
    const { chunk, d, sideOf, crossed } = this;
    const { positions: p, triangles: t } = chunk.mesh;
    const { volumes, areas, room, roomOf } = chunk;
    const sides: Side[] = [];
    sideOf.fill(-1);
    for (let v = 0, k = 0; v < d.length; v++, k += 3) {
      const r = this.root(v);
      let s = sideOf[r];
      if (s < 0) {
        s = sides.length;
        sideOf[r] = s;
        sides.push({ above: d[r] > 0, volume: 0, skin: 0, box: emptyBox(), deep: 0, hanging: 0 });
      }
      sideOf[v] = s;
      const side = sides[s];
      grow(side.box, 0, p[k], p[k + 1], p[k + 2]);
      const far = Math.abs(d[v]);
      if (far > side.deep) side.deep = far;
    }
    for (let i = 0; i < roomOf.length; i++) {
      grow(sides[sideOf[roomOf[i]]].box, 0, room[i * 3], room[i * 3 + 1], room[i * 3 + 2]);
    }
    const [ox, oy, oz] = frame.origin;
    const volumeOf = (i: number): number =>
      (volumes[i] - ox * areas[i * 3] - oy * areas[i * 3 + 1] - oz * areas[i * 3 + 2]) / 6;
    const { sizes, halves } = chunk;
    const [nx, ny, nz] = frame.normal;
    for (let i = 0; i < volumes.length; i++) {
      const own = sides[sideOf[t[i * 3]]];
      const x = areas[i * 3];
      const y = areas[i * 3 + 1];
      const z = areas[i * 3 + 2];
      own.volume += (volumes[i] - ox * x - oy * y - oz * z) / 6;
      own.skin += sizes[i];
      const up = own.above ? nx * x + ny * y + nz * z : -nx * x - ny * y - nz * z;
      if (up < 0 && 2 * up * up > x * x + y * y + z * z) own.hanging += halves[i];
    }
    for (let c = 0; c < crossings; c++) {
      const i = crossed[c];
      // counted as a whole for its first corner's side: the other side's share is moved over
      const at = [t[i * 3], t[i * 3 + 1], t[i * 3 + 2]];
      const lone = at.findIndex((v, k) => d[v] > 0 !== d[at[(k + 1) % 3]] > 0 && d[v] > 0 !== d[at[(k + 2) % 3]] > 0);
      const [a, b, e] = [at[lone], at[(lone + 1) % 3], at[(lone + 2) % 3]];
      const share = (d[a] / (d[a] - d[b])) * (d[a] / (d[a] - d[e]));
      const whole = volumeOf(i);
      const moved = lone === 0 ? whole * (1 - share) : whole * share;
      sides[sideOf[at[0]]].volume -= moved;
      sides[sideOf[lone === 0 ? b : a]].volume += moved;
      const skin = sizes[i] * (lone === 0 ? 1 - share : share);
      sides[sideOf[at[0]]].skin -= skin;
      sides[sideOf[lone === 0 ? b : a]].skin += skin;
    }
    return this.withoutHollows(sides);
  }

  /** Hollows that the plane does not meet are sides with a volume below nothing: they go to the largest beside them. */
  private withoutHollows(sides: Side[]): Side[] {
    if (!sides.some((s) => s.volume < 0)) return sides;
    const home = sides.map((side, i) => {
      if (side.volume >= 0) return i;
      let best = -1;
      sides.forEach((s, j) => {
        if (s.above === side.above && s.volume > 0 && (best < 0 || s.volume > sides[best].volume)) best = j;
      });
      return best < 0 ? i : best;
    });
    home.forEach((h, i) => {
      if (h === i) return;
      sides[h].volume += sides[i].volume;
      sides[h].skin += sides[i].skin;
      sides[h].hanging += sides[i].hanging;
      sides[i].volume = 0;
    });
    const kept = [...new Set(home)].sort((a, b) => a - b);
    const { sideOf } = this;
    for (let v = 0; v < sideOf.length; v++) sideOf[v] = kept.indexOf(home[sideOf[v]]);
    return kept.map((i) => sides[i]);
  }
}

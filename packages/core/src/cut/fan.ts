import { GephyraError } from '../errors.ts';
import { cross, dot, lerp, pointAlong, renumbering, type Vec3, vecOf, vertexAt } from '../mesh/index.ts';
import type { CapLoops, Cell } from './cell.ts';
import type { Frame } from './frame.ts';
import { type Fan, type Sectors, sectorsOf, sweepFilm } from './sectors.ts';

type Sign = 1 | -1;

/** Sine of the angle between an axis and a plane below which it counts as lying in it. */
const ALONG = 1e-6;

/**
 * Cuts a cell by a fan into its sectors: sector s lies between blade s and the next.
 *
 *        \  1  /           Each vertex belongs to one sector. A triangle that reaches over several is cut along the
 *      2  \   /  0         blades, and one that the axis pierces also in the point where it does, which all sectors
 *    ------o------         share: so every cap has the very same points on both its sides. Caps of earlier seams are
 *      3  /   \  5         cut the same way. Along the axis the blades' caps end in one common line where it lies in
 *        /  4  \           the material.
 *
 * Sectors without anything are null; a cell that lies in one sector is passed on as it is.
 * `window`: how near to a plane counts as on it, mm. Throws GephyraError `cut.open` when the cell's surface is not closed.
 */
export function fanCut(cell: Cell, fan: Fan, frames: ReadonlyMap<string, Frame>, window: number): (Cell | null)[] {
  const n = fan.blades.length;
  const sectors = sectorsOf(cell.positions, fan);
  for (let s = 0; s < n; s++) if (sectors.of.includes(s)) sweepFilm(sectors, fan, s, window);
  const first = sectors.of[0];
  if (sectors.of.every((s) => s === first)) return fan.blades.map((_, s) => (s === first ? cell : null));
  const frameOf = (cap: CapLoops): Frame => {
    const frame = frames.get(cap.seam);
    if (!frame) throw new GephyraError('cut.seam', `The seam ${cap.seam} of an earlier cut is not known.`);
    return frame;
  };
  const cut = new FanCutter(cell, fan, sectors);
  // a cap that the axis lies in is pierced nowhere; when moved vertices say it is, ways are told by where they were
  const along = cell.caps.filter((cap) => Math.abs(dot(frameOf(cap).normal, fan.axis)) < ALONG);
  if (along.some((cap) => cut.windingAround(cap) !== 0)) cut.tellWaysBy(sectors.flat);
  cut.cutTriangles();
  for (const cap of cell.caps) cut.cutCap(cap, frameOf(cap));
  cut.closeBlades();
  return Array.from({ length: n }, (_, s) => cut.sector(s));
}

/** A step of a way round a triangle or a loop: a corner in its sector, or the crossing of a blade. */
interface Stop {
  readonly id: number;
  readonly sector: number;
  /** the blade crossed, −1 for a corner; `sector` is then the one that is entered */
  readonly blade: number;
  /** 1: against the clock, from the sector before the blade into the one after it */
  readonly way: Sign;
}

class FanCutter {
  private readonly cell: Cell;
  private readonly fan: Fan;
  /** places of the vertices, those of swept ones beyond their blade */
  private readonly swept: Float64Array;
  /** places by which it is told which way round the axis an edge goes, and where the axis goes through */
  private round: Float64Array;
  private readonly of: Uint16Array;
  private readonly count: number;
  private readonly vertices: number;
  /** places of new vertices, which are numbered after the cell's own */
  private readonly fresh: number[] = [];
  private readonly known = new Map<number, number>();
  private readonly corners: number[][];
  private readonly tags: number[][];
  private readonly caps: CapLoops[][];
  /** for each blade: what follows on each point of the cap that faces along the turning */
  private readonly next: Map<number, number>[];
  /** where the axis leaves the material, and where it enters it: vertex and place along the axis */
  private readonly leaves: [number, number][] = [];
  private readonly enters: [number, number][] = [];

  constructor(cell: Cell, fan: Fan, { swept, of }: Sectors) {
    this.cell = cell;
    this.fan = fan;
    this.swept = swept;
    this.round = swept;
    this.of = of;
    this.count = fan.blades.length;
    this.vertices = cell.positions.length / 3;
    this.corners = fan.blades.map(() => []);
    this.tags = fan.blades.map(() => []);
    this.caps = fan.blades.map(() => []);
    this.next = fan.blades.map(() => new Map());
  }

  tellWaysBy(places: Float64Array): void {
    this.round = places;
  }

  /** How many blades the outlines of a cap cross on their way, those against the clock less those with it. */
  windingAround({ loops }: CapLoops): number {
    const n = this.count;
    let sum = 0;
    for (const l of loops) {
      for (let i = 0; i < l.length; i++) {
        const [a, b] = [l[i], l[i + 1 === l.length ? 0 : i + 1]];
        const steps = (this.of[b] - this.of[a] + n) % n;
        if (steps > 0) sum += this.turn(a, b) > 0 ? steps : steps - n;
      }
    }
    return sum;
  }

  cutTriangles(): void {
    const { triangles: t, tags } = this.cell;
    for (let i = 0; i < t.length; i += 3) {
      const a = t[i];
      const b = t[i + 1];
      const c = t[i + 2];
      const s = this.of[a];
      if (s === this.of[b] && s === this.of[c]) {
        this.corners[s].push(a, b, c);
        this.tags[s].push(tags[i / 3]);
      } else this.cutTriangle(a, b, c, tags[i / 3]);
    }
  }

  private cutTriangle(a: number, b: number, c: number, tag: number): void {
    const stops = this.wayRound([a, b, c]);
    const winding = windingOf(stops);
    const pierced = winding === 0 ? -1 : this.piercing(a, b, c, winding > 0 ? 1 : -1);
    for (const s of new Set(stops.flatMap((stop) => this.touched(stop)))) {
      const polygon =
        winding === 0 ? this.within(stops, s) : [pierced, ...this.within(this.fromEntry(stops, s, winding), s)];
      for (let k = 1; k + 1 < polygon.length; k++) {
        this.corners[s].push(polygon[0], polygon[k], polygon[k + 1]);
        this.tags[s].push(tag);
      }
    }
    for (const blade of new Set(stops.filter((x) => x.blade >= 0).map((x) => x.blade))) {
      const up = stops.find((x) => x.blade === blade && x.way > 0)?.id ?? pierced;
      const down = stops.find((x) => x.blade === blade && x.way < 0)?.id ?? pierced;
      this.next[blade].set(down, up);
    }
  }

  /** Corners and crossings in order along closed way through vertices. */
  private wayRound(ring: ArrayLike<number>): Stop[] {
    const stops: Stop[] = [];
    const n = this.count;
    for (let i = 0; i < ring.length; i++) {
      const a = ring[i];
      const b = ring[i + 1 === ring.length ? 0 : i + 1];
      const from = this.of[a];
      const to = this.of[b];
      stops.push({ id: a, sector: from, blade: -1, way: 1 });
      if (from === to) continue;
      const turn = this.turn(a, b);
      if (turn > 0) {
        for (let s = from; s !== to; ) {
          s = (s + 1) % n;
          stops.push({ id: this.crossing(a, b, s), sector: s, blade: s, way: 1 });
        }
      } else {
        for (let s = from; s !== to; ) {
          const blade = s;
          s = (s + n - 1) % n;
          stops.push({ id: this.crossing(b, a, blade), sector: s, blade, way: -1 });
        }
      }
    }
    return stops;
  }

  /** Whether the way from a to b goes round the axis against the clock; exactly the other way for b to a. */
  private turn(a: number, b: number): Sign {
    const f = this.round;
    const o = f[a * 2] * f[b * 2 + 1] - f[a * 2 + 1] * f[b * 2];
    return o > 0 || (o === 0 && a < b) ? 1 : -1;
  }

  /** The vertex where the edge from `before` the blade to `after` it crosses it. */
  private crossing(before: number, after: number, blade: number): number {
    const key = (before * this.vertices + after) * this.count + blade;
    let id = this.known.get(key);
    if (id !== undefined) return id;
    const [c, s] = this.fan.blades[blade].ray;
    const { swept: f, cell } = this;
    const d0 = c * f[before * 2 + 1] - s * f[before * 2];
    const d1 = c * f[after * 2 + 1] - s * f[after * 2];
    const share = d0 === d1 ? 0.5 : Math.min(1, Math.max(0, d0 / (d0 - d1)));
    const p = cell.positions;
    id = this.add(lerp(vertexAt(p, before), vertexAt(p, after), share));
    this.known.set(key, id);
    return id;
  }

  private add(place: readonly number[]): number {
    this.fresh.push(...place);
    return this.vertices + this.fresh.length / 3 - 1;
  }

  /** The vertex where the axis goes through a triangle. */
  private piercing(a: number, b: number, c: number, way: Sign): number {
    const f = this.round;
    const o = (i: number, j: number): number => f[i * 2] * f[j * 2 + 1] - f[i * 2 + 1] * f[j * 2];
    const weights = [o(b, c), o(c, a), o(a, b)];
    const sum = weights[0] + weights[1] + weights[2];
    const p = this.cell.positions;
    const corners = [a, b, c];
    const place = vecOf((k) => corners.reduce((x, v, i) => x + (p[v * 3 + k] * weights[i]) / sum, 0));
    const id = this.add(place);
    this.pierce(id, place, way);
    return id;
  }

  private pierce(id: number, place: Vec3, way: Sign): void {
    const at = dot(place, this.fan.axis);
    (way > 0 ? this.leaves : this.enters).push([id, at]);
  }

  private touched({ sector, blade, way }: Stop): number[] {
    if (blade < 0) return [sector];
    return [sector, (sector + (way > 0 ? this.count - 1 : 1)) % this.count];
  }

  private within(stops: readonly Stop[], sector: number): number[] {
    return stops.filter((x) => this.touched(x).includes(sector)).map((x) => x.id);
  }

  /** The stops turned so that they begin where the way comes into a sector. */
  private fromEntry(stops: readonly Stop[], sector: number, winding: number): Stop[] {
    const at = stops.findIndex((x) => x.blade >= 0 && x.sector === sector && x.way > 0 === winding > 0);
    return [...stops.slice(at), ...stops.slice(0, at)];
  }

  /** Cuts the polygon of an earlier cap into sectors. */
  cutCap(cap: CapLoops, frame: Frame): void {
    const ways = cap.loops.map((loop) => this.wayRound(loop));
    const winding = ways.reduce((sum, way) => sum + windingOf(way), 0);
    const centres = new Set<number>();
    while (centres.size * this.count < Math.abs(winding)) centres.add(this.piercingPlane(frame, winding > 0 ? 1 : -1));
    const mates: Map<number, number>[] = this.fan.blades.map((_, h) => this.pair(ways, h, frame, centres));
    const loops: number[][][] = this.fan.blades.map(() => []);
    const chains = this.fan.blades.map(() => new Map<number, { points: number[]; end: number; blade: number }>());
    for (const way of ways) {
      const stops = way.flatMap((x, i) => (x.blade >= 0 ? [i] : []));
      if (stops.length === 0) {
        loops[way[0].sector].push(way.map((x) => x.id));
        continue;
      }
      stops.forEach((from, k) => {
        const to = stops[(k + 1) % stops.length];
        const points: number[] = [];
        for (let i = from; ; i = (i + 1) % way.length) {
          points.push(way[i].id);
          if (i === to && points.length > 1) break;
        }
        chains[way[from].sector].set(way[from].id, { points, end: way[to].id, blade: way[to].blade });
      });
    }
    chains.forEach((own, s) => {
      const used = new Set<number>();
      for (const first of own.keys()) {
        if (used.has(first)) continue;
        const points: number[] = [];
        let x = first;
        do {
          const chain = own.get(x);
          if (!chain || used.has(x)) throw new GephyraError('cut.open', 'A cap of an earlier seam is not closed.');
          used.add(x);
          points.push(...chain.points);
          x = mates[chain.blade].get(chain.end)!;
          if (centres.has(x)) {
            points.push(x);
            const other = chain.blade === s ? (s + 1) % this.count : s;
            x = mates[other].get(x)!;
          }
        } while (x !== first);
        loops[s].push(points);
      }
    });
    loops.forEach((list, s) => {
      if (list.length > 0) this.caps[s].push({ ...cap, loops: list.map((l) => Uint32Array.from(l)) });
    });
  }

  /** Joins the places where a cap's outline comes through a blade with those where it goes back, in order outwards. */
  private pair(
    ways: readonly (readonly Stop[])[],
    blade: number,
    frame: Frame,
    centres: ReadonlySet<number>,
  ): Map<number, number> {
    const { x, y, blades, axis } = this.fan;
    const [c, s] = blades[blade].ray;
    const outward = vecOf((k) => c * x[k] + s * y[k]);
    let along = cross(frame.normal, cross(outward, axis));
    const radial = dot(along, outward);
    if (radial < 0) along = [-along[0], -along[1], -along[2]];
    const place = (id: number): number => (centres.has(id) ? -Infinity : dot(this.placeOf(id), along));
    const own = ways.flat().filter((stop) => stop.blade === blade);
    const ups = own.filter((stop) => stop.way > 0).map((stop) => stop.id);
    const downs = own.filter((stop) => stop.way < 0).map((stop) => stop.id);
    (ups.length < downs.length ? ups : downs).push(...centres);
    if (ups.length !== downs.length) throw new GephyraError('cut.open', 'A cap of an earlier seam is not closed.');
    ups.sort((a, b) => place(a) - place(b));
    downs.sort((a, b) => place(a) - place(b));
    const mates = new Map<number, number>();
    ups.forEach((up, i) => {
      mates.set(up, downs[i]);
      mates.set(downs[i], up);
      this.next[blade].set(downs[i], up);
    });
    return mates;
  }

  private placeOf(id: number): Vec3 {
    const k = (id - this.vertices) * 3;
    return [this.fresh[k], this.fresh[k + 1], this.fresh[k + 2]];
  }

  /** The vertex where the axis goes through an earlier seam's plane. */
  private piercingPlane(frame: Frame, way: Sign): number {
    const { origin, axis } = this.fan;
    const s = (frame.offset - dot(frame.normal, origin)) / dot(frame.normal, axis);
    const place = pointAlong(origin, axis, s);
    const id = this.add(place);
    this.pierce(id, place, way);
    return id;
  }

  /** Follows the outlines of the blades' caps, along the axis too where it lies in the material. */
  closeBlades(): void {
    if (this.leaves.length !== this.enters.length) {
      throw new GephyraError('cut.open', 'The surface is not closed where the axis of the fan goes through it.');
    }
    this.leaves.sort((a, b) => a[1] - b[1]);
    this.enters.sort((a, b) => a[1] - b[1]);
    this.fan.blades.forEach(({ seam, frame }, h) => {
      const next = this.next[h];
      this.enters.forEach(([id], i) => {
        next.set(id, this.leaves[i][0]);
      });
      const loops = loopsOf(next);
      if (loops.length === 0) return;
      // a blade whose normal looks the way the fan turns has the sector after it on its + side
      const forward = dot(frame.normal, this.turning(h)) > 0;
      const before = (h + this.count - 1) % this.count;
      this.caps[before].push({ seam, side: forward ? -1 : 1, loops: loops.map((l) => Uint32Array.from(l)) });
      this.caps[h].push({ seam, side: forward ? 1 : -1, loops: loops.map((l) => Uint32Array.from(l).reverse()) });
    });
  }

  private turning(blade: number): Vec3 {
    const { x, y, blades } = this.fan;
    const [c, s] = blades[blade].ray;
    return vecOf((k) => c * y[k] - s * x[k]);
  }

  /** One sector as a cell of its own. */
  sector(s: number): Cell | null {
    const corners = this.corners[s];
    const caps = this.caps[s];
    if (corners.length === 0 && caps.length === 0) return null;
    const { of: renumber, order } = renumbering(this.vertices + this.fresh.length / 3);
    const triangles = Uint32Array.from(corners, renumber);
    const own = caps.map((cap) => ({ ...cap, loops: cap.loops.map((l) => l.map(renumber)) }));
    const positions = new Float64Array(order.length * 3);
    order.forEach((v, i) => {
      for (let k = 0; k < 3; k++) {
        positions[i * 3 + k] =
          v < this.vertices ? this.cell.positions[v * 3 + k] : this.fresh[(v - this.vertices) * 3 + k];
      }
    });
    return { positions, triangles, tags: Uint32Array.from(this.tags[s]), caps: own };
  }
}

const windingOf = (stops: readonly Stop[]): number => stops.reduce((sum, x) => (x.blade < 0 ? sum : sum + x.way), 0);

function loopsOf(next: ReadonlyMap<number, number>): number[][] {
  const loops: number[][] = [];
  const seen = new Set<number>();
  for (const start of next.keys()) {
    if (seen.has(start)) continue;
    const loop: number[] = [];
    let x: number | undefined = start;
    do {
      if (x === undefined || seen.has(x)) {
        throw new GephyraError('cut.open', 'The surface is not closed where the seam crosses it, so it has no cap.');
      }
      seen.add(x);
      loop.push(x);
      x = next.get(x);
    } while (x !== start);
    if (loop.length > 2) loops.push(loop);
  }
  return loops;
}

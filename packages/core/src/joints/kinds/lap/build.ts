import {
  type CapRegion,
  closeRegion,
  type Frame,
  fromFrame,
  type Solid,
  type Triangulator,
  triangulate,
} from '../../../cut/index.ts';
import { type Loop2, loopArea, renumbering, type Vec3, vecOf } from '../../../mesh/index.ts';
import type { LapLine, LapSide } from './line.ts';
import { type Bound, peelSkin, type Triangle, withMore } from './peel.ts';

/** One of the two pieces of a lap: its solid, and its cap at the seam. */
export interface LapPiece {
  readonly solid: Solid;
  readonly cap: CapRegion;
}

export interface LapWish {
  readonly line: LapLine;
  readonly frame: Frame;
  /** +1: the lip stands out along the frame's normal */
  readonly direction: 1 | -1;
  /** heights of the lip and of the rebate, mm */
  readonly heights: readonly [number, number];
  /** the tag of what the lap adds to the skin */
  readonly tag: number;
}

/** The two solids with the lap built in; caps are in the order of those they were made of. */
export interface BuiltLap {
  readonly male: Solid;
  readonly socket: Solid;
}

/**
 * Builds a lap: the piece with the rebate loses a strip of its wall, between the skin and the step, up to the rebate's
 * height; the other gets the same strip, thinner and lower by the gaps. The skin that goes over is moved from the one to
 * the other triangle by triangle, so where lip and wall meet, the skin goes on unbroken. No boolean operation is needed.
 *
 *   before     male with lip     socket with rebate
 *    ||||                              ||||
 *    ||||           |                   |||
 *   ------        |||
 *    ||||         ||||
 *
 * Gives a sentence for people where the skin is not such a strip. The solids given stay as they are.
 */
export function buildLap(male: LapPiece, socket: LapPiece, wish: LapWish, fallback: Triangulator): BuiltLap | string {
  const { line, frame, direction, heights } = wish;
  const loop = loopOf(socket.cap, line.loop);
  if (loopOf(male.cap, line.loop)?.length !== loop?.length || !loop) {
    return 'Another seam has cut one side of this face only, so a lap finds no way along it.';
  }
  const bounds = (height: number, { ends, thick }: LapSide): Bound[] => [
    {
      normal: scaled(frame.normal, -direction),
      c: -direction * (frame.offset + direction * height),
    },
    ...ends.map(({ tu, tv, c, at }, e): Bound => {
      const inFrame = (u: number, v: number): Vec3 => vecOf((k) => frame.u[k] * u + frame.v[k] * v);
      const normal = inFrame(tu, tv);
      // towards the material: left of the path, which the second end looks back along
      const [lu, lv] = e === 0 ? [-tv, tu] : [tv, -tu];
      const beside = inFrame(lu, lv);
      const foot = dotted(beside, frame.origin) + lu * at[0] + lv * at[1];
      const window = { normal: beside, from: foot - 2 * height - 1, to: foot + thick + 0.3 };
      return { normal, c: c + dotted(normal, frame.origin), window };
    }),
  ];
  const rebate = peelSkin(socket.solid, loop, seedIn(socket.cap, line), bounds(heights[1], line.rebate));
  if (typeof rebate === 'string') return rebate;
  const lip = peelSkin(socket.solid, loop, seedIn(socket.cap, line), bounds(heights[0], line.lip));
  if (typeof lip === 'string') return lip;

  const cut = new Builder(rebate.positions, frame);
  const cutCap = cut.step(
    { ...line.rebate, height: heights[1] * direction, solidInside: false },
    rebate.chain,
    rebate.sides,
    socket.cap,
    rebate.loop,
    line,
    fallback,
  );
  const socketSolid = cut.solid(
    socket.solid,
    rebate.gone,
    [...rebate.rest, ...cut.walls.map((v) => ({ v, tag: wish.tag }))],
    socket.cap,
    cutCap,
  );

  // the strip of skin that goes over, on the vertices of the piece that gets it
  const host = hostLoop(male, line.loop, lip.loop, lip.positions, socket.cap, loop);
  if (typeof host === 'string') return host;
  const grown = new Builder(host.positions, frame);
  const move = (v: number): number => {
    let own = host.of.get(v);
    if (own === undefined) {
      own = grown.add([lip.positions[v * 3], lip.positions[v * 3 + 1], lip.positions[v * 3 + 2]]);
      host.of.set(v, own);
    }
    return own;
  };
  const patch = lip.patch.map(({ v, tag }): Triangle => ({ v: [move(v[0]), move(v[1]), move(v[2])], tag }));
  const grownCap = grown.step(
    { ...line.lip, height: heights[0] * direction, solidInside: true },
    lip.chain.map(move),
    lip.sides.map((s) => s.map(move)),
    male.cap,
    host.loop,
    line,
    fallback,
  );
  const maleSolid = grown.solid(
    male.solid,
    host.gone,
    [...host.rest, ...patch, ...grown.walls.map((v) => ({ v, tag: wish.tag }))],
    male.cap,
    grownCap,
  );
  return { male: maleSolid, socket: socketSolid };
}

const scaled = ([x, y, z]: Vec3, k: number): Vec3 => [x * k, y * k, z * k];

const loopOf = (cap: CapRegion, loop: number): Uint32Array | undefined => [cap.outer, ...cap.holes][loop];
const flatOf = (cap: CapRegion, loop: number): Loop2 => [cap.outer2, ...cap.holes2][loop];

/** The line's seed is counted on the face's own outline, which is the one of the cap it was found on. */
function seedIn(cap: CapRegion, { loop, seed, seedAt }: LapLine): number {
  const l = flatOf(cap, loop);
  const n = l.length / 2;
  for (let k = 0; k < n; k++) {
    const i = (seed + k) % n;
    if (l[i * 2] === seedAt[0] && l[i * 2 + 1] === seedAt[1]) return i;
  }
  return seed;
}

/**
 * The loop of the piece that gets the lip, with the places at which the lip begins and ends, and which of its vertices are
 * those of the other piece's loop: both have the same points to the bit, maybe from another start.
 */
function hostLoop(
  { solid, cap }: LapPiece,
  loop: number,
  theirs: readonly number[],
  positions: Float64Array,
  theirCap: CapRegion,
  theirLoop: Uint32Array,
) {
  const own = loopOf(cap, loop)!;
  const [ours2, theirs2] = [flatOf(cap, loop), flatOf(theirCap, loop)];
  const key = (l: Loop2, i: number): string => `${l[i * 2]} ${l[i * 2 + 1]}`;
  const byPlace = new Map(Array.from(own, (v, i) => [key(ours2, i), v]));
  const of = new Map<number, number>();
  for (let i = 0; i < theirLoop.length; i++) {
    const v = byPlace.get(key(theirs2, i));
    if (v === undefined) return 'Another seam has cut one side of this face only, so a lap finds no way along it.';
    of.set(theirLoop[i], v);
  }
  const more: number[] = [];
  const cuts: { a: number; b: number; v: number }[] = [];
  const ring: number[] = [];
  const known = new Set(theirLoop);
  theirs.forEach((v, i) => {
    if (!known.has(v)) {
      const id = solid.positions.length / 3 + more.length / 3;
      more.push(positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]);
      of.set(v, id);
      cuts.push({ a: ring[ring.length - 1], b: nextKnown(theirs, i, known, of), v: id });
    }
    ring.push(of.get(v)!);
  });
  // the skin's triangles along the edges that got a new vertex
  const gone = new Set<number>();
  const rest: Triangle[] = [];
  const { triangles: t, tags } = solid;
  for (const { a, b, points } of edgesWith(cuts)) {
    for (let i = 0; i < t.length; i += 3) {
      for (let c = 0; c < 3; c++) {
        const [x, y, z] = [t[i + c], t[i + ((c + 1) % 3)], t[i + ((c + 2) % 3)]];
        const forward = x === a && y === b;
        if (!forward && !(x === b && y === a)) continue;
        if (gone.has(i / 3)) return 'The lip would begin and end on one triangle of the model.';
        gone.add(i / 3);
        const line = [x, ...(forward ? points : [...points].reverse()), y];
        for (let k = 0; k + 1 < line.length; k++) rest.push({ v: [line[k], line[k + 1], z], tag: tags[i / 3] });
      }
    }
  }
  return { positions: withMore(solid.positions, more), of, loop: ring, gone, rest };
}

function nextKnown(
  list: readonly number[],
  from: number,
  known: ReadonlySet<number>,
  of: ReadonlyMap<number, number>,
): number {
  for (let k = 1; ; k++) {
    const v = list[(from + k) % list.length];
    if (known.has(v)) return of.get(v)!;
  }
}

/** New vertices by the edge of the loop that they lie on, in their order along it. */
function edgesWith(cuts: readonly { a: number; b: number; v: number }[]) {
  const out: { a: number; b: number; points: number[] }[] = [];
  for (const { a, b, v } of cuts) {
    const last = out[out.length - 1];
    if (last && last.b === b && last.points[last.points.length - 1] === a) last.points.push(v);
    else out.push({ a, b, points: [v] });
  }
  return out;
}

interface Step extends LapSide {
  /** signed, along the frame's normal */
  readonly height: number;
  /** a lip, whose material is between skin and step; else a rebate, which is empty there */
  readonly solidInside: boolean;
}

/** Adds the walls of a lip or rebate to a solid's vertices. */
class Builder {
  readonly walls: [number, number, number][] = [];
  private readonly more: number[] = [];

  constructor(
    private readonly positions: Float64Array,
    private readonly frame: Frame,
  ) {}

  add(p: readonly number[]): number {
    this.more.push(p[0], p[1], p[2]);
    return (this.positions.length + this.more.length) / 3 - 1;
  }

  private at(v: number): Vec3 {
    const k = v * 3;
    const n = this.positions.length;
    return k < n
      ? [this.positions[k], this.positions[k + 1], this.positions[k + 2]]
      : [this.more[k - n], this.more[k - n + 1], this.more[k - n + 2]];
  }

  /**
   * The step's wall, its floor (or the lip's top), and the walls at its ends; gives the cap that is left. `chain` and
   * `sides` are the peeled skin's outline.
   */
  step(
    step: Step,
    chain: readonly number[],
    [top, ...ups]: readonly (readonly number[])[],
    cap: CapRegion,
    ring: readonly number[],
    { loop, closed }: LapLine,
    fallback: Triangulator,
  ): CapRegion {
    const { height, solidInside } = step;
    const foot = step.step.map(([u, v]) => this.add(fromFrame(this.frame, u, v)));
    const head = step.step.map(([u, v]) => this.add(fromFrame(this.frame, u, v, height)));
    // seen from the emptier side the step's wall is turned by which way it goes up and which side is material
    const turned = height > 0 === solidInside;
    const n = foot.length;
    for (let i = 0; i < (closed ? n : n - 1); i++) {
      const k = (i + 1) % n;
      this.face(foot[i], foot[k], head[k], turned);
      this.face(foot[i], head[k], head[i], turned);
    }
    const flat = (v: number): [number, number] => {
      const p = this.at(v);
      const d: Vec3 = [p[0] - this.frame.origin[0], p[1] - this.frame.origin[1], p[2] - this.frame.origin[2]];
      return [dotted(d, this.frame.u), dotted(d, this.frame.v)];
    };
    // a lip's top looks the way it stands out, a rebate's floor back towards the seam
    const looksUp = height > 0 === solidInside;
    this.fill(closed ? [top, head] : [[...top, ...[...head].reverse()]], flat, !looksUp, fallback);
    ups.forEach((up, e) => {
      const { tu, tv } = step.ends[e];
      const end = e === 0 ? 0 : n - 1;
      const across = (v: number): [number, number] => {
        const [u, w] = flat(v);
        const h = dotted(this.at(v), this.frame.normal) - this.frame.offset;
        return [-tv * u + tu * w, h];
      };
      // counter-clockwise in (left of the inward direction, normal) looks along that direction
      this.fill([[...up, head[end], foot[end]]], across, solidInside, fallback);
    });
    const rest = closed ? foot : replaced(ring, chain, foot);
    const loops = [cap.outer, ...cap.holes].map((l, i) => (i === loop ? Uint32Array.from(rest) : l));
    const loops2 = loops.map((_, i) => (i === loop ? Float64Array.from(rest.flatMap(flat)) : flatOf(cap, i)));
    return closeRegion(
      {
        seam: cap.seam,
        side: cap.side,
        outer: loops[0],
        holes: loops.slice(1),
        outer2: loops2[0],
        holes2: loops2.slice(1),
        area: loops2.reduce((sum, l) => sum + loopArea(l), 0),
      },
      fallback,
    );
  }

  private face(a: number, b: number, c: number, turned: boolean): void {
    this.walls.push(turned ? [a, c, b] : [a, b, c]);
  }

  /** Triangles inside outlines of vertices, the largest outline with the others as its holes. */
  private fill(
    outlines: readonly (readonly number[])[],
    flat: (v: number) => [number, number],
    turned: boolean,
    fallback: Triangulator,
  ): void {
    const loops = outlines
      .map((ids) => ({ ids, flat: Float64Array.from(ids.flatMap(flat)) }))
      .map((l) => ({ ...l, area: loopArea(l.flat) }))
      .sort((a, b) => Math.abs(b.area) - Math.abs(a.area))
      .map((l, i) => (l.area > 0 === (i === 0) ? l : backwards(l)));
    const ids = loops.flatMap((l) => l.ids);
    const found = triangulate(
      loops[0].flat,
      loops.slice(1).map((l) => l.flat),
      fallback,
    );
    for (let i = 0; i < found.length; i += 3) this.face(ids[found[i]], ids[found[i + 1]], ids[found[i + 2]], turned);
  }

  /** The solid with some triangles of its skin replaced and one cap another; vertices that nothing uses are left out. */
  solid(old: Solid, gone: ReadonlySet<number>, more: readonly Triangle[], cap: CapRegion, now: CapRegion): Solid {
    const positions = withMore(this.positions, this.more);
    const { of: renumber, order } = renumbering(positions.length / 3);
    const kept = old.tags.length - gone.size;
    const triangles = new Uint32Array((kept + more.length) * 3);
    const tags = new Uint32Array(kept + more.length);
    let at = 0;
    for (let i = 0; i < old.tags.length; i++) {
      if (gone.has(i)) continue;
      for (let c = 0; c < 3; c++) triangles[at * 3 + c] = renumber(old.triangles[i * 3 + c]);
      tags[at++] = old.tags[i];
    }
    for (const { v, tag } of more) {
      for (let c = 0; c < 3; c++) triangles[at * 3 + c] = renumber(v[c]);
      tags[at++] = tag;
    }
    const caps = old.caps.map((c) => {
      const own = c === cap ? now : c;
      return {
        ...own,
        outer: own.outer.map(renumber),
        holes: own.holes.map((h) => h.map(renumber)),
        triangles: own.triangles.map(renumber),
      };
    });
    const out = new Float64Array(order.length * 3);
    order.forEach((v, i) => {
      out.set(positions.subarray(v * 3, v * 3 + 3), i * 3);
    });
    return { positions: out, triangles, tags, caps };
  }
}

const dotted = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

function backwards(l: { ids: readonly number[]; flat: Loop2; area: number }) {
  const flat = new Float64Array(l.flat.length);
  for (let i = 0; i < flat.length; i += 2) flat.set(l.flat.subarray(i, i + 2), flat.length - 2 - i);
  return { ids: [...l.ids].reverse(), flat, area: -l.area };
}

/** A ring whose stretch `chain` is replaced by a line between its ends, which stay. */
function replaced(ring: readonly number[], chain: readonly number[], line: readonly number[]): number[] {
  const n = ring.length;
  const start = ring.indexOf(chain[chain.length - 1]);
  const stop = ring.indexOf(chain[0]);
  const out: number[] = [];
  for (let i = start; ; i = (i + 1) % n) {
    out.push(ring[i]);
    if (i === stop) break;
  }
  return [...out, ...line];
}

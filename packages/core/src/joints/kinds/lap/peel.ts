import type { Solid } from '../../../cut/index.ts';
import { lerp, three, type Vec3, vecOf } from '../../../mesh/index.ts';

/**
 * A half-space: normal · x > c is inside. Across a loop it only counts in a window beside it, as the skin may come back to
 * the same plane elsewhere.
 */
export interface Bound {
  readonly normal: Vec3;
  readonly c: number;
  readonly window?: { readonly normal: Vec3; readonly from: number; readonly to: number };
}

/** A stretch of a solid's skin beside a cap, cut out along the bounds. Vertex numbers are those of `positions`. */
export interface Peeled {
  /** the solid's vertices, then the new ones */
  readonly positions: Float64Array;
  /** triangles of the solid's skin that are replaced, by index */
  readonly gone: ReadonlySet<number>;
  /** what stays of those */
  readonly rest: readonly Triangle[];
  /** what was cut out */
  readonly patch: readonly Triangle[];
  /** the cap's loop, with the new vertices on it */
  readonly loop: readonly number[];
  /** the part of that loop that the patch begins at, in its order; the whole of it round a closed wall */
  readonly chain: readonly number[];
  /** the patch's outline opposite the chain, by bound: the first is its top, the others are from bottom to top */
  readonly sides: readonly (readonly number[])[];
}

export interface Triangle {
  readonly v: readonly [number, number, number];
  readonly tag: number;
}

/** Vertices nearer to a bound than this would leave slivers, mm; the bound is moved by a little more. */
const CLEAR = 1e-6;
const NUDGE = 3.1e-6;

/**
 * Cuts out the part of a solid's skin that begins at one of its caps' loops and lies inside all bounds. The first bound
 * goes across the skin all the way (how far from the cap), the others, none or two, across the loop. Bounds are linear: each
 * cuts every crossed edge once and both its triangles along it, so the skin stays closed. Where two bounds meet a vertex is
 * put first; then the ends are cut up to there, and the top between them, so nothing is touched beyond.
 *
 *   ______________
 *   |  ._______.  |  first bound
 *   |  | patch |  |
 *   |__|_______|__|  loop, `seed` on it
 *
 * Gives a sentence for people where the skin is not such a strip.
 */
export function peelSkin(solid: Solid, loop: Uint32Array, seed: number, bounds: readonly Bound[]): Peeled | string {
  let tried = bounds;
  for (let round = 0; round < 8; round++) {
    const peeler = new Peeler(solid, loop, seed, tried);
    const close = peeler.tooClose();
    if (close < 0) return peeler.peel();
    tried = tried.map((b, k) => (k === close ? { ...b, c: b.c + NUDGE } : b));
  }
  return 'Too many corners of the model lie where the lip would end.';
}

const LOST = 'The skin beside the seam is too broken for a lap.';
const NO_STRIP = 'The wall beside this seam is not one plain strip, so a lip cannot follow it.';
const TOO_NEAR =
  'The skin beside this seam ends before the lip does: another seam or an edge of the model is too near.';

interface Work {
  v: [number, number, number];
  readonly tag: number;
  readonly from: number;
  state: 'active' | 'out';
}

class Peeler {
  private readonly first: number;
  private readonly added: number[] = [];
  private readonly values: Float64Array[] = [];
  private readonly near = new Map<number, Float64Array>();
  /** bounds on which a new vertex lies, as bits */
  private readonly on = new Map<number, number>();
  private work: Work[] = [];
  private readonly touched = new Set<number>();
  private ring: number[];
  private readonly seedEdge: readonly [number, number];

  constructor(
    private readonly solid: Solid,
    loop: Uint32Array,
    seed: number,
    private readonly bounds: readonly Bound[],
  ) {
    this.first = solid.positions.length / 3;
    this.ring = [...loop];
    this.seedEdge = [loop[seed], loop[(seed + 1) % loop.length]];
    this.gather();
  }

  private value(v: number): Float64Array {
    if (v >= this.first) return this.values[v - this.first];
    let f = this.near.get(v);
    if (!f) {
      const p = this.solid.positions;
      const k = v * 3;
      f = Float64Array.from(this.bounds, ({ normal: n, c }) => n[0] * p[k] + n[1] * p[k + 1] + n[2] * p[k + 2] - c);
      this.near.set(v, f);
    }
    return f;
  }

  /** Triangles with a corner inside the first bound, and those that share an edge with them. */
  private gather(): void {
    const { positions: p, triangles: t, tags } = this.solid;
    const { normal: n, c } = this.bounds[0];
    const marked = new Uint8Array(this.first);
    const below = new Uint8Array(this.first);
    for (let v = 0; v < this.first; v++) {
      if (n[0] * p[v * 3] + n[1] * p[v * 3 + 1] + n[2] * p[v * 3 + 2] > c) below[v] = 1;
    }
    for (let i = 0; i < t.length; i += 3) {
      if (below[t[i]] || below[t[i + 1]] || below[t[i + 2]]) marked[t[i]] = marked[t[i + 1]] = marked[t[i + 2]] = 1;
    }
    for (let i = 0; i < t.length; i += 3) {
      if (marked[t[i]] + marked[t[i + 1]] + marked[t[i + 2]] < 2) continue;
      this.work.push({ v: [t[i], t[i + 1], t[i + 2]], tag: tags[i / 3], from: i / 3, state: 'out' });
    }
  }

  private inWindow(at: readonly number[], k: number): boolean {
    const { window } = this.bounds[k];
    if (!window) return true;
    const { normal: n, from, to } = window;
    const w = n[0] * at[0] + n[1] * at[1] + n[2] * at[2];
    return w > from && w < to;
  }

  /** A bound that a corner of what is to be cut nearly lies on; −1 when none does. */
  tooClose(): number {
    for (const w of this.work) {
      for (const v of w.v) {
        const f = this.value(v);
        for (let k = 0; k < f.length; k++) if (Math.abs(f[k]) < CLEAR && this.inWindow(this.place(v), k)) return k;
      }
    }
    return -1;
  }

  peel(): Peeled | string {
    for (let k = 1; k < this.bounds.length; k++) {
      if (!this.pinCorner(k)) return NO_STRIP;
      if (!this.cutAlong(k, this.edgesAcross(k))) return TOO_NEAR;
    }
    for (const w of this.flood(this.work)) w.state = 'active';
    const top = this.work.filter((w) => w.state === 'active').flatMap((w) => this.crossed(w, 0));
    if (!this.cutAlong(0, top)) return TOO_NEAR;
    for (const w of this.work) if (w.v.some((v) => this.value(v)[0] < 0)) w.state = 'out';
    const patch = this.flood(this.work.filter((w) => w.state === 'active'));
    if (patch.length === 0) return LOST;
    for (const w of patch) this.touched.add(w.from);
    const outline = this.outlineOf(patch);
    if (typeof outline === 'string') return outline;
    const inPatch = new Set(patch);
    return {
      positions: withMore(this.solid.positions, this.added),
      gone: this.touched,
      rest: this.work.filter((w) => this.touched.has(w.from) && !inPatch.has(w)),
      patch,
      loop: this.ring,
      ...outline,
    };
  }

  /** Edges of a triangle that a bound crosses. */
  private crossed({ v }: Work, k: number): [number, number][] {
    const edges: [number, number][] = [
      [v[0], v[1]],
      [v[1], v[2]],
      [v[2], v[0]],
    ];
    return edges.filter(([a, b]) => this.value(a)[k] * this.value(b)[k] < 0);
  }

  /** Puts a vertex where an end meets the first bound. False when there is no such place, or several. */
  private pinCorner(k: number): boolean {
    const found: { w: Work; at: Vec3 }[] = [];
    for (const w of this.work) {
      const [a, b, c] = w.v.map((v) => this.value(v));
      // shares of the corners b and c at which both bounds are met
      const [b0, c0, bk, ck] = [b[0] - a[0], c[0] - a[0], b[k] - a[k], c[k] - a[k]];
      const det = b0 * ck - c0 * bk;
      if (det === 0) continue;
      const s = (-a[0] * ck + c0 * a[k]) / det;
      const t = (-b0 * a[k] + a[0] * bk) / det;
      if (s <= 0 || t <= 0 || s + t >= 1) continue;
      const [p, q, r] = w.v.map((v) => this.place(v));
      const at = vecOf((x) => p[x] + (q[x] - p[x]) * s + (r[x] - p[x]) * t);
      if (this.inWindow(at, k)) found.push({ w, at });
    }
    if (found.length !== 1) return false;
    const [{ w, at }] = found;
    const v = this.newVertex(at, 1 | (1 << k));
    const [a, b, c] = w.v;
    const thirds: Work['v'][] = [
      [a, b, v],
      [b, c, v],
      [c, a, v],
    ];
    this.touched.add(w.from);
    this.work = this.work.flatMap((x) => (x === w ? thirds.map((t) => ({ ...w, v: t })) : [x]));
    return true;
  }

  private newVertex(at: readonly number[], mask: number): number {
    const v = this.first + this.values.length;
    this.added.push(at[0], at[1], at[2]);
    const f = Float64Array.from(this.bounds, ({ normal: n, c }) => n[0] * at[0] + n[1] * at[1] + n[2] * at[2] - c);
    for (let i = 0; i < f.length; i++) if (mask & (1 << i)) f[i] = 0;
    this.values.push(f);
    this.on.set(v, mask);
    return v;
  }

  /** The edges that an end crosses inside the first bound, in its window. */
  private edgesAcross(k: number): [number, number][] {
    return this.work.flatMap((w) =>
      this.crossed(w, k).filter(([a, b]) => {
        const [fa, fb] = [this.value(a), this.value(b)];
        const s = fa[k] / (fa[k] - fb[k]);
        const [p, q] = [this.place(a), this.place(b)];
        const at = lerp(p, q, s);
        return fa[0] + (fb[0] - fa[0]) * s > 0 && this.inWindow(at, k);
      }),
    );
  }

  /** Cuts edges by a bound, and every triangle at its cut edges. False when one is on the rim of the skin, off the loop. */
  private cutAlong(k: number, edges: readonly (readonly [number, number])[]): boolean {
    const cuts = new Map<number, number>();
    for (const [a, b] of edges) {
      const key = edgeKey(a, b);
      if (!cuts.has(key)) cuts.set(key, this.between(a, b, k));
    }
    const sides = new Map<number, number>();
    for (const w of this.work)
      for (const key of edgesOf(w)) if (cuts.has(key)) sides.set(key, (sides.get(key) ?? 0) + 1);
    const n = this.ring.length;
    const ringEdges = new Set(this.ring.map((v, i) => edgeKey(v, this.ring[(i + 1) % n])));
    for (const [key, count] of sides) if (count < 2 && !ringEdges.has(key)) return false;
    this.work = this.work.flatMap((w) => {
      const parts = divided(w, cuts);
      if (parts.length > 1) this.touched.add(w.from);
      return parts;
    });
    this.ring = this.ring.flatMap((v, i) => {
      const cut = cuts.get(edgeKey(v, this.ring[(i + 1) % n]));
      return cut === undefined ? [v] : [v, cut];
    });
    return true;
  }

  /** A new vertex where an edge crosses a bound, always computed from its end outside to its end inside. */
  private between(a: number, b: number, k: number): number {
    const [out, inn] = this.value(a)[k] > 0 ? [b, a] : [a, b];
    const [fo, fi] = [this.value(out), this.value(inn)];
    const s = fo[k] / (fo[k] - fi[k]);
    const [p, q] = [this.place(out), this.place(inn)];
    // on a bound that both ends lie on, the new one lies too
    const mask = (1 << k) | ((this.on.get(out) ?? 0) & (this.on.get(inn) ?? 0));
    return this.newVertex(lerp(p, q, s), mask);
  }

  private place(v: number): readonly [number, number, number] {
    const from = v < this.first ? this.solid.positions : this.added;
    const k = (v < this.first ? v : v - this.first) * 3;
    return [from[k], from[k + 1], from[k + 2]];
  }

  /** What hangs together with the seed, inside the first bound, without going over an end. */
  private flood(among: readonly Work[]): Work[] {
    const byEdge = new Map<number, Work[]>();
    for (const w of among) for (const key of edgesOf(w)) push(byEdge, key, w);
    const found = new Set(byEdge.get(edgeKey(...this.seedEdge)) ?? []);
    const queue = [...found];
    for (let w = queue.pop(); w; w = queue.pop()) {
      for (let c = 0; c < 3; c++) {
        const [a, b] = [w.v[c], w.v[(c + 1) % 3]];
        if (this.value(a)[0] <= 0 && this.value(b)[0] <= 0) continue;
        if ((this.on.get(a) ?? 0) & (this.on.get(b) ?? 0)) continue;
        for (const next of byEdge.get(edgeKey(a, b))!) {
          if (found.has(next)) continue;
          found.add(next);
          queue.push(next);
        }
      }
    }
    return [...found];
  }

  private outlineOf(patch: readonly Work[]): Pick<Peeled, 'chain' | 'sides'> | string {
    const directed = new Set(patch.flatMap((w) => three((c) => `${w.v[c]} ${w.v[(c + 1) % 3]}`)));
    const next = new Map<number, number>();
    for (const edge of directed) {
      const [a, b] = edge.split(' ').map(Number);
      if (directed.has(`${b} ${a}`)) continue;
      if (next.has(a)) return LOST;
      next.set(a, b);
    }
    const n = this.ring.length;
    const placeOf = new Map(this.ring.map((v, i) => [v, i]));
    const onRing = (a: number, b: number): boolean => {
      const [i, j] = [placeOf.get(a), placeOf.get(b)];
      return i !== undefined && j !== undefined && ((i + 1) % n === j || (j + 1) % n === i);
    };
    const sideOf = (a: number, b: number): number => {
      if (onRing(a, b)) return -1;
      const both = (this.on.get(a) ?? 0) & (this.on.get(b) ?? 0);
      for (let k = 0; k < this.bounds.length; k++) if (both & (1 << k)) return k;
      return -2;
    };
    const cycles: number[][] = [];
    const left = new Set(next.keys());
    for (const start of next.keys()) {
      if (!left.has(start)) continue;
      const cycle: number[] = [];
      for (let v = start; left.delete(v); v = next.get(v)!) {
        cycle.push(v);
        if (!next.has(v)) return LOST;
      }
      cycles.push(cycle);
    }
    const sides = cycles.map((c) => c.map((v, i) => sideOf(v, c[(i + 1) % c.length])));
    if (sides.some((s) => s.includes(-2))) {
      return TOO_NEAR;
    }
    return this.bounds.length === 1 ? this.closedOutline(cycles, sides) : this.openOutline(cycles, sides);
  }

  private closedOutline(
    cycles: readonly (readonly number[])[],
    sides: readonly (readonly number[])[],
  ): Pick<Peeled, 'chain' | 'sides'> | string {
    const below = cycles.findIndex((_, i) => sides[i].every((s) => s === -1));
    const above = cycles.findIndex((_, i) => sides[i].every((s) => s === 0));
    if (cycles.length !== 2 || below < 0 || above < 0 || cycles[below].length !== this.ring.length) {
      return NO_STRIP;
    }
    return { chain: this.ring, sides: [cycles[above]] };
  }

  private openOutline(
    cycles: readonly (readonly number[])[],
    sides: readonly (readonly number[])[],
  ): Pick<Peeled, 'chain' | 'sides'> | string {
    if (cycles.length !== 1) return NO_STRIP;
    const [cycle] = cycles;
    const [kinds] = sides;
    const n = cycle.length;
    // turn it so that it begins where the chain does
    const start = kinds.findIndex((s, i) => s === -1 && kinds[(i + n - 1) % n] !== -1);
    if (start < 0) return NO_STRIP;
    const runs: { side: number; points: number[] }[] = [];
    for (let k = 0; k < n; k++) {
      const i = (start + k) % n;
      const last = runs[runs.length - 1];
      if (last?.side !== kinds[i]) runs.push({ side: kinds[i], points: [cycle[i]] });
      runs[runs.length - 1].points.push(cycle[(i + 1) % n]);
    }
    if (runs.length !== 4 || runs[0].side !== -1 || runs[2].side !== 0) return NO_STRIP;
    const chain = inRingOrder(runs[0].points, this.ring);
    const turned = chain[0] !== runs[0].points[0];
    const of = (side: number): number[] => runs.find((r) => r.side === side)!.points;
    if (![1, 2].every((side) => runs.some((r) => r.side === side))) return NO_STRIP;
    // from the chain upwards
    const ups = [1, 2].map((side) => {
      const points = of(side);
      return points[0] === chain[0] || points[0] === chain[chain.length - 1] ? points : [...points].reverse();
    });
    const top = turned ? runs[2].points : [...runs[2].points].reverse();
    return { chain, sides: [top, ...ups] };
  }
}

/** Positions with more behind them. */
export function withMore(positions: Float64Array, more: readonly number[]): Float64Array {
  const out = new Float64Array(positions.length + more.length);
  out.set(positions);
  out.set(more, positions.length);
  return out;
}

/** A run of a ring's vertices in the ring's own order. */
function inRingOrder(points: readonly number[], ring: readonly number[]): number[] {
  const i = ring.indexOf(points[0]);
  return ring[(i + 1) % ring.length] === points[1] ? [...points] : [...points].reverse();
}

/** A triangle divided at the new vertices on its edges. */
function divided(w: Work, cuts: ReadonlyMap<number, number>): Work[] {
  for (let c = 0; c < 3; c++) {
    const [a, b, d] = [w.v[c], w.v[(c + 1) % 3], w.v[(c + 2) % 3]];
    const m = cuts.get(edgeKey(a, b));
    if (m === undefined) continue;
    // a second cut edge at a: the corner at a comes off along the cut
    const onD = cuts.get(edgeKey(d, a));
    if (onD !== undefined && cuts.get(edgeKey(b, d)) === undefined) {
      return [
        { ...w, v: [a, m, onD] },
        { ...w, v: [m, b, d] },
        { ...w, v: [m, d, onD] },
      ];
    }
    if (onD === undefined && cuts.get(edgeKey(b, d)) !== undefined) {
      const n = cuts.get(edgeKey(b, d))!;
      return [
        { ...w, v: [b, n, m] },
        { ...w, v: [m, n, d] },
        { ...w, v: [m, d, a] },
      ];
    }
    return [...divided({ ...w, v: [a, m, d] }, cuts), ...divided({ ...w, v: [m, b, d] }, cuts)];
  }
  return [w];
}

const edgeKey = (a: number, b: number): number => (a < b ? a * 2 ** 26 + b : b * 2 ** 26 + a);

const edgesOf = ({ v }: Work): number[] => [edgeKey(v[0], v[1]), edgeKey(v[1], v[2]), edgeKey(v[2], v[0])];

function push<K, T>(map: Map<K, T[]>, key: K, item: T): void {
  const list = map.get(key);
  if (list) list.push(item);
  else map.set(key, [item]);
}

import type { Loop2 } from '../mesh/index.ts';

/** A stretch of the sweep line inside the polygon, between two edges, and the frontier above it. */
interface Interval {
  /** the edges on its left and right, by the number of their first point; interior is on the left of every edge */
  left: number;
  right: number;
  /** ends of the frontier, and the node that was added last */
  head: number;
  tail: number;
  low: number;
}

/**
 * Triangulates a polygon with holes (outer loop counter-clockwise, holes clockwise) in one sweep from top to bottom.
 *
 *       o-----o            Each stretch of the sweep line inside the polygon keeps the frontier of vertices above it that
 *      / \   /             are not covered yet. A vertex cuts off every triangle it sees at its end of the frontier, and
 *     o---o-o  <- sweep    joins it. Stretches begin, end, split and merge as loops do.
 *
 * Hertel and Mehlhorn, "Fast triangulation of simple polygons" (1983). O(n log n), and fast on the round outlines on which
 * ear cutting is slow. Returns indices into the points, counted through, or null where loops cross or touch.
 */
export const sweepTriangulate = (loops: readonly Loop2[]): Uint32Array | null => new Sweep(loops).run();

class Sweep {
  private readonly x: Float64Array;
  private readonly y: Float64Array;
  private readonly next: Int32Array;
  private readonly prev: Int32Array;
  private readonly out: Uint32Array;
  private used = 0;
  // frontiers are lists of nodes; a split adds one node more than there are points
  private readonly point: Int32Array;
  private readonly after: Int32Array;
  private readonly before: Int32Array;
  private nodes = 0;
  private readonly status: Interval[] = [];
  private readonly ofLeft = new Map<number, Interval>();
  private readonly ofRight = new Map<number, Interval>();

  constructor(loops: readonly Loop2[]) {
    const total = loops.reduce((n, l) => n + l.length / 2, 0);
    this.x = new Float64Array(total);
    this.y = new Float64Array(total);
    this.next = new Int32Array(total);
    this.prev = new Int32Array(total);
    let at = 0;
    for (const l of loops) {
      const n = l.length / 2;
      for (let i = 0; i < n; i++) {
        this.x[at + i] = l[i * 2];
        this.y[at + i] = l[i * 2 + 1];
        this.next[at + i] = at + ((i + 1) % n);
        this.prev[at + i] = at + ((i + n - 1) % n);
      }
      at += n;
    }
    this.out = new Uint32Array(Math.max(0, (total + 2 * loops.length - 4) * 3));
    this.point = new Int32Array(total * 2);
    this.after = new Int32Array(total * 2);
    this.before = new Int32Array(total * 2);
  }

  run(): Uint32Array | null {
    const { x, y, next, prev, out } = this;
    const order = Int32Array.from(x, (_, i) => i);
    order.sort((a, b) => y[b] - y[a] || x[a] - x[b] || a - b);
    const rank = new Int32Array(x.length);
    for (let i = 0; i < order.length; i++) rank[order[i]] = i;
    for (const v of order) {
      const cameDown = rank[prev[v]] < rank[v];
      const goesDown = rank[next[v]] > rank[v];
      const went =
        cameDown && goesDown
          ? this.goDown(v)
          : !cameDown && !goesDown
            ? this.goBack(v)
            : goesDown
              ? this.begin(v)
              : this.end(v);
      if (!went || this.used > out.length) return null;
    }
    return this.used === out.length ? out : null;
  }

  /** A left edge goes on below a vertex. False, as with all of these, where loops cross or touch. */
  private goDown(v: number): boolean {
    const p = this.prev[v];
    const s = this.ofLeft.get(p);
    if (!s) return false;
    this.ofLeft.delete(p);
    this.addLeft(s, v);
    s.left = v;
    this.ofLeft.set(v, s);
    return true;
  }

  /** A right edge goes on below a vertex. */
  private goBack(v: number): boolean {
    const s = this.ofRight.get(v);
    if (!s) return false;
    const p = this.prev[v];
    this.ofRight.delete(v);
    this.addRight(s, v);
    s.right = p;
    this.ofRight.set(p, s);
    return true;
  }

  /** Both edges of a vertex go down: a stretch begins there, or is split by it. */
  private begin(v: number): boolean {
    const { after, before, point } = this;
    const p = this.prev[v];
    const where = this.place(v);
    if (this.turn(p, v, this.next[v]) > 0) {
      const only = this.node(v);
      this.open({ left: v, right: p, head: only, tail: only, low: only }, where);
      return true;
    }
    const s = this.status[where - 1];
    if (!s) return false;
    const copy = this.node(point[s.low]);
    const right: Interval = { left: v, right: s.right, head: copy, tail: s.tail, low: copy };
    if (s.low === s.tail) right.tail = copy;
    else {
      after[copy] = after[s.low];
      before[after[s.low]] = copy;
    }
    after[s.low] = -1;
    s.tail = s.low;
    s.right = p;
    this.ofRight.set(p, s);
    this.open(right, where);
    this.addRight(s, v);
    this.addLeft(right, v);
    return true;
  }

  /** Both edges of a vertex come from above: a stretch ends there, or two become one. */
  private end(v: number): boolean {
    const { after, before, point, status, ofLeft, ofRight } = this;
    const p = this.prev[v];
    const left = ofRight.get(v);
    const right = ofLeft.get(p);
    if (!left || !right) return false;
    ofRight.delete(v);
    ofLeft.delete(p);
    if (this.turn(p, v, this.next[v]) > 0) {
      if (left !== right) return false;
      for (let k = left.head; k !== left.tail; k = after[k]) this.emit(v, point[after[k]], point[k]);
      status.splice(status.indexOf(left), 1);
      return true;
    }
    if (left === right) return false;
    this.addRight(left, v);
    this.addLeft(right, v);
    const inner = after[right.head];
    after[left.tail] = inner;
    before[inner] = left.tail;
    left.low = left.tail;
    left.tail = right.tail;
    left.right = right.right;
    ofRight.set(left.right, left);
    status.splice(status.indexOf(right), 1);
    return true;
  }

  private turn(a: number, b: number, c: number): number {
    const { x, y } = this;
    return (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a]);
  }

  private emit(a: number, b: number, c: number): void {
    this.out[this.used++] = a;
    this.out[this.used++] = b;
    this.out[this.used++] = c;
  }

  private node(v: number): number {
    this.point[this.nodes] = v;
    this.after[this.nodes] = -1;
    this.before[this.nodes] = -1;
    return this.nodes++;
  }

  /** Cuts off what a vertex sees from the left end of a frontier, and makes it that end. */
  private addLeft(s: Interval, v: number): void {
    const { point, after, before } = this;
    while (s.head !== s.tail) {
      const second = after[s.head];
      if (this.turn(v, point[second], point[s.head]) <= 0) break;
      this.emit(v, point[second], point[s.head]);
      s.head = second;
      before[second] = -1;
    }
    const fresh = this.node(v);
    after[fresh] = s.head;
    before[s.head] = fresh;
    s.head = fresh;
    s.low = fresh;
  }

  /** The same at its right end. */
  private addRight(s: Interval, v: number): void {
    const { point, after, before } = this;
    while (s.head !== s.tail) {
      const second = before[s.tail];
      if (this.turn(v, point[s.tail], point[second]) <= 0) break;
      this.emit(v, point[s.tail], point[second]);
      s.tail = second;
      after[second] = -1;
    }
    const fresh = this.node(v);
    before[fresh] = s.tail;
    after[s.tail] = fresh;
    s.tail = fresh;
    s.low = fresh;
  }

  /** Number of stretches whose left edge runs left of a vertex. */
  private place(v: number): number {
    let low = 0;
    let high = this.status.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      const e = this.status[middle].left;
      if (this.turn(e, this.next[e], v) > 0) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private open(s: Interval, where: number): void {
    this.status.splice(where, 0, s);
    this.ofLeft.set(s.left, s);
    this.ofRight.set(s.right, s);
  }
}

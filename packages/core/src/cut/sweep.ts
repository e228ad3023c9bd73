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
export function sweepTriangulate(loops: readonly Loop2[]): Uint32Array | null {
  const total = loops.reduce((n, l) => n + l.length / 2, 0);
  const x = new Float64Array(total);
  const y = new Float64Array(total);
  const next = new Int32Array(total);
  const prev = new Int32Array(total);
  let at = 0;
  for (const l of loops) {
    const n = l.length / 2;
    for (let i = 0; i < n; i++) {
      x[at + i] = l[i * 2];
      y[at + i] = l[i * 2 + 1];
      next[at + i] = at + ((i + 1) % n);
      prev[at + i] = at + ((i + n - 1) % n);
    }
    at += n;
  }
  const order = new Int32Array(total);
  for (let i = 0; i < total; i++) order[i] = i;
  order.sort((a, b) => y[b] - y[a] || x[a] - x[b] || a - b);
  const rank = new Int32Array(total);
  for (let i = 0; i < total; i++) rank[order[i]] = i;

  const turn = (a: number, b: number, c: number): number =>
    (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a]);
  const out = new Uint32Array(Math.max(0, (total + 2 * loops.length - 4) * 3));
  let used = 0;
  const emit = (a: number, b: number, c: number): void => {
    out[used++] = a;
    out[used++] = b;
    out[used++] = c;
  };

  // frontiers are lists of nodes; a split adds one node more than there are points
  const point = new Int32Array(total * 2);
  const after = new Int32Array(total * 2);
  const before = new Int32Array(total * 2);
  let nodes = 0;
  const node = (v: number): number => {
    point[nodes] = v;
    after[nodes] = -1;
    before[nodes] = -1;
    return nodes++;
  };
  const addLeft = (s: Interval, v: number): void => {
    while (s.head !== s.tail) {
      const second = after[s.head];
      if (turn(v, point[second], point[s.head]) <= 0) break;
      emit(v, point[second], point[s.head]);
      s.head = second;
      before[second] = -1;
    }
    const fresh = node(v);
    after[fresh] = s.head;
    before[s.head] = fresh;
    s.head = fresh;
    s.low = fresh;
  };
  const addRight = (s: Interval, v: number): void => {
    while (s.head !== s.tail) {
      const second = before[s.tail];
      if (turn(v, point[s.tail], point[second]) <= 0) break;
      emit(v, point[s.tail], point[second]);
      s.tail = second;
      after[second] = -1;
    }
    const fresh = node(v);
    before[fresh] = s.tail;
    after[s.tail] = fresh;
    s.tail = fresh;
    s.low = fresh;
  };

  const status: Interval[] = [];
  const ofLeft = new Map<number, Interval>();
  const ofRight = new Map<number, Interval>();
  /** Number of intervals whose left edge runs left of v. */
  const place = (v: number): number => {
    let low = 0;
    let high = status.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      const e = status[middle].left;
      if (turn(e, next[e], v) > 0) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  const open = (s: Interval, where: number): void => {
    status.splice(where, 0, s);
    ofLeft.set(s.left, s);
    ofRight.set(s.right, s);
  };

  for (const v of order) {
    const p = prev[v];
    const q = next[v];
    const cameDown = rank[p] < rank[v];
    const goesDown = rank[q] > rank[v];
    if (cameDown && goesDown) {
      const s = ofLeft.get(p);
      if (!s) return null;
      ofLeft.delete(p);
      addLeft(s, v);
      s.left = v;
      ofLeft.set(v, s);
    } else if (!cameDown && !goesDown) {
      const s = ofRight.get(v);
      if (!s) return null;
      ofRight.delete(v);
      addRight(s, v);
      s.right = p;
      ofRight.set(p, s);
    } else if (goesDown) {
      const where = place(v);
      if (turn(p, v, q) > 0) {
        const only = node(v);
        open({ left: v, right: p, head: only, tail: only, low: only }, where);
        continue;
      }
      const s = status[where - 1];
      if (!s) return null;
      const copy = node(point[s.low]);
      const right: Interval = { left: v, right: s.right, head: copy, tail: s.tail, low: copy };
      if (s.low === s.tail) right.tail = copy;
      else {
        after[copy] = after[s.low];
        before[after[s.low]] = copy;
      }
      after[s.low] = -1;
      s.tail = s.low;
      s.right = p;
      ofRight.set(p, s);
      open(right, where);
      addRight(s, v);
      addLeft(right, v);
    } else {
      const left = ofRight.get(v);
      const right = ofLeft.get(p);
      if (!left || !right) return null;
      ofRight.delete(v);
      ofLeft.delete(p);
      if (turn(p, v, q) > 0) {
        if (left !== right) return null;
        for (let k = left.head; k !== left.tail; k = after[k]) emit(v, point[after[k]], point[k]);
        status.splice(status.indexOf(left), 1);
      } else {
        if (left === right) return null;
        addRight(left, v);
        addLeft(right, v);
        const inner = after[right.head];
        after[left.tail] = inner;
        before[inner] = left.tail;
        left.low = left.tail;
        left.tail = right.tail;
        left.right = right.right;
        ofRight.set(left.right, left);
        status.splice(status.indexOf(right), 1);
      }
    }
    if (used > out.length) return null;
  }
  return used === out.length ? out : null;
}

import { segmentGap2 } from '../mesh/index.ts';
import { boxOfShadow, type Shadow } from './outline.ts';

/** An edge of a shadow from its lower end to its upper. */
interface Edge {
  readonly low: number;
  readonly high: number;
  /** x at `low`, and what it grows by a millimetre */
  readonly x: number;
  readonly slope: number;
  readonly second: boolean;
}

/**
 * How much two shadows cover of each other, mm². Between the heights at which an edge begins, ends or crosses another all
 * widths change evenly, so the width in the middle of such a slab is its mean.
 *
 *      ______________
 *     |   ___|___    |    slab
 *     |__|___|___|___|  <- a corner
 *        |   |   |        slab
 */
export function sharedArea(a: Shadow, b: Shadow): number {
  const [p, q] = [boxOfShadow(a), boxOfShadow(b)];
  const [low, high] = [Math.max(p.min[1], q.min[1]), Math.min(p.max[1], q.max[1])];
  if (low >= high || p.max[0] <= q.min[0] || q.max[0] <= p.min[0]) return 0;
  const edges = [...edgesOf(a, low, high, false), ...edgesOf(b, low, high, true)].sort((e, f) => e.low - f.low);
  const heights = [...new Set([low, high, ...edges.flatMap((e) => [e.low, e.high])])]
    .filter((y) => y >= low && y <= high)
    .sort((y, z) => y - z);
  let active: Edge[] = [];
  let next = 0;
  let sum = 0;
  for (let i = 0; i + 1 < heights.length; i++) {
    const [from, to] = [heights[i], heights[i + 1]];
    active = active.filter((e) => e.high > from);
    for (; next < edges.length && edges[next].low <= from; next++)
      if (edges[next].high > from) active.push(edges[next]);
    const cuts = [from, ...crossings(active, from, to), to];
    for (let k = 0; k + 1 < cuts.length; k++) {
      sum += (cuts[k + 1] - cuts[k]) * sharedWidth(active, (cuts[k] + cuts[k + 1]) / 2);
    }
  }
  return sum;
}

function edgesOf(shadow: Shadow, low: number, high: number, second: boolean): Edge[] {
  const out: Edge[] = [];
  for (const l of shadow) {
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
      if (l[i + 1] === l[j + 1]) continue;
      const [from, to] = l[i + 1] < l[j + 1] ? [i, j] : [j, i];
      if (l[to + 1] <= low || l[from + 1] >= high) continue;
      out.push({
        low: l[from + 1],
        high: l[to + 1],
        x: l[from],
        slope: (l[to] - l[from]) / (l[to + 1] - l[from + 1]),
        second,
      });
    }
  }
  return out;
}

const xAt = (e: Edge, y: number): number => e.x + e.slope * (y - e.low);

/** Heights within a slab at which an edge of one shadow crosses one of the other, in order. */
function crossings(active: readonly Edge[], from: number, to: number): number[] {
  const out: number[] = [];
  for (const e of active) {
    if (e.second) continue;
    for (const f of active) {
      if (!f.second) continue;
      const [below, above] = [xAt(e, from) - xAt(f, from), xAt(e, to) - xAt(f, to)];
      if (below < 0 !== above < 0 && below !== above) out.push(from + (below / (below - above)) * (to - from));
    }
  }
  return out.filter((y) => y > from && y < to).sort((y, z) => y - z);
}

/** How much of a level line both shadows cover. */
function sharedWidth(active: readonly Edge[], y: number): number {
  const xs = active.map((e) => ({ x: xAt(e, y), second: e.second })).sort((e, f) => e.x - f.x);
  const inside = [false, false];
  let sum = 0;
  xs.forEach(({ x, second }, i) => {
    if (inside[0] && inside[1]) sum += x - xs[i - 1].x;
    inside[second ? 1 : 0] = !inside[second ? 1 : 0];
  });
  return sum;
}

/** Whether two shadows come nearer to each other than so many mm, or lie over each other's edges. */
export function nearerThan(a: Shadow, b: Shadow, distance: number): boolean {
  const [p, q] = [boxOfShadow(a), boxOfShadow(b)];
  for (const k of [0, 1]) {
    if (p.max[k] + distance <= q.min[k] || q.max[k] + distance <= p.min[k]) return false;
  }
  const limit = distance * distance;
  return eachEdge(a, (ax, ay, bx, by) => {
    const [x0, x1] = [Math.min(ax, bx) - distance, Math.max(ax, bx) + distance];
    const [y0, y1] = [Math.min(ay, by) - distance, Math.max(ay, by) + distance];
    if (x0 > q.max[0] || x1 < q.min[0] || y0 > q.max[1] || y1 < q.min[1]) return false;
    return eachEdge(b, (cx, cy, dx, dy) => {
      if (Math.min(cx, dx) > x1 || Math.max(cx, dx) < x0 || Math.min(cy, dy) > y1 || Math.max(cy, dy) < y0)
        return false;
      return segmentGap2(ax, ay, bx, by, cx, cy, dx, dy) < limit;
    });
  });
}

/** Whether something holds for any edge of a shadow. */
function eachEdge(shadow: Shadow, holds: (ax: number, ay: number, bx: number, by: number) => boolean): boolean {
  for (const l of shadow) {
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2)
      if (holds(l[j], l[j + 1], l[i], l[i + 1])) return true;
  }
  return false;
}

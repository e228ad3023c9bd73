import type { Solid } from '../cut/index.ts';
import { lerp, vertexAt } from '../mesh/index.ts';
import type { BuiltCap } from './build.ts';

/**
 * Divides diagonals of caps that another face of the piece has too, by a point in their middle, so that the piece touches
 * itself nowhere.
 *
 *      r               r
 *     / \             /|\         Caps are triangulated each on its own outline. Where two caps meet in a crease with corners
 *    p---q    ->     p-m-q        along it, or where the skin runs back and forth between corners of a cap, both may have an
 *     \ /             \|/         edge from p to q; the middle of the cap's own is nobody else's.
 *      s               s
 *
 * Caps without such diagonals come back as the same objects.
 */
export function partDiagonals(solid: Solid, caps: readonly BuiltCap[]): readonly BuiltCap[] {
  const old = solid.positions.length / 3;
  const onCap = new Uint8Array(old);
  for (const cap of caps) for (const v of cap.ids) onCap[v] = 1;
  const edges = new Set<number>();
  const crowded = new Set<number>();
  const add = (a: number, b: number): void => {
    const key = a * old + b;
    if (edges.has(key)) crowded.add(key);
    else edges.add(key);
  };
  const { triangles: t } = solid;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [t[i], t[i + 1], t[i + 2]];
    if (onCap[a] && onCap[b]) add(a, b);
    if (onCap[b] && onCap[c]) add(b, c);
    if (onCap[c] && onCap[a]) add(c, a);
  }
  for (const cap of caps) eachEdge(cap, (p, q) => add(cap.ids[p], cap.ids[q]));
  if (crowded.size === 0) return caps;
  return caps.map((cap) => {
    const points = cap.ids.length;
    // how often each directed edge occurs: where an outline touches itself, a diagonal may have the ends of a side
    const times = new Map<number, number>();
    eachEdge(cap, (p, q) => times.set(p * points + q, (times.get(p * points + q) ?? 0) + 1));
    let divided = cap;
    for (const [key, n] of times) {
      const [p, q] = [Math.floor(key / points), key % points];
      const [a, b] = [cap.ids[p], cap.ids[q]];
      if (p > q || !(crowded.has(a * old + b) || crowded.has(b * old + a))) continue;
      const diagonals = Math.min(n, times.get(q * points + p) ?? 0);
      for (let k = 0; k < diagonals; k++) divided = withMiddle(solid, divided, p, q, (k + 1) / (diagonals + 1));
    }
    return divided;
  });
}

/** The directed edges of a cap's triangles between vertices of the solid, by the cap's own numbers. */
function eachEdge({ ids, triangles: t }: BuiltCap, visit: (p: number, q: number) => void): void {
  for (let i = 0; i < t.length; i++) {
    const j = i % 3 === 2 ? i - 2 : i + 1;
    if (t[i] < ids.length && t[j] < ids.length) visit(t[i], t[j]);
  }
}

/** The cap with one triangle on each side of a diagonal divided by a new vertex at `share` of the way from p to q. */
function withMiddle(solid: Solid, cap: BuiltCap, p: number, q: number, share: number): BuiltCap {
  const { ids, extra } = cap;
  const middle = ids.length + extra.length / 3;
  const triangles: number[] = [];
  const owners: number[] = [];
  const open = new Set([p, q]);
  for (let i = 0; i < cap.triangles.length; i += 3) {
    const corners = [...cap.triangles.slice(i, i + 3)];
    const owner = cap.owners[i / 3];
    const e = corners.findIndex((v, k) => {
      const next = corners[(k + 1) % 3];
      return open.has(v) && ((v === p && next === q) || (v === q && next === p));
    });
    if (e < 0) {
      triangles.push(...corners);
      owners.push(owner);
      continue;
    }
    const [from, to, apex] = [corners[e], corners[(e + 1) % 3], corners[(e + 2) % 3]];
    open.delete(from);
    triangles.push(from, middle, apex, middle, to, apex);
    owners.push(owner, owner);
  }
  const { positions: x } = solid;
  const at = lerp(vertexAt(x, ids[p]), vertexAt(x, ids[q]), share);
  return {
    ...cap,
    extra: Float64Array.from([...extra, ...at]),
    triangles: Uint32Array.from(triangles),
    owners: Int32Array.from(owners),
  };
}

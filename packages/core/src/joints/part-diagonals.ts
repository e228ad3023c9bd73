import type { Solid } from '../cut/index.ts';
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
  for (const cap of caps) eachEdge(cap, add);
  if (crowded.size === 0) return caps;
  return caps.map((cap) => {
    const own = new Set<number>();
    eachEdge(cap, (a, b) => own.add(a * old + b));
    const divided = [...own].filter((key) => {
      const [a, b] = [Math.floor(key / old), key % old];
      return a < b && own.has(b * old + a) && (crowded.has(key) || crowded.has(b * old + a));
    });
    return divided.reduce((c, key) => withMiddle(solid, c, Math.floor(key / old), key % old), cap);
  });
}

/** The directed edges of a cap's triangles between vertices of the solid. */
function eachEdge({ ids, triangles: t }: BuiltCap, visit: (a: number, b: number) => void): void {
  for (let i = 0; i < t.length; i++) {
    const j = i % 3 === 2 ? i - 2 : i + 1;
    if (t[i] < ids.length && t[j] < ids.length) visit(ids[t[i]], ids[t[j]]);
  }
}

function withMiddle(solid: Solid, cap: BuiltCap, a: number, b: number): BuiltCap {
  const { ids, extra } = cap;
  const [p, q] = [ids.indexOf(a), ids.indexOf(b)];
  const middle = ids.length + extra.length / 3;
  const triangles: number[] = [];
  const owners: number[] = [];
  for (let i = 0; i < cap.triangles.length; i += 3) {
    const corners = [...cap.triangles.slice(i, i + 3)];
    const owner = cap.owners[i / 3];
    const e = corners.findIndex((v, k) => {
      const next = corners[(k + 1) % 3];
      return (v === p && next === q) || (v === q && next === p);
    });
    if (e < 0) {
      triangles.push(...corners);
      owners.push(owner);
      continue;
    }
    const [from, to, apex] = [corners[e], corners[(e + 1) % 3], corners[(e + 2) % 3]];
    triangles.push(from, middle, apex, middle, to, apex);
    owners.push(owner, owner);
  }
  const at = [0, 1, 2].map((k) => (solid.positions[a * 3 + k] + solid.positions[b * 3 + k]) / 2);
  return {
    ...cap,
    extra: Float64Array.from([...extra, ...at]),
    triangles: Uint32Array.from(triangles),
    owners: Int32Array.from(owners),
  };
}

import { orient2d, orient3d } from 'robust-predicates';
import { crossings } from '../crossing/index.ts';
import { GephyraError } from '../errors.ts';
import {
  boxOf,
  buildBlocks,
  buildTree,
  constrainedTriangles,
  cross,
  find,
  type IndexedMesh,
  normalize,
  renumbering,
  sizeOf,
  sub,
  topology,
  triangleCross,
  unite,
  type Vec3,
  vecOf,
  vertexAt,
  windingAhead,
} from '../mesh/index.ts';

/** What untangling did. */
export interface Untangled {
  readonly mesh: IndexedMesh;
  /** pairs of triangles that went through each other */
  readonly pairs: number;
}

/** More pairs than this are not resolved one by one. */
const MOST_PAIRS = 100_000;
/** Places in which surfaces only touch are told apart by moving vertices by this share of the size, and this often at most. */
const NUDGE = 1e-8;
const TRIES = 6;

/**
 * A closed surface that passes through itself as the surface of what it encloses: triangles that go through each other are parted
 * along the lines in which they meet, and of the patches between these lines only those stay that part what is outside
 * (winding number 0 or less) from what is inside (1 or more). What is there twice is there once then, and what is inside out is nothing.
 *
 *    ______          ______
 *   |    __|__      |      |__
 *   |   |  |  |  ->  |         |     after Jacobson, Kavan and Sorkine-Hornung, "Robust inside-outside segmentation using
 *   |___|__|  |     |___      |     generalized winding numbers" (2013), with exact predicates for what meets what
 *       |_____|         |_____|
 *
 * Lengths in mm. Throws GephyraError `repair.open` for an open surface, `repair.tangled` where it does not come out closed or more
 * pairs meet than are resolved.
 */
export function untangle(source: IndexedMesh): Untangled {
  if (!topology(source).watertight) {
    throw new GephyraError(
      'repair.open',
      'Only a closed surface can be freed of what passes through itself. Close it first.',
    );
  }
  const tree = buildTree(source);
  const first = crossings(tree, tree, MOST_PAIRS, MOST_PAIRS);
  if (first.pairs === 0) return { mesh: source, pairs: 0 };
  if (first.more || first.pairs >= MOST_PAIRS) {
    throw new GephyraError(
      'repair.tangled',
      `More than ${MOST_PAIRS.toLocaleString('en')} pairs of triangles go through each other, too many to resolve. Give the surface a wall, or hollow it: that samples it anew.`,
    );
  }
  const size = Math.hypot(...sizeOf(boxOf(source.positions)));
  for (let round = 0; round < TRIES; round++) {
    const nudged = { ...source, positions: nudge(source, first.triangles, size * NUDGE, round) };
    const made = resolved(nudged, source.positions);
    if (made && topology(made).watertight) return { mesh: made, pairs: first.pairs };
  }
  throw new GephyraError(
    'repair.tangled',
    'What passes through itself could not be resolved. Give the surface a wall, or hollow it: that samples it anew.',
  );
}

/** The corners of some triangles moved a little, each its own way and the same way every time. */
function nudge({ positions, triangles: t }: IndexedMesh, list: Uint32Array, by: number, round: number): Float64Array {
  const out = positions.slice();
  const seen = new Set<number>();
  for (const i of list) {
    for (let c = 0; c < 3; c++) {
      const v = t[i * 3 + c];
      if (seen.has(v)) continue;
      seen.add(v);
      for (let a = 0; a < 3; a++) {
        const x = Math.sin(v * 12.9898 + a * 78.233 + round * 37.719) * 43758.5453;
        out[v * 3 + a] += by * 2 ** round * (2 * (x - Math.floor(x)) - 1);
      }
    }
  }
  return out;
}

/** Where two triangles meet: between two vertices, old or new. */
interface Meeting {
  readonly other: number;
  readonly ends: readonly [number, number];
}

const NONE: readonly number[] = [];

/** The triangles with the vertices and lines in which others meet them. */
class Tangle {
  readonly positions: number[];
  readonly meetings = new Map<number, Meeting[]>();
  /** new vertices on edges, by the edge's lower and higher vertex */
  readonly onEdge = new Map<number, number[]>();
  private readonly known = new Map<string, number>();

  constructor(readonly mesh: IndexedMesh) {
    this.positions = Array.from(mesh.positions);
  }

  at = (v: number): Vec3 => [this.positions[v * 3], this.positions[v * 3 + 1], this.positions[v * 3 + 2]];

  vertex(key: string, place: () => Vec3): number {
    let v = this.known.get(key);
    if (v === undefined) {
      v = this.positions.length / 3;
      this.positions.push(...place());
      this.known.set(key, v);
    }
    return v;
  }

  /** An edge of the mesh by one number, whichever way. */
  private edge(v: number, w: number): number {
    const count = this.mesh.positions.length / 3;
    return v < w ? v * count + w : w * count + v;
  }

  /** Notes where two triangles meet; false where that is not in two places. */
  meet(i: number, j: number): boolean {
    const { triangles: t } = this.mesh;
    const ends = [...this.pierced(i, j), ...this.pierced(j, i)];
    const [s, u] = [t.subarray(i * 3, i * 3 + 3), t.subarray(j * 3, j * 3 + 3)];
    for (const v of s) if (u.includes(v)) ends.push(v);
    if (ends.length !== 2 || ends[0] === ends[1]) return false;
    for (const [one, other] of [
      [i, j],
      [j, i],
    ]) {
      const list = this.meetings.get(one) ?? [];
      list.push({ other, ends: [ends[0], ends[1]] });
      this.meetings.set(one, list);
    }
    return true;
  }

  /** The vertices in which edges of a triangle go through another. */
  private pierced(i: number, j: number): number[] {
    const { triangles: t } = this.mesh;
    const [a, b, c] = [0, 1, 2].map((k) => this.at(t[j * 3 + k]));
    const out: number[] = [];
    for (let k = 0; k < 3; k++) {
      const [v, w] = [t[i * 3 + k], t[i * 3 + ((k + 1) % 3)]];
      const own = [t[j * 3], t[j * 3 + 1], t[j * 3 + 2]];
      if (own.includes(v) || own.includes(w)) continue;
      const [p, q] = [this.at(v), this.at(w)];
      const [dp, dq] = [side(a, b, c, p), side(a, b, c, q)];
      if (dp * dq >= 0) continue;
      const around = [side(p, q, a, b), side(p, q, b, c), side(p, q, c, a)];
      if (!(around.every((x) => x > 0) || around.every((x) => x < 0))) continue;
      const key = this.edge(v, w);
      out.push(
        this.vertex(`${key} | ${j}`, () => {
          const s = dp / (dp - dq);
          const made = vecOf((x) => p[x] + s * (q[x] - p[x]));
          const list = this.onEdge.get(key) ?? [];
          list.push(this.positions.length / 3);
          this.onEdge.set(key, list);
          return made;
        }),
      );
    }
    return out;
  }

  /** The vertices on an edge from its first corner to its second, both left out. */
  along(v: number, w: number): readonly number[] {
    const list = this.onEdge.get(this.edge(v, w));
    if (!list) return NONE;
    const [p, q] = [this.at(v), this.at(w)];
    const d = sub(q, p);
    const way = (x: number): number => this.at(x).reduce((sum, y, k) => sum + (y - p[k]) * d[k], 0);
    return list.toSorted((a, b) => way(a) - way(b));
  }

  /** Where three triangles meet, given the lines in which two of them meet the first. */
  triple(i: number, [p, q]: Meeting['ends'], j: number, [r, s]: Meeting['ends'], k: number, flat: Flat): number | null {
    const name = [i, j, k].toSorted((a, b) => a - b).join(' ');
    const known = this.known.get(name);
    if (known !== undefined) return known;
    const [a, b, c, d] = [p, q, r, s].map((v) => flat(this.at(v)));
    const [c1, d1] = [turn(a, b, c), turn(a, b, d)];
    const [a1, b1] = [turn(c, d, a), turn(c, d, b)];
    if (c1 * d1 >= 0 || a1 * b1 >= 0) return null;
    const share = a1 / (a1 - b1);
    const [x, y] = [this.at(p), this.at(q)];
    return this.vertex(name, () => vecOf((n) => x[n] + share * (y[n] - x[n])));
  }
}

type Flat = (p: Vec3) => readonly [number, number];
const side = (a: Vec3, b: Vec3, c: Vec3, d: Vec3): number =>
  orient3d(a[0], a[1], a[2], b[0], b[1], b[2], c[0], c[1], c[2], d[0], d[1], d[2]);
const turn = (a: readonly number[], b: readonly number[], c: readonly number[]): number =>
  orient2d(a[0], a[1], b[0], b[1], c[0], c[1]);

/** The surface of what a mesh encloses; null where two triangles do not meet as triangles in general place do. */
function resolved(mesh: IndexedMesh, original: Float64Array): IndexedMesh | null {
  const tree = buildTree(mesh);
  const { triangles: found, more } = crossings(tree, tree, MOST_PAIRS, MOST_PAIRS);
  if (more) return null;
  const tangle = new Tangle(mesh);
  for (let k = 0; k < found.length; k += 2) if (!tangle.meet(found[k], found[k + 1])) return null;
  const parts = partedTriangles(tangle);
  if (!parts) return null;
  const kept = keptPatches(mesh, tangle, parts);
  const positions = Float64Array.from(tangle.positions);
  positions.set(original);
  return compact(positions, parts, kept);
}

/** Triangles of all that was parted and all that was not, each with the one that it comes from; and the edges in which patches end. */
interface Parts {
  readonly triangles: Uint32Array;
  readonly from: Uint32Array;
  readonly tags: Uint32Array;
  readonly lines: readonly (readonly [number, number])[];
}

function partedTriangles(tangle: Tangle): Parts | null {
  const { triangles: t, tags } = tangle.mesh;
  const out: number[] = [];
  const from: number[] = [];
  const lines: [number, number][] = [];
  const touched = new Set(tangle.meetings.keys());
  for (let i = 0; i < tags.length; i++) {
    const corners = [t[i * 3], t[i * 3 + 1], t[i * 3 + 2]];
    const sides = [0, 1, 2].map((k) => [corners[k], ...tangle.along(corners[k], corners[(k + 1) % 3])]);
    if (!touched.has(i) && sides.every((s) => s.length === 1)) {
      out.push(...corners);
      from.push(i);
      continue;
    }
    const made = parted(tangle, i, sides, lines);
    if (!made) return null;
    out.push(...made);
    for (let k = 0; k < made.length; k += 3) from.push(i);
  }
  return {
    triangles: Uint32Array.from(out),
    from: Uint32Array.from(from),
    tags: Uint32Array.from(from, (i) => tags[i]),
    lines,
  };
}

/** One triangle parted along the lines in which others meet it; `sides`: its corners, each with the vertices on the edge after it. */
function parted(tangle: Tangle, i: number, sides: readonly number[][], lines: [number, number][]): number[] | null {
  const n = normalize(triangleCross(tangle.mesh.positions, tangle.mesh.triangles, i));
  const axis = [0, 1, 2].reduce((a, b) => (Math.abs(n[b]) > Math.abs(n[a]) ? b : a));
  const [u, v] = n[axis] > 0 ? [(axis + 1) % 3, (axis + 2) % 3] : [(axis + 2) % 3, (axis + 1) % 3];
  const flat: Flat = (p) => [p[u], p[v]];
  const rim = sides.flat();
  const vertices = [...rim];
  const number = new Map(rim.map((x, k) => [x, k]));
  const add = (x: number): number => {
    let k = number.get(x);
    if (k === undefined) {
      k = vertices.push(x) - 1;
      number.set(x, k);
    }
    return k;
  };
  const edges: [number, number][] = rim.map((_, k) => [k, (k + 1) % rim.length]);
  const meetings = tangle.meetings.get(i) ?? [];
  for (const [m, { other, ends }] of meetings.entries()) {
    const on = [...ends];
    for (const [k, { other: third, ends: across }] of meetings.entries()) {
      if (k === m || !(tangle.meetings.get(other) ?? []).some((x) => x.other === third)) continue;
      const x = tangle.triple(i, ends, other, across, third, flat);
      if (x !== null) on.push(x);
    }
    const [p, q] = [tangle.at(ends[0]), tangle.at(ends[1])];
    const way = (x: number): number => tangle.at(x).reduce((sum, y, a) => sum + (y - p[a]) * (q[a] - p[a]), 0);
    const order = [...new Set(on)].sort((a, b) => way(a) - way(b));
    for (let k = 0; k + 1 < order.length; k++) {
      edges.push([add(order[k]), add(order[k + 1])]);
      lines.push([order[k], order[k + 1]]);
    }
  }
  const found = constrainedTriangles(Float64Array.from(vertices.flatMap((x) => flat(tangle.at(x)))), edges);
  if (!found) return null;
  const cells = found.triangles;
  // what lies between an edge and the vertices on it, by rounding, is no part of the triangle
  const ofSide = sides.map((s, k) => new Set([...s, sides[(k + 1) % 3][0]]));
  const out: number[] = [];
  for (let i = 0; i < cells.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => vertices[cells[i + k]]);
    if (ofSide.some((s) => s.has(a) && s.has(b) && s.has(c))) continue;
    const area = turn(flat(tangle.at(a)), flat(tangle.at(b)), flat(tangle.at(c)));
    if (area > 0) out.push(a, c, b);
    else out.push(a, b, c);
  }
  return out;
}

/** Of each part whether it stays: patches between lines stay whole, where the winding number is 0 before them and 1 behind. */
function keptPatches(mesh: IndexedMesh, tangle: Tangle, { triangles: t, from, lines }: Parts): Uint8Array {
  const count = from.length;
  const parent = Uint32Array.from({ length: count }, (_, i) => i);
  const byEdge = new Map<number, number>();
  const vertices = tangle.positions.length / 3;
  const edgeOf = (a: number, b: number): number => (a < b ? a * vertices + b : b * vertices + a);
  const ends = new Set(lines.map(([a, b]) => edgeOf(a, b)));
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < 3; k++) {
      const key = edgeOf(t[i * 3 + k], t[i * 3 + ((k + 1) % 3)]);
      const other = byEdge.get(key);
      if (other === undefined) byEdge.set(key, i);
      else if (!ends.has(key)) unite(parent, other, i);
    }
  }
  // each patch is judged by its largest triangle
  const largest = new Map<number, { triangle: number; area: number }>();
  for (let i = 0; i < count; i++) {
    const [a, b, c] = [0, 1, 2].map((k) => tangle.at(t[i * 3 + k]));
    const area = Math.hypot(...cross(sub(b, a), sub(c, a)));
    const root = find(parent, i);
    if (area > (largest.get(root)?.area ?? -1)) largest.set(root, { triangle: i, area });
  }
  const blocks = buildBlocks(mesh);
  const keeps = new Map<number, boolean>();
  for (const [root, { triangle }] of largest) {
    const [a, b, c] = [0, 1, 2].map((k) => tangle.at(t[triangle * 3 + k]));
    const middle = vecOf((k) => (a[k] + b[k] + c[k]) / 3);
    const n = normalize(triangleCross(mesh.positions, mesh.triangles, from[triangle]));
    const votes = SKEWS.map((s) =>
      windingAhead(
        blocks,
        middle,
        vecOf((k) => n[k] + s[k]),
        from[triangle],
      ),
    );
    votes.sort((x, y) => x - y);
    keeps.set(root, votes[1] === 0);
  }
  return Uint8Array.from({ length: count }, (_, i) => (keeps.get(find(parent, i)) ? 1 : 0));
}

/** A ray could run along an edge: three that go each a little another way outvote it. */
const SKEWS: readonly Vec3[] = [
  [0.1021, 0.0337, -0.0519],
  [-0.0713, 0.0911, 0.0227],
  [0.0139, -0.0621, 0.0877],
];

function compact(positions: Float64Array, { triangles: t, tags }: Parts, kept: Uint8Array): IndexedMesh {
  const { of, order } = renumbering(positions.length / 3);
  const triangles: number[] = [];
  const left: number[] = [];
  for (let i = 0; i < tags.length; i++) {
    if (!kept[i]) continue;
    for (let k = 0; k < 3; k++) triangles.push(of(t[i * 3 + k]));
    left.push(tags[i]);
  }
  const out = new Float64Array(order.length * 3);
  order.forEach((v, i) => {
    out.set(vertexAt(positions, v), i * 3);
  });
  return { positions: out, triangles: Uint32Array.from(triangles), tags: Uint32Array.from(left) };
}

import { type IndexedMesh, type Topology, topology, unfolded, weldExact } from '../mesh/index.ts';

/** A mesh as a file will hold it: coordinates rounded to float32, welded, collapsed triangles dropped. */
export interface Printable {
  readonly mesh: IndexedMesh;
  /** the topology of what is written, checked after rounding */
  readonly topology: Topology;
}

/**
 * Rounds a mesh to float32 as file formats keep it, welds what coincides then, and drops what collapsed: triangles with
 * two equal corners, and pairs of triangles on the same three corners that face each other. What comes out is checked.
 *
 * Two vertices that were apart can round onto one point where a solid is thinner than float32 can tell; where that leaves a
 * faulty edge, each but the first goes to the point of float32 nearest to where it was that is free, so that the file stays closed for
 * strict readers.
 */
export function toPrintable(mesh: IndexedMesh): Printable {
  const moved = Float32Array.from(mesh.positions);
  let result = weldAndDrop(mesh, moved);
  for (let round = 0; round < ROUNDS && !result.topology.watertight; round++) {
    if (!separate(mesh, moved, result)) break;
    result = weldAndDrop(mesh, moved);
  }
  return { mesh: result.mesh, topology: result.topology };
}

/** What is moved apart lets triangles be seen that had collapsed, whose other corners may lie together in turn. */
const ROUNDS = 8;

interface Welded extends Printable {
  /** the written vertex of each vertex of the mesh */
  readonly vertexOf: Uint32Array;
}

function weldAndDrop(mesh: IndexedMesh, rounded: Float32Array): Welded {
  const weld = weldExact(rounded);
  const { triangles: t, tags } = mesh;
  const kept = new Uint32Array(t.length);
  const keptTags = new Uint32Array(tags.length);
  let n = 0;
  for (let i = 0; i < t.length; i += 3) {
    const a = weld.corners[t[i]];
    const b = weld.corners[t[i + 1]];
    const c = weld.corners[t[i + 2]];
    if (a === b || b === c || c === a) continue;
    kept[n * 3] = a;
    kept[n * 3 + 1] = b;
    kept[n * 3 + 2] = c;
    keptTags[n++] = tags[i / 3];
  }
  let out: IndexedMesh = {
    positions: weld.positions,
    triangles: kept.slice(0, n * 3),
    tags: keptTags.slice(0, n),
  };
  let found = topology(out);
  if (!found.watertight) {
    const rest = unfolded(out);
    out = {
      positions: weld.positions,
      triangles: Uint32Array.from(rest.flatMap((i) => [...out.triangles.subarray(i * 3, i * 3 + 3)])),
      tags: Uint32Array.from(rest, (i) => out.tags[i]),
    };
    found = topology(out);
  }
  return { mesh: out, topology: found, vertexOf: weld.corners };
}

/** Steps of float32 along the axes to the points around one, itself among them. */
const AROUND = [-2, -1, 0, 1, 2].flatMap((x) =>
  [-2, -1, 0, 1, 2].flatMap((y) => [-2, -1, 0, 1, 2].map((z) => [x, y, z] as const)),
);

/**
 * Moves vertices that lie on another one at a faulty edge to the nearest free place, all but the first of each place. False when
 * none was moved.
 */
function separate(mesh: IndexedMesh, moved: Float32Array, result: Welded): boolean {
  const faulty = faultyVertices(result.mesh);
  const keyOf = (p: ArrayLike<number>): string => `${p[0]},${p[1]},${p[2]}`;
  const taken = new Set<string>();
  for (let v = 0; v < moved.length; v += 3) taken.add(keyOf(moved.subarray(v, v + 3)));
  const first = new Set<number>();
  let apart = false;
  for (let v = 0; v < result.vertexOf.length; v++) {
    const w = result.vertexOf[v];
    if (!faulty.has(w)) continue;
    if (!first.has(w)) {
      first.add(w);
      continue;
    }
    const at = moved.slice(v * 3, v * 3 + 3);
    const [x, y, z] = mesh.positions.subarray(v * 3, v * 3 + 3);
    let nearest: Float32Array | null = null;
    let least = Infinity;
    for (const steps of AROUND) {
      const place = at.map((from, axis) => stepped(from, steps[axis]));
      const far = Math.hypot(place[0] - x, place[1] - y, place[2] - z);
      if (far >= least || taken.has(keyOf(place))) continue;
      [nearest, least] = [place, far];
    }
    if (!nearest) continue;
    taken.add(keyOf(nearest));
    moved.set(nearest, v * 3);
    apart = true;
  }
  return apart;
}

function faultyVertices(mesh: IndexedMesh): Set<number> {
  const uses = new Map<string, number>();
  const { triangles: t } = mesh;
  for (let i = 0; i < t.length; i += 3) {
    for (let e = 0; e < 3; e++) {
      const key = `${t[i + e]},${t[i + ((e + 1) % 3)]}`;
      uses.set(key, (uses.get(key) ?? 0) + 1);
    }
  }
  const out = new Set<number>();
  for (const [key, n] of uses) {
    const [a, b] = key.split(',').map(Number);
    if (n !== 1 || uses.get(`${b},${a}`) !== 1) {
      out.add(a);
      out.add(b);
    }
  }
  return out;
}

/** The float32 so many steps from `x`; near nought the steps are those at 1, for some readers take smaller numbers for nought. */
function stepped(x: number, steps: number): number {
  const size = Math.max(Math.abs(x), 1);
  const step = 2 ** (Math.floor(Math.log2(size)) - 23);
  return Math.fround(x + steps * step);
}

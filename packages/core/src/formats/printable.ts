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
 * Two vertices that were apart can round onto one point where a solid is thinner than float32 can tell; such a vertex is
 * moved by one step of float32, so that the file stays closed for strict readers.
 */
export function toPrintable(mesh: IndexedMesh): Printable {
  const rounded = Float32Array.from(mesh.positions);
  const moved = rounded.slice();
  const tries = new Map<number, number>();
  let result = weldAndDrop(mesh, moved);
  for (let attempt = 0; attempt < WAYS && !result.topology.watertight; attempt++) {
    separate(mesh, rounded, moved, tries, result);
    result = weldAndDrop(mesh, moved);
  }
  return { mesh: result.mesh, topology: result.topology };
}

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

/** How many ways there are to move a vertex by one step: three axes, towards where it was and away from there. */
const WAYS = 6;

/**
 * Moves vertices that fell onto another one at a faulty edge by one float32 step from where they were rounded to. The first try
 * goes along the axis in which most was rounded off; where another vertex already is, the next try goes another way.
 */
function separate(
  mesh: IndexedMesh,
  rounded: Float32Array,
  moved: Float32Array,
  tries: Map<number, number>,
  result: Welded,
): void {
  const faulty = faultyVertices(result.mesh);
  const together = new Map<number, number>();
  for (let v = 0; v < result.vertexOf.length; v++) {
    const w = result.vertexOf[v];
    if (!faulty.has(w)) continue;
    // the first of several stays, each of the others goes a way of its own
    const rank = together.get(w) ?? 0;
    together.set(w, rank + 1);
    if (rank === 0) continue;
    const tried = tries.get(v) ?? 0;
    tries.set(v, tried + 1);
    const n = (tried + rank - 1) % WAYS;
    const off = (axis: number): number => mesh.positions[v * 3 + axis] - rounded[v * 3 + axis];
    const axis = [0, 1, 2].sort((a, b) => Math.abs(off(b)) - Math.abs(off(a)))[n % 3];
    for (let a = 0; a < 3; a++) moved[v * 3 + a] = rounded[v * 3 + a];
    moved[v * 3 + axis] = nextFloat32(rounded[v * 3 + axis], off(axis) >= 0 === n < 3);
  }
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

function nextFloat32(x: number, up: boolean): number {
  const f = new Float32Array([x]);
  const i = new Int32Array(f.buffer);
  if (x === 0) return up ? 1e-45 : -1e-45;
  i[0] += x > 0 === up ? 1 : -1;
  return f[0];
}

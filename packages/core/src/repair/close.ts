import {
  boxOf,
  type HalfEdges,
  halfEdges,
  type IndexedMesh,
  nextHalf,
  sizeOf,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';
import { fairPatch, type Patch, refinePatch } from './fair.ts';
import { type Hole, holesOf } from './holes.ts';
import { triangulateRim } from './patch.ts';

export interface CloseOptions {
  /**
   * flat: on the rim's own points; curved: goes on as the surface round it does; auto: flat over wide rims in one plane,
   * which are a foot or a cut, curved elsewhere
   */
  readonly patch: 'flat' | 'curved' | 'auto';
  /** also holes that are plainly meant to be open */
  readonly openings: boolean;
  /** only holes with a perimeter up to this, mm */
  readonly most: number;
}

export interface Closed {
  readonly mesh: IndexedMesh;
  readonly closed: number;
  /** openings that were left */
  readonly openings: number;
  /** holes for which no patch was found, or whose rim does not close */
  readonly failed: number;
}

/**
 * Closes the holes of a surface whose triangles agree about what is outside.
 *
 *   \  rim  /         \_____/
 *    |     |    ->     |   |       the patch shares the rim's vertices and faces the way its neighbours do
 */
export function closeHoles(mesh: IndexedMesh, options: CloseOptions, half: HalfEdges = halfEdges(mesh)): Closed {
  if (half.openCount === 0) return { mesh, closed: 0, openings: 0, failed: 0 };
  const size = Math.hypot(...sizeOf(boxOf(mesh.positions)));
  const { holes, loose } = holesOf(mesh, half, size);
  const wanted = holes.filter((h) => (options.openings || !h.opening) && h.perimeter <= options.most);
  const surface = new Surface(mesh, wanted);
  const extra: number[] = [];
  const triangles: number[] = [];
  const tags: number[] = [];
  let failed = loose > 0 ? 1 : 0;
  let closed = 0;
  for (const hole of wanted) {
    const patch = patchOver(surface, hole, options.patch, size);
    if (!patch) {
      failed++;
      continue;
    }
    closed++;
    const base = mesh.positions.length / 3 + extra.length / 3;
    for (let k = patch.fixed * 3; k < patch.points.length; k++) extra.push(patch.points[k]);
    const tag = mesh.tags[Math.floor(hole.rim[0] / 3)];
    const vertices = surface.rimVertices(hole);
    for (const v of patch.triangles) triangles.push(v < patch.fixed ? vertices[v] : base + v - patch.fixed);
    for (let k = 0; k < patch.triangles.length; k += 3) tags.push(tag);
    surface.addEdges(patch.triangles, patch.fixed, vertices);
  }
  const positions = new Float64Array(mesh.positions.length + extra.length);
  positions.set(mesh.positions);
  positions.set(extra, mesh.positions.length);
  const out = new Uint32Array(mesh.triangles.length + triangles.length);
  out.set(mesh.triangles);
  out.set(triangles, mesh.triangles.length);
  const outTags = new Uint32Array(out.length / 3);
  outTags.set(mesh.tags);
  outTags.set(tags, mesh.tags.length);
  return {
    mesh: closed > 0 ? { positions, triangles: out, tags: outTags } : mesh,
    closed,
    openings: holes.length - wanted.length,
    failed,
  };
}

function patchOver(surface: Surface, hole: Hole, kind: CloseOptions['patch'], size: number): Patch | null {
  const vertices = surface.rimVertices(hole);
  const n = vertices.length;
  const rim = vertices.map((v) => surface.at(v));
  const even = hole.unevenness <= Math.max(1e-9 * size, hole.radius * 0.01);
  const flat = kind === 'flat' || (kind === 'auto' && even && hole.radius * 2 > 0.25 * size);
  const found = triangulateRim(rim, (i, j) => surface.joined(vertices[i], vertices[j]), surface.outside(hole), even);
  const patch: Patch = { points: rim.flat(), triangles: found?.flat() ?? [], fixed: n };
  if (!found) {
    // every edge of a fan round a new point is new
    const middle = vecOf((k) => rim.reduce((s, p) => s + p[k], 0) / n);
    patch.points.push(...middle);
    for (let i = 0; i < n; i++) patch.triangles.push(i, (i + 1) % n, n);
  }
  if (new Set(vertices).size < n) {
    return found && new Set(found.flat().map((i) => vertices[i])).size >= 3 && noRepeats(found, vertices)
      ? patch
      : null;
  }
  if (!flat && n > 5 && n < 6000) {
    refinePatch(
      patch,
      vertices.map((v) => surface.edgeLength(v)),
    );
    fairPatch(
      patch,
      vertices.map((v) => surface.around(v, vertices)),
    );
  }
  return patch;
}

const noRepeats = (found: readonly (readonly number[])[], vertices: readonly number[]): boolean =>
  found.every((t) => new Set(t.map((i) => vertices[i])).size === 3);

/** The surface round the rims: which vertices are joined there. */
class Surface {
  private readonly neighbours = new Map<number, Set<number>>();

  constructor(
    private readonly mesh: IndexedMesh,
    holes: readonly Hole[],
  ) {
    const { triangles: t } = mesh;
    for (const { rim } of holes) for (const h of rim) this.neighbours.set(t[h], new Set());
    if (holes.length === 0) return;
    for (let h = 0; h < t.length; h++) {
      const a = t[h];
      const b = t[nextHalf(h)];
      this.neighbours.get(a)?.add(b);
      this.neighbours.get(b)?.add(a);
    }
  }

  at(v: number): Vec3 {
    const { positions: p } = this.mesh;
    return [p[v * 3], p[v * 3 + 1], p[v * 3 + 2]];
  }

  /** The rim's vertices, turned so that a patch on them faces as the surface does. */
  rimVertices({ rim }: Hole): number[] {
    return [...rim].map((h) => this.mesh.triangles[h]).reverse();
  }

  /** For each edge of the turned rim, from point i to i + 1, the corner of the triangle beyond. */
  outside({ rim }: Hole): Vec3[] {
    const { triangles: t } = this.mesh;
    const n = rim.length;
    return Array.from({ length: n }, (_, i) => this.at(t[nextHalf(nextHalf(rim[(2 * n - 2 - i) % n]))]));
  }

  joined(a: number, b: number): boolean {
    return a === b || (this.neighbours.get(a)?.has(b) ?? false);
  }

  /** Edges that a patch adds count for the next one. */
  addEdges(triangles: readonly number[], fixed: number, vertices: readonly number[]): void {
    for (let h = 0; h < triangles.length; h++) {
      const a = triangles[h];
      const b = triangles[nextHalf(h)];
      if (a >= fixed || b >= fixed) continue;
      this.neighbours.get(vertices[a])?.add(vertices[b]);
      this.neighbours.get(vertices[b])?.add(vertices[a]);
    }
  }

  /** The mean length of the edges at a vertex, mm. */
  edgeLength(v: number): number {
    const set = this.neighbours.get(v);
    if (!set || set.size === 0) return 0;
    const o = this.at(v);
    let sum = 0;
    for (const w of set) {
      const p = this.at(w);
      sum += Math.hypot(p[0] - o[0], p[1] - o[1], p[2] - o[2]);
    }
    return sum / set.size;
  }

  /** Positions of the neighbours of a rim vertex that are not on the rim. */
  around(v: number, rim: readonly number[]): number[] {
    const own = rimSet(rim);
    return [...(this.neighbours.get(v) ?? [])].filter((w) => !own.has(w)).flatMap((w) => [...this.at(w)]);
  }
}

const sets = new WeakMap<readonly number[], Set<number>>();

function rimSet(rim: readonly number[]): Set<number> {
  let set = sets.get(rim);
  if (!set) {
    set = new Set(rim);
    sets.set(rim, set);
  }
  return set;
}

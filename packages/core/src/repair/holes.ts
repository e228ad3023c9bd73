import { type HalfEdges, type IndexedMesh, nextHalf, OPEN, type Vec3 } from '../mesh/index.ts';

/** A closed rim at which a surface ends. */
export interface Hole {
  /** half-edges of the surface along the rim, each beginning where the one before ends */
  readonly rim: Uint32Array;
  /** mm */
  readonly perimeter: number;
  readonly centre: Vec3;
  /** half the diagonal of the rim's box, mm */
  readonly radius: number;
  /** how far the rim leaves the plane that fits it best, mm */
  readonly unevenness: number;
  /** plainly meant to be open: the wide rim of a skin, or an opening in one */
  readonly opening: boolean;
}

/**
 * Walks the open edges of a surface into closed rims, round each vertex through the triangles that are still joined there,
 * so that two rims that touch in a vertex stay apart. Chains that do not close (where more than two triangles meet) are
 * left out; `loose` counts their edges.
 */
function rimsOf(mesh: IndexedMesh, half: HalfEdges): { rims: Uint32Array[]; loose: number } {
  const { twin } = half;
  const { triangles: t } = mesh;
  const done = new Uint8Array(t.length);
  const rims: Uint32Array[] = [];
  let loose = 0;
  for (let start = 0; start < t.length; start++) {
    if (twin[start] !== OPEN || done[start]) continue;
    const rim: number[] = [];
    let h = start;
    let closed = false;
    while (!done[h]) {
      done[h] = 1;
      rim.push(h);
      const g = followingRim(t, twin, h);
      if (g < 0) break;
      h = g;
      if (h === start) {
        closed = true;
        break;
      }
    }
    if (closed) rims.push(Uint32Array.from(rim));
    else loose += rim.length;
  }
  return { rims, loose };
}

/** The open half-edge that leaves the end of `h`, through the triangles round that vertex; −1: there is none. */
function followingRim(t: Uint32Array, twin: Int32Array, h: number): number {
  let g = nextHalf(h);
  for (let guard = 0; guard < 4096; guard++) {
    const across = twin[g];
    if (across === OPEN) return g;
    if (across < 0 || t[across] === t[g]) return -1;
    g = nextHalf(across);
  }
  return -1;
}

/** Measures the rims of a surface whose box has the diagonal `size`. */
export function holesOf(mesh: IndexedMesh, half: HalfEdges, size: number): { holes: Hole[]; loose: number } {
  const { rims, loose } = rimsOf(mesh, half);
  const measured = rims.map((rim) => measureRim(mesh, rim));
  // a wide uneven rim is the border of a skin; then its other round openings are meant too
  const border = (m: Omit<Hole, 'opening'>): boolean =>
    m.rim.length >= 24 && m.radius * 2 > 0.4 * size && m.unevenness > 0.01 * size;
  const skin = measured.some(border);
  const holes = measured.map((m) => ({
    ...m,
    opening: border(m) || (skin && m.perimeter > 0.12 * size && m.rim.length >= 12),
  }));
  return { holes: holes.sort((a, b) => b.perimeter - a.perimeter), loose };
}

function measureRim({ positions: p, triangles: t }: IndexedMesh, rim: Uint32Array): Omit<Hole, 'opening'> {
  const at = (h: number): Vec3 => [p[t[h] * 3], p[t[h] * 3 + 1], p[t[h] * 3 + 2]];
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  let perimeter = 0;
  const normal = [0, 0, 0];
  const middle: [number, number, number] = [0, 0, 0];
  const o = at(rim[0]);
  rim.forEach((h, i) => {
    const a = at(h);
    const b = at(rim[(i + 1) % rim.length]);
    perimeter += Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
    for (let k = 0; k < 3; k++) {
      min[k] = Math.min(min[k], a[k]);
      max[k] = Math.max(max[k], a[k]);
      middle[k] += a[k] / rim.length;
      const [u, v] = [(k + 1) % 3, (k + 2) % 3];
      normal[k] += (a[u] - o[u]) * (b[v] - o[v]) - (a[v] - o[v]) * (b[u] - o[u]);
    }
  });
  const length = Math.hypot(...normal) || 1;
  let low = Infinity;
  let high = -Infinity;
  for (const h of rim) {
    const a = at(h);
    const d =
      ((a[0] - middle[0]) * normal[0] + (a[1] - middle[1]) * normal[1] + (a[2] - middle[2]) * normal[2]) / length;
    low = Math.min(low, d);
    high = Math.max(high, d);
  }
  return {
    rim,
    perimeter,
    centre: middle,
    radius: Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]) / 2,
    unevenness: high - low,
  };
}

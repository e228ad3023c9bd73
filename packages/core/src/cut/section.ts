import { BLOCK, type Blocks, type IndexedMesh, type Loop2, loopArea } from '../mesh/index.ts';
import { cellOf } from './cell.ts';
import { Crossings } from './crossings.ts';
import { effectivePlane, windowOf } from './effective.ts';
import { atOffset, type Frame } from './frame.ts';
import { extent } from './split.ts';

/** A model's cross-section: closed loops in the frame's (u, v), solid on their left, and the area they enclose. */
export interface Section {
  readonly loops: readonly Loop2[];
  /** mm² */
  readonly area: number;
}

/**
 * The cross-section of a closed mesh in a plane. With an index only the blocks that the plane meets are looked at.
 * On an open mesh the loops that do not close are left out.
 */
export function sectionAt(mesh: IndexedMesh, frame: Frame, blocks?: Blocks): Section {
  const { size, reach } = extent(mesh.positions);
  const window = windowOf(size, reach);
  const met = crossedTriangles(mesh, frame, window, blocks);
  const offset = frame.offset + shiftOff(mesh, frame, window, met.near);
  const loops =
    offset === frame.offset ? loopsOf(mesh, frame, met.crossed) : sectionLoops(mesh, atOffset(frame, offset), blocks);
  return { loops, area: loops.reduce((sum, l) => sum + loopArea(l), 0) };
}

/** How far a plane is moved so that no vertex lies on it; one or two vertices need no look at what else touches it. */
function shiftOff(mesh: IndexedMesh, frame: Frame, window: number, near: ReadonlySet<number>): number {
  if (near.size === 0) return 0;
  if (near.size > 2) return effectivePlane(frame, [cellOf(mesh)], window).offset - frame.offset;
  const stops = [-window, ...near, window].sort((a, b) => a - b);
  let best = 0;
  for (let i = 1; i + 1 < stops.length; i++) if (stops[i + 1] - stops[i] > stops[best + 1] - stops[best]) best = i;
  return (stops[best] + stops[best + 1]) / 2;
}

/** Loops of the section in a plane on which no vertex lies. */
export const sectionLoops = (mesh: IndexedMesh, plane: Frame, blocks?: Blocks): Loop2[] =>
  loopsOf(mesh, plane, crossedTriangles(mesh, plane, 0, blocks).crossed);

/** The triangles that a plane crosses, and the distances of the vertices of those looked at that lie within `window` of it. */
export function crossedTriangles(
  { positions: p, triangles: t }: IndexedMesh,
  plane: Frame,
  window: number,
  blocks?: Blocks,
) {
  const [nx, ny, nz] = plane.normal;
  const off = plane.offset;
  const crossed: number[] = [];
  const near = new Set<number>();
  const look = (i: number): void => {
    const a = t[i * 3] * 3;
    const b = t[i * 3 + 1] * 3;
    const c = t[i * 3 + 2] * 3;
    const da = nx * p[a] + ny * p[a + 1] + nz * p[a + 2] - off;
    const db = nx * p[b] + ny * p[b + 1] + nz * p[b + 2] - off;
    const dc = nx * p[c] + ny * p[c + 1] + nz * p[c + 2] - off;
    const up = da > 0;
    if (up !== db > 0 || up !== dc > 0) crossed.push(i);
    if (da <= window && da >= -window) near.add(da);
    if (db <= window && db >= -window) near.add(db);
    if (dc <= window && dc >= -window) near.add(dc);
  };
  if (!blocks) {
    for (let i = 0; i < t.length / 3; i++) look(i);
    return { crossed, near };
  }
  const { boxes, order } = blocks;
  for (let b = 0, k = 0; k < boxes.length; b++, k += 6) {
    const low =
      nx * boxes[nx > 0 ? k : k + 3] + ny * boxes[ny > 0 ? k + 1 : k + 4] + nz * boxes[nz > 0 ? k + 2 : k + 5];
    const high =
      nx * boxes[nx > 0 ? k + 3 : k] + ny * boxes[ny > 0 ? k + 4 : k + 1] + nz * boxes[nz > 0 ? k + 5 : k + 2];
    if (low > off + window || high < off - window) continue;
    const end = Math.min(order.length, (b + 1) * BLOCK);
    for (let i = b * BLOCK; i < end; i++) look(order[i]);
  }
  return { crossed, near };
}

/** Chains crossed triangles into closed loops, solid on their left; on an open mesh those that do not close are left out. */
function loopsOf({ positions: p, triangles: t }: IndexedMesh, plane: Frame, crossed: readonly number[]): Loop2[] {
  const { normal, offset, origin, u, v } = plane;
  const above = (k: number): boolean => normal[0] * p[k] + normal[1] * p[k + 1] + normal[2] * p[k + 2] - offset > 0;
  const crossings = new Crossings(p, { seam: '', normal, offset, window: 0 }, crossed.length + 64);
  const next = new Int32Array(crossed.length * 2 + 64).fill(-1);
  for (const i of crossed) {
    let a = t[i * 3];
    let b = t[i * 3 + 1];
    let c = t[i * 3 + 2];
    const ua = above(a * 3);
    const ub = above(b * 3);
    if (ua === above(c * 3)) [a, b, c] = [b, c, a];
    else if (ua === ub) [a, b, c] = [c, a, b];
    if (above(a * 3)) next[crossings.at(b, a)] = crossings.at(c, a);
    else next[crossings.at(a, c)] = crossings.at(a, b);
  }
  const q = crossings.positions;
  const seen = new Uint8Array(crossings.count);
  const loops: Loop2[] = [];
  for (let start = 0; start < crossings.count; start++) {
    if (seen[start]) continue;
    const flat: number[] = [];
    let x = start;
    while (x >= 0 && !seen[x]) {
      seen[x] = 1;
      const [dx, dy, dz] = [q[x * 3] - origin[0], q[x * 3 + 1] - origin[1], q[x * 3 + 2] - origin[2]];
      flat.push(dx * u[0] + dy * u[1] + dz * u[2], dx * v[0] + dy * v[1] + dz * v[2]);
      x = next[x];
    }
    if (x === start && flat.length > 4) loops.push(Float64Array.from(flat));
  }
  return loops;
}

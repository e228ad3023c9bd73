import { BLOCK, type Blocks, type IndexedMesh } from '../mesh/index.ts';
import { cellOf } from './cell.ts';
import { effectivePlane, windowOf } from './effective.ts';
import { atOffset, type Frame } from './frame.ts';
import { type Loop2, loopArea } from './polygon.ts';
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
  const plane = atOffset(frame, effectivePlane(frame, [cellOf(mesh)], windowOf(size, reach)).offset);
  const loops = sectionLoops(mesh, plane, blocks);
  return { loops, area: loops.reduce((sum, l) => sum + loopArea(l), 0) };
}

/** Loops of the section in a plane on which no vertex lies. */
export function sectionLoops(mesh: IndexedMesh, plane: Frame, blocks?: Blocks): Loop2[] {
  const { positions: p, triangles: t } = mesh;
  const [nx, ny, nz] = plane.normal;
  const off = plane.offset;
  const next = new Map<number, number>();
  const points = new Map<number, [number, number]>();
  const vertices = p.length / 3;
  const d = (k: number): number => nx * p[k] + ny * p[k + 1] + nz * p[k + 2] - off;
  const crossing = (below: number, above: number): number => {
    const key = below * vertices + above;
    if (!points.has(key)) {
      const b = below * 3;
      const a = above * 3;
      const s = d(b) / (d(b) - d(a));
      const x = p[b] + s * (p[a] - p[b]) - plane.origin[0];
      const y = p[b + 1] + s * (p[a + 1] - p[b + 1]) - plane.origin[1];
      const z = p[b + 2] + s * (p[a + 2] - p[b + 2]) - plane.origin[2];
      points.set(key, [
        x * plane.u[0] + y * plane.u[1] + z * plane.u[2],
        x * plane.v[0] + y * plane.v[1] + z * plane.v[2],
      ]);
    }
    return key;
  };
  const visit = (i: number): void => {
    let a = t[i * 3];
    let b = t[i * 3 + 1];
    let c = t[i * 3 + 2];
    const sa = d(a * 3) > 0;
    const sb = d(b * 3) > 0;
    const sc = d(c * 3) > 0;
    if (sa === sb && sb === sc) return;
    if (sa === sc) [a, b, c] = [b, c, a];
    else if (sa === sb) [a, b, c] = [c, a, b];
    if (d(a * 3) > 0) next.set(crossing(b, a), crossing(c, a));
    else next.set(crossing(a, c), crossing(a, b));
  };
  if (blocks) {
    const { boxes, order } = blocks;
    for (let b = 0; b * 6 < boxes.length; b++) {
      const k = b * 6;
      const low =
        nx * boxes[nx > 0 ? k : k + 3] + ny * boxes[ny > 0 ? k + 1 : k + 4] + nz * boxes[nz > 0 ? k + 2 : k + 5];
      const high =
        nx * boxes[nx > 0 ? k + 3 : k] + ny * boxes[ny > 0 ? k + 4 : k + 1] + nz * boxes[nz > 0 ? k + 5 : k + 2];
      if (low > off || high < off) continue;
      const end = Math.min(order.length, (b + 1) * BLOCK);
      for (let i = b * BLOCK; i < end; i++) visit(order[i]);
    }
  } else for (let i = 0; i < t.length / 3; i++) visit(i);

  const loops: Loop2[] = [];
  const seen = new Set<number>();
  for (const start of next.keys()) {
    const flat: number[] = [];
    let x: number | undefined = start;
    while (x !== undefined && !seen.has(x)) {
      seen.add(x);
      flat.push(...points.get(x)!);
      x = next.get(x);
    }
    if (x === start && flat.length > 4) loops.push(Float64Array.from(flat));
  }
  return loops;
}

/** Cross-section area (mm²) at evenly spaced stations along a direction. */
export interface Profile {
  /** normal · x of each station, ascending */
  readonly at: Float64Array;
  readonly area: Float64Array;
  /** number of closed loops at each station */
  readonly loops: Uint16Array;
  /** extreme normal · x of the mesh */
  readonly from: number;
  readonly to: number;
}

/** Cross-sections at `count` stations along a frame's normal, over the whole length of the mesh. */
export function sectionProfile(mesh: IndexedMesh, frame: Frame, count: number, blocks: Blocks): Profile {
  const { positions: p } = mesh;
  const [nx, ny, nz] = frame.normal;
  let from = Infinity;
  let to = -Infinity;
  for (let k = 0; k < p.length; k += 3) {
    const d = nx * p[k] + ny * p[k + 1] + nz * p[k + 2];
    if (d < from) from = d;
    if (d > to) to = d;
  }
  const at = new Float64Array(count);
  const area = new Float64Array(count);
  const loops = new Uint16Array(count);
  for (let i = 0; i < count; i++) {
    // an irrational share keeps stations off the round heights at which vertices lie in rows
    at[i] = from + ((to - from) * (i + 0.5 + 0.0137 * Math.SQRT2)) / (count + 0.04);
    const found = sectionLoops(mesh, atOffset(frame, at[i]), blocks);
    area[i] = found.reduce((sum, l) => sum + loopArea(l), 0);
    loops[i] = found.length;
  }
  return { at, area, loops, from, to };
}

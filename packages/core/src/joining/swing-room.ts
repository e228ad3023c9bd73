import { type Frame, fromFrame, type Loop2 } from '../cut/index.ts';
import { movedLoop, type Prism, regular, type SwingRoom } from '../joints/index.ts';
import type { IndexedMesh } from '../mesh/index.ts';
import type { MatingFace } from '../seams/index.ts';

/** It is taken off from so far before the face, and so far beyond the face's farthest place, mm. */
const OVER = 0.05;
const BEYOND = 2;
const FOOT_CORNERS = 48;
const CORNERS = 48;

/** How far the own piece is taken off, so that it swings: to beyond the farthest place of the face from the joint, mm. */
export function reachOf({ region: { outer2 } }: MatingFace, u: number, v: number): number {
  let far = 0;
  for (let i = 0; i < outer2.length; i += 2) far = Math.max(far, Math.hypot(outer2[i] - u, outer2[i + 1] - v));
  return far + BEYOND;
}

/** A regular outline about a place that touches its circle from outside, its first corner along u. */
const about = (u: number, v: number, radius: number, corners: number): Loop2 =>
  movedLoop(regular(corners, 2 * radius, -Math.PI / corners).at(0), u, v);

/** What is taken off the own piece as one prism, that others keep clear of. `inward`: +1 where the piece lies along the normal. */
export const swingPrism = (
  room: SwingRoom,
  face: MatingFace,
  u: number,
  v: number,
  frame: Frame,
  inward: 1 | -1,
): Prism => {
  const far = reachOf(face, u, v);
  return { frame, outline: about(u, v, far, 24), depth: room.lift + room.slope * far, direction: inward };
};

/**
 * What is taken off the own piece: a ring round the disc that stays, from a little before the face up to the cone.
 *
 *    \_          _/   top: along the cone
 *     | |      | |    walls: at the disc, and at the reach
 *     |_|      |_|    bottom: outside the face
 */
export function swingCutter(
  room: SwingRoom,
  face: MatingFace,
  [u, v]: readonly [number, number],
  frame: Frame,
  inward: 1 | -1,
): IndexedMesh {
  const far = reachOf(face, u, v);
  const rise = (r: number): number => room.lift + room.slope * r;
  const [foot, rim] = [FOOT_CORNERS, CORNERS].map((n, i) => about(u, v, i === 0 ? room.foot : far, n));
  const positions: number[] = [];
  const ring = (loop: Loop2, height: number): number[] => {
    const at = positions.length / 3;
    for (let i = 0; i < loop.length; i += 2) positions.push(...fromFrame(frame, loop[i], loop[i + 1], inward * height));
    return Array.from({ length: loop.length / 2 }, (_, i) => at + i);
  };
  const below = [ring(foot, -OVER), ring(rim, -OVER)];
  const above = [ring(foot, rise(room.foot)), ring(rim, rise(far))];
  const triangles: number[] = [];
  // seen from where the piece lies, counter-clockwise; turned round where that is against the normal
  const add = (a: number, b: number, c: number): void => {
    if (inward > 0) triangles.push(a, b, c);
    else triangles.push(a, c, b);
  };
  const wall = (low: number[], high: number[]): void => {
    const n = low.length;
    for (let i = 0; i < n; i++) {
      const k = (i + 1) % n;
      add(low[i], low[k], high[k]);
      add(low[i], high[k], high[i]);
    }
  };
  wall(below[1], above[1]);
  wall([...below[0]].reverse(), [...above[0]].reverse());
  for (const [[a, b], up] of [
    [below, false],
    [above, true],
  ] as const) {
    for (const [x, y, z] of bandTriangles(a, b)) {
      if (up) add(x, y, z);
      else add(x, z, y);
    }
  }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(triangles.length / 3),
  };
}

/** Triangles between two rings about one middle that start at one angle, the inner first; counter-clockwise. */
function bandTriangles(inner: readonly number[], outer: readonly number[]): [number, number, number][] {
  const out: [number, number, number][] = [];
  const [n, m] = [inner.length, outer.length];
  for (let i = 0, j = 0; i < n || j < m; ) {
    if (j < m && (i >= n || (j + 1) / m <= (i + 1) / n)) out.push([inner[i % n], outer[j % m], outer[++j % m]]);
    else out.push([inner[i % n], outer[j % m], inner[++i % n]]);
  }
  return out;
}

import type { CapLoops, Frame } from '../cut/index.ts';
import type { Seam } from '../document/index.ts';
import { dot, type IndexedMesh, type Loop2, loopArea, pointAlong, sub, vertexAt } from '../mesh/index.ts';
import { aroundLines, grow } from '../outline/index.ts';
import type { Kernel } from '../solid/index.ts';

type Point = readonly [number, number];

/** A channel comes in stretches about so long, with so much of the face left between them, so that the face stays one, mm. */
const STRETCH = 60;
const BRIDGE = 4;
/** It begins so far outside its face, mm. */
const OVER = 0.02;

/**
 * What a glue channel takes out of a cap: stretches along its outline, `inset` mm inside of it, with round ends.
 *
 *    ______________
 *   |  ____  ____  |
 *   | |          | |   |_|  depth
 *   |  ____  ____  |   width
 *   |______________|
 *
 * None where the cap is too narrow. Lengths in mm.
 */
export function glueChannels(
  kernel: Kernel,
  p: Float64Array,
  cap: CapLoops,
  frame: Frame,
  { inset, width, depth }: NonNullable<Seam['channel']>,
): IndexedMesh[] {
  const loops = cap.loops.map((loop): Loop2 => {
    const path = [...loop].map((v) => {
      const from = sub(vertexAt(p, v), frame.origin);
      return [dot(from, frame.u), dot(from, frame.v)];
    });
    // seen from outside, outlines run on the left
    return Float64Array.from((cap.side < 0 ? path : path.reverse()).flat());
  });
  return grow(loops, -(inset + width / 2))
    .filter((middle) => loopArea(middle) > 0)
    .flatMap(stretches)
    .flatMap((line) => aroundLines([line], width / 2))
    .map((outline) => sunk(kernel, outline, frame, cap.side, depth));
}

/** A closed line in stretches that keep apart. */
function stretches(loop: Loop2): Point[][] {
  const n = loop.length / 2;
  const corners = Array.from({ length: n }, (_, i): Point => [loop[2 * i], loop[2 * i + 1]]);
  const ways = [0];
  corners.forEach(([x, y], i) => {
    const [nx, ny] = corners[(i + 1) % n];
    ways.push(ways[i] + Math.hypot(nx - x, ny - y));
  });
  const total = ways[n];
  const count = Math.max(2, Math.round(total / STRETCH));
  if (total / count < 2 * BRIDGE) return [];
  const at = (way: number): Point => {
    const i = Math.max(0, ways.findIndex((w) => w > way) - 1);
    const [a, b] = [corners[i], corners[(i + 1) % n]];
    const s = (way - ways[i]) / (ways[i + 1] - ways[i]);
    return [a[0] + s * (b[0] - a[0]), a[1] + s * (b[1] - a[1])];
  };
  return Array.from({ length: count }, (_, k) => {
    const [from, to] = [(k / count) * total + BRIDGE / 2, ((k + 1) / count) * total - BRIDGE / 2];
    return [at(from), ...corners.filter((_p, i) => ways[i] > from && ways[i] < to), at(to)];
  });
}

/** A prism from a little outside a face into its piece. */
function sunk(
  kernel: Kernel,
  outline: Loop2,
  { origin, u, v, normal }: Frame,
  side: 1 | -1,
  depth: number,
): IndexedMesh {
  const solid = kernel.Manifold.extrude(
    Array.from({ length: outline.length / 2 }, (_, i): [number, number] => [outline[2 * i], outline[2 * i + 1]]),
    depth + OVER,
  );
  const start = pointAlong(origin, normal, side < 0 ? -depth : -OVER);
  const placed = solid.transform([...u, 0, ...v, 0, ...normal, 0, ...start, 1]);
  const { vertProperties, triVerts } = placed.getMesh();
  placed.delete();
  solid.delete();
  return {
    positions: Float64Array.from(vertProperties),
    triangles: Uint32Array.from(triVerts),
    tags: new Uint32Array(triVerts.length / 3),
  };
}

import { Clipper, EndType, JoinType, type PathD } from 'clipper2-ts';
import type { CapLoops, Frame } from '../cut/index.ts';
import type { Seam } from '../document/index.ts';
import { dot, type IndexedMesh, pointAlong, sub, vertexAt } from '../mesh/index.ts';
import type { Kernel } from '../solid/index.ts';

/** A channel comes in stretches about so long, with so much of the face left between them, so that the face stays one, mm. */
const STRETCH = 60;
const BRIDGE = 4;
/** It begins so far outside its face, mm. */
const OVER = 0.02;
const PRECISION = 6;

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
  const loops = cap.loops.map((loop): PathD => {
    const path = [...loop].map((v) => {
      const from = sub(vertexAt(p, v), frame.origin);
      return { x: dot(from, frame.u), y: dot(from, frame.v) };
    });
    // seen from outside, outlines run on the left
    return cap.side < 0 ? path : path.reverse();
  });
  const middles = Clipper.inflatePathsD(loops, -(inset + width / 2), JoinType.Round, EndType.Polygon, 2, PRECISION);
  return middles
    .filter((m) => Clipper.areaD(m) > 0)
    .flatMap(stretches)
    .flatMap((line) => Clipper.inflatePathsD([line], width / 2, JoinType.Round, EndType.Round, 2, PRECISION))
    .map((outline) => sunk(kernel, outline, frame, cap.side, depth));
}

/** A closed line in stretches that keep apart. */
function stretches(loop: PathD): PathD[] {
  const n = loop.length;
  const ways = [0];
  loop.forEach((a, i) => {
    const b = loop[(i + 1) % n];
    ways.push(ways[i] + Math.hypot(b.x - a.x, b.y - a.y));
  });
  const total = ways[n];
  const count = Math.max(2, Math.round(total / STRETCH));
  if (total / count < 2 * BRIDGE) return [];
  const at = (way: number): PathD[number] => {
    const i = Math.max(0, ways.findIndex((w) => w > way) - 1);
    const [a, b] = [loop[i], loop[(i + 1) % n]];
    const s = (way - ways[i]) / (ways[i + 1] - ways[i]);
    return { x: a.x + s * (b.x - a.x), y: a.y + s * (b.y - a.y) };
  };
  return Array.from({ length: count }, (_, k) => {
    const [from, to] = [(k / count) * total + BRIDGE / 2, ((k + 1) / count) * total - BRIDGE / 2];
    return [at(from), ...loop.filter((_p, i) => ways[i] > from && ways[i] < to), at(to)];
  });
}

/** A prism from a little outside a face into its piece. */
function sunk(
  kernel: Kernel,
  outline: PathD,
  { origin, u, v, normal }: Frame,
  side: 1 | -1,
  depth: number,
): IndexedMesh {
  const solid = kernel.Manifold.extrude(
    outline.map(({ x, y }) => [x, y] as [number, number]),
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

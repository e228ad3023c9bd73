import { fromFrame } from '../cut/index.ts';
import { columnToTriangles, convexGap, type Prism, prismToTriangles } from '../joints/index.ts';
import { type Box, bounds } from '../mesh/index.ts';

/** What a joint takes up of one piece, for the distances between joints. */
export interface Occupant {
  readonly joint: string;
  readonly piece: string;
  readonly face: string;
  /** sockets, or the material right under a male half */
  readonly prisms: readonly Prism[];
  /** which of them are hollow: the sockets */
  readonly hollow: readonly Prism[];
}

/** Occupants by the piece they are in. */
export type Occupancy = Map<string, Occupant[]>;

/** An occupancy that is only looked at. */
export interface Occupied {
  get(piece: string): readonly Occupant[] | undefined;
}

/** What is in either. */
export const bothOf = (a: Occupied, b: Occupied): Occupied => ({
  get(piece) {
    const [x, y] = [a.get(piece), b.get(piece)];
    return x && y ? [...x, ...y] : (x ?? y);
  },
});

/** Beyond this two joints do not matter to each other, mm; walls are not measured farther either. */
const FAR = 6;

/** Least distance of a joint's occupants to those of others, mm, and whose; infinite when there is none `within` that. */
export function nearestOccupant(
  own: readonly Occupant[],
  others: Occupied,
  within = FAR,
): { distance: number; joint: string } {
  let best = { distance: Infinity, joint: '' };
  for (const one of own) {
    for (const other of others.get(one.piece) ?? []) {
      const distance = occupantGap(one, other, Math.min(within, best.distance));
      if (distance < best.distance) best = { distance, joint: other.joint };
    }
  }
  return best;
}

/** Material between the root of a male half and the sockets that others have under it, mm; `limit` when there is as much. */
export function rootToSockets(root: Prism, piece: string, others: Occupied, limit: number): number {
  let best = limit;
  const box = boxOf({ ...root, depth: limit });
  for (const { hollow } of others.get(piece) ?? []) {
    for (const socket of hollow) {
      const other = boxOf(socket);
      if (other.min.some((x, k) => x > box.max[k] || other.max[k] < box.min[k])) continue;
      const { positions, triangles } = prismMesh(socket);
      best = Math.min(best, columnToTriangles(root.frame, root.outline, root.direction, positions, triangles, best));
    }
  }
  return best;
}

export function occupy(occupancy: Occupancy, list: readonly Occupant[]): void {
  for (const one of list) {
    const known = occupancy.get(one.piece);
    if (known) known.push(one);
    else occupancy.set(one.piece, [one]);
  }
}

function occupantGap(a: Occupant, b: Occupant, limit: number): number {
  let best = Infinity;
  for (const p of a.prisms) {
    for (const q of b.prisms) {
      const far = apart(p, q);
      if (far > Math.min(limit, best)) continue;
      best = Math.min(best, a.face === b.face ? convexGap(p.outline, q.outline) : prismGap(p, q));
    }
  }
  return best;
}

const boxes = new WeakMap<Prism, Box>();

/** No more than the distance of two prisms: that of the boxes round them. */
function apart(a: Prism, b: Prism): number {
  const [p, q] = [boxOf(a), boxOf(b)];
  let sum = 0;
  for (let k = 0; k < 3; k++) sum += Math.max(0, p.min[k] - q.max[k], q.min[k] - p.max[k]) ** 2;
  return Math.sqrt(sum);
}

function boxOf(prism: Prism): Box {
  let box = boxes.get(prism);
  if (!box) {
    box = bounds(prismMesh(prism).positions);
    boxes.set(prism, box);
  }
  return box;
}

/** Distance of two prisms on different planes; measured from either, as each looks only to its own side of its plane. */
function prismGap(a: Prism, b: Prism): number {
  const [m, n] = [prismMesh(a), prismMesh(b)];
  return Math.min(prismToTriangles(a, n.positions, n.triangles), prismToTriangles(b, m.positions, m.triangles));
}

const meshes = new WeakMap<Prism, { positions: Float64Array; triangles: Uint32Array }>();

/** A prism as a closed surface. */
export function prismMesh(prism: Prism): { positions: Float64Array; triangles: Uint32Array } {
  const known = meshes.get(prism);
  if (known) return known;
  const { frame, outline, depth, direction } = prism;
  const n = outline.length / 2;
  const positions = new Float64Array(n * 6);
  const triangles: number[] = [];
  for (let i = 0; i < n; i++) {
    positions.set(fromFrame(frame, outline[i * 2], outline[i * 2 + 1]), i * 3);
    positions.set(fromFrame(frame, outline[i * 2], outline[i * 2 + 1], depth * direction), (n + i) * 3);
    const k = (i + 1) % n;
    triangles.push(i, k, n + k, i, n + k, n + i);
    if (i > 0 && i + 1 < n) triangles.push(0, i, i + 1, n, n + i, n + i + 1);
  }
  const mesh = { positions, triangles: Uint32Array.from(triangles) };
  meshes.set(prism, mesh);
  return mesh;
}

import type { Printer } from '../../document/index.ts';
import { normalize, principalAxes, type Vec3 } from '../../mesh/index.ts';
import { type Pose, usableSize, withinPosed } from '../../print/index.ts';
import { CAP, type Chunk } from './chunk.ts';

/** What comes to more printers than this is not looked at: it would not fit one, however it is turned. */
const MOST_NEED = 2.5;

/**
 * The pose in which a chunk fits one of some printers with its joints, though its box does not: with an axis, one of its main
 * axes or one of its faces up, and turned freely about that. Null when there is none.
 */
export function fittingPose(chunk: Chunk, need: number, printers: readonly Printer[]): Pose | null {
  const { mesh, room, box } = chunk;
  if (need > MOST_NEED) return null;
  // something as long as the box's longest side has to lie along some line in the printer
  const long = Math.max(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
  const able = printers.filter((p) => long <= Math.hypot(...usableSize(p)));
  if (able.length === 0) return null;
  const parts = [mesh.positions, room];
  for (const up of upsOf(chunk)) {
    const pose = { up, spin: 0 };
    if (able.some((printer) => withinPosed(printer, parts, pose).within)) return pose;
  }
  return null;
}

/** Axes, main axes, and what its faces are square to. */
function upsOf(chunk: Chunk): readonly Vec3[] {
  const { mesh, areas } = chunk;
  const faces = new Map<number, [number, number, number]>();
  mesh.tags.forEach((tag, i) => {
    if (tag < CAP) return;
    const sum = faces.get(tag) ?? [0, 0, 0];
    for (let k = 0; k < 3; k++) sum[k] += areas[i * 3 + k];
    faces.set(tag, sum);
  });
  const out: Vec3[] = [];
  const tried = [[0, 0, 1], [1, 0, 0], [0, 1, 0], ...mainAxes(chunk), ...faces.values()] as Vec3[];
  for (const d of tried) {
    if (!(Math.hypot(...d) > 1e-9)) continue;
    const n = normalize(d);
    if (!out.some((o) => Math.abs(o[0] * n[0] + o[1] * n[1] + o[2] * n[2]) > 0.999)) out.push(n);
  }
  return out;
}

/** The main axes of a chunk's corners. */
export function mainAxes({ mesh: { positions: p } }: Chunk): readonly Vec3[] {
  const n = p.length / 3;
  const m = [0, 0, 0];
  for (let k = 0; k < p.length; k++) m[k % 3] += p[k] / n;
  const s = new Float64Array(9);
  for (let k = 0; k < p.length; k += 3) {
    const x = p[k] - m[0];
    const y = p[k + 1] - m[1];
    const z = p[k + 2] - m[2];
    s[0] += x * x;
    s[1] += x * y;
    s[2] += x * z;
    s[4] += y * y;
    s[5] += y * z;
    s[8] += z * z;
  }
  s[3] = s[1];
  s[6] = s[2];
  s[7] = s[5];
  return principalAxes(s).axes;
}

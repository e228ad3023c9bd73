import { type Frame, inRegion, makeFrame, splitByPlane, type Triangulator } from '../cut/index.ts';
import { type Evaluation, pieceMesh } from '../evaluate/index.ts';
import { concatenate, dot, type IndexedMesh, nearestOnLoop, type Vec3 } from '../mesh/index.ts';
import type { MatingFace } from '../seams/index.ts';

/** A slice of a piece beside a mating face. */
export interface Slice {
  readonly piece: string;
  readonly mesh: IndexedMesh;
}

/** Left of each piece beyond its deepest socket, mm. */
const FLOOR = 1.6;
/** Round a joint that is rehearsed by itself, mm. */
const RIM = 5;

/**
 * The real seam as a quick print: of both pieces at a mating face what is within a few millimetres of it, joints included.
 * With `joint` only what is round that joint.
 *
 *      ________
 *     |  piece |
 *   - - - - - - - -   thickness, or as much as the deepest socket asks for
 *     |__|  |__|
 *     |________|     seam
 */
export function rehearse(
  e: Evaluation,
  face: MatingFace,
  thickness: number,
  fallback: Triangulator,
  joint: string | null = null,
): Slice[] {
  const here = e.joints.filter((j) => j.built && j.face === face.id && (joint === null || j.id === joint));
  return face.pieces.map((key, side): Slice => {
    const piece = e.pieces.find((p) => p.key === key)!;
    const frame = face.frames[side];
    const inward = scaled(frame.normal, side === 0 ? -1 : 1);
    const depths = here.map((j) => j.form.depths[(j.direction > 0 ? 0 : 1) === side ? 0 : 1]);
    const deepest = Math.max(0, ...depths);
    const planes: Frame[] = [
      makeFrame(moved(frame.origin, inward, Math.max(thickness, deepest > 0 ? deepest + FLOOR : 0)), inward),
    ];
    for (const j of joint === null ? [] : here) {
      const loops = [...j.form.own, ...j.form.other].flatMap((s) => s.rings.map((r) => r.loop));
      let reach = RIM;
      for (const l of loops) {
        for (let i = 0; i < l.length; i += 2) reach = Math.max(reach, Math.hypot(l[i] - j.u, l[i + 1] - j.v) + RIM);
      }
      const at = moved(moved(frame.origin, frame.u, j.u), frame.v, j.v);
      for (const way of [frame.u, frame.v]) {
        planes.push(makeFrame(moved(at, way, reach), way), makeFrame(moved(at, way, -reach), scaled(way, -1)));
      }
    }
    let parts: IndexedMesh[] = [pieceMesh(piece).mesh];
    for (const plane of planes) parts = parts.flatMap((m) => splitByPlane(m, plane, 0, fallback).below);
    return { piece: key, mesh: concatenate(parts.filter((m) => touches(m, face, frame))) };
  });
}

const scaled = ([x, y, z]: Vec3, k: number): Vec3 => [x * k, y * k, z * k];
const moved = (p: Vec3, way: Vec3, by: number): Vec3 => [p[0] + way[0] * by, p[1] + way[1] * by, p[2] + way[2] * by];

/** Whether a part of a piece has a corner on the mating face. */
function touches({ positions: p }: IndexedMesh, { region }: MatingFace, frame: Frame): boolean {
  for (let k = 0; k < p.length; k += 3) {
    const d: Vec3 = [p[k] - frame.origin[0], p[k + 1] - frame.origin[1], p[k + 2] - frame.origin[2]];
    if (Math.abs(dot(d, frame.normal)) > 1e-3) continue;
    const [u, v] = [dot(d, frame.u), dot(d, frame.v)];
    if (inRegion(region, u, v)) return true;
    if ([region.outer2, ...region.holes2].some((l) => nearestOnLoop(l, u, v).distance < 1e-3)) return true;
  }
  return false;
}

import { inRegion } from '../../cut/index.ts';
import type { Plan } from '../../document/index.ts';
import type { Evaluation } from '../../evaluate/index.ts';
import type { Joint } from '../../joints/kinds/index.ts';
import {
  dot,
  inverse,
  type Mirror,
  mapVector,
  mirroredDirection,
  mirroredPoint,
  nearestOnLoop,
  type Vec3,
} from '../../mesh/index.ts';
import { type MatingFace, type SeamPlace, seamKind } from '../../seams/index.ts';

/** A face that is furnished as another: where the other's places, turns and sides are on it. */
export interface Sibling {
  readonly face: MatingFace;
  at(p: readonly [number, number]): [number, number];
  turn(angle: number): number;
  /** the male half is on the other side of its normal */
  readonly swapped: boolean;
}

/** Faces of one pattern, the first as itself. */
export type Group = readonly Sibling[];

/** How far outlines of siblings may differ, mm and share of their reach. */
const SAME = 0.01;

const itself = (face: MatingFace): Sibling => ({ face, at: ([u, v]) => [u, v], turn: (a) => a, swapped: false });

/**
 * Groups faces that are to be furnished alike: the half-planes of a fan, where the frames run along the axis and away from
 * it, and faces that are mirror images in the model's mirror plane. Every face is in one group.
 */
export function groupsOf(faces: readonly MatingFace[], plan: Plan, mirror: Mirror | null): Group[] {
  const left = new Set(faces);
  const groups: Group[] = [];
  const round = new Set(plan.seams.filter((s) => seamKind(s).round).map((s) => s.id));
  for (const face of faces) {
    if (!left.delete(face)) continue;
    const group = [itself(face)];
    if (round.has(face.seam)) {
      for (const other of [...left]) {
        if (other.seam !== face.seam || !alike(face, itself(other))) continue;
        left.delete(other);
        group.push(itself(other));
      }
    } else if (mirror) {
      for (const other of left) {
        const sibling = mirrored(face, other, mirror);
        if (!sibling || !alike(face, sibling)) continue;
        left.delete(other);
        group.push(sibling);
        break;
      }
    }
    groups.push(group);
  }
  return groups;
}

/** The joint as it is on a sibling of its face. */
export function onSibling(
  joint: Joint,
  home: MatingFace,
  { face, at, turn, swapped }: Sibling,
  places: ReadonlyMap<string, SeamPlace>,
): Joint {
  if (face === home) return joint;
  const [u, v] = at(places.get(home.plane)!.toModel(joint.at));
  const { part: _, ...rest } = joint;
  return {
    ...rest,
    seam: face.seam,
    ...(face.part !== undefined && { part: face.part }),
    at: places.get(face.plane)!.toSource([rounded(u), rounded(v)]),
    turn: turn(joint.turn),
    male: swapped ? (joint.male === '+' ? '-' : '+') : joint.male,
  } as Joint;
}

const rounded = (x: number): number => Number(x.toFixed(3));

/**
 * A joint's mirror image in the model's mirror plane, on the face that lies there; on its own face when that goes through
 * the plane. Null when there is no such face. It keeps the joint's id.
 */
export function mirroredJoint(joint: Joint, e: Evaluation, mirror: Mirror): Joint | null {
  const face = e.faces.find((f) => f.id === e.joints.find((j) => j.id === joint.id)?.face);
  if (!face) return null;
  const { places, map } = e.context;
  const at = places.get(face.plane)!.toModel(joint.at);
  for (const other of e.faces) {
    const sibling = mirrored(face, other, mirror);
    if (!sibling || !inRegion(other.region, ...sibling.at(at)) || !alike(face, sibling)) continue;
    // on its own face the same rule holds, only the face is no other one
    const image = onSibling(joint, face, { ...sibling, face: { ...other } }, places);
    if (!joint.lean) return image;
    const lean = mirroredDirection(mirror, mapVector(map, joint.lean));
    return { ...image, lean: [...mapVector(inverse(map), lean)] as [number, number, number] } as Joint;
  }
  return null;
}

/** Whether a face lies in the mirror plane, so that its two pieces are twins. */
export function liesIn(face: MatingFace, mirror: Mirror | null): boolean {
  if (!mirror) return false;
  const { normal, origin } = face.frame;
  return Math.abs(dot(normal, mirror.normal)) > 0.99999 && Math.abs(dot(origin, mirror.normal) - mirror.offset) < 0.05;
}

function mirrored(face: MatingFace, other: MatingFace, mirror: Mirror): Sibling | null {
  if (Math.abs(other.area - face.area) > 0.02 * face.area) return null;
  const vector = (x: Vec3): Vec3 => mirroredDirection(mirror, x);
  const to = other.frame;
  const facing = dot(vector(face.frame.normal), to.normal);
  const o = mirroredPoint(mirror, face.frame.origin);
  const d: Vec3 = [o[0] - to.origin[0], o[1] - to.origin[1], o[2] - to.origin[2]];
  if (Math.abs(facing) < 0.99999 || Math.abs(dot(d, to.normal)) > 0.05) return null;
  const [mu, mv] = [vector(face.frame.u), vector(face.frame.v)];
  const [uu, uv, vu, vv] = [dot(mu, to.u), dot(mu, to.v), dot(mv, to.u), dot(mv, to.v)];
  const [du, dv] = [dot(d, to.u), dot(d, to.v)];
  return {
    face: other,
    at: ([u, v]) => [du + u * uu + v * vu, dv + u * uv + v * vv],
    turn: (a) => Math.atan2(Math.cos(a) * uv + Math.sin(a) * vv, Math.cos(a) * uu + Math.sin(a) * vu),
    swapped: facing < 0,
  };
}

/** Whether a face's outline, taken to its sibling, lies on the sibling's. */
function alike(face: MatingFace, { face: other, at }: Sibling): boolean {
  if (Math.abs(other.area - face.area) > 0.02 * face.area) return false;
  const l = face.region.outer2;
  const reach = Math.sqrt(face.area);
  const step = Math.max(2, Math.floor(l.length / 48) * 2);
  for (let i = 0; i < l.length; i += step) {
    const [u, v] = at([l[i], l[i + 1]]);
    if (nearestOnLoop(other.region.outer2, u, v).distance > Math.max(0.05, SAME * reach)) return false;
  }
  return true;
}

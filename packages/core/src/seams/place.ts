import { type Fan, type Frame, fromFrame, makeFan, makeFrame } from '../cut/index.ts';
import type { Seam } from '../document/index.ts';
import type { Joint } from '../joints/kinds/index.ts';
import {
  type Affine,
  cross,
  dot,
  inverse,
  mapNormal,
  mapPoint,
  mapVector,
  normalize,
  sub,
  type Vec3,
  vecOf,
} from '../mesh/index.ts';

/** A seam's plane as it stands on the model, and the way between its (u, v) in source and model coordinates. */
export interface SeamPlace {
  readonly frame: Frame;
  /** (u, v) of the plan, in the source's coordinates, as (u, v) in the frame */
  toModel(at: readonly [number, number]): [number, number];
  toSource(at: readonly [number, number]): [number, number];
}

type Plane = Pick<Seam, 'origin' | 'normal' | 'up'>;

/**
 * Puts a seam onto the model: points go by the map, normals by its inverse transpose, and up is made square again.
 */
export function seamPlace(seam: Plane, map: Affine): SeamPlace {
  const source = makeFrame(seam.origin, seam.normal, seam.up);
  const frame = makeFrame(mapPoint(map, seam.origin), mapNormal(map, source.normal), mapVector(map, source.v));
  return {
    frame,
    toModel: ([u, v]) => inFrame(frame, mapPoint(map, fromFrame(source, u, v))),
    toSource: ([u, v]) => inFrame(source, mapPoint(inverse(map), fromFrame(frame, u, v))),
  };
}

/** (u, v) of a point in a frame. */
const inFrame = (f: Frame, p: Vec3): [number, number] => {
  const d = sub(p, f.origin);
  return [dot(d, f.u), dot(d, f.v)];
};

/** A plane given on the model, as the plan keeps it. */
export function planeInSource(
  { origin, normal }: Pick<Seam, 'origin' | 'normal'>,
  map: Affine,
): { origin: [number, number, number]; normal: [number, number, number] } {
  const back = inverse(map);
  return {
    origin: [...mapPoint(back, origin)] as [number, number, number],
    normal: [...mapNormal(back, normal)] as [number, number, number],
  };
}

/** A half-plane of a fan: what it is known by, its place, and the direction away from the axis. */
interface BladePlace {
  readonly id: string;
  readonly place: SeamPlace;
  readonly outward: Vec3;
}

/** What the planes of a seam are known by: the seam's own id where it has one plane, else with the number of the part. */
export const planeId = (seam: string, part: number): string => `${seam}:${part}`;

/** The plane that a joint lies on. */
export function planeOfJoint(joint: Pick<Joint, 'seam' | 'part'>, seam: Seam | undefined): string {
  const single = seam === undefined || (seam.kind === 'flat' && !seam.bound);
  return single ? joint.seam : planeId(joint.seam, joint.part ?? 0);
}

/** Seam and part of a plane's id. */
export function seamOfPlane(plane: string): { seam: string; part?: number } {
  const at = plane.indexOf(':');
  return at < 0 ? { seam: plane } : { seam: plane.slice(0, at), part: Number(plane.slice(at + 1)) };
}

/** The half-planes of a fan on the model. In each, v runs along the axis and u away from it (or, mirrored, towards it). */
export function bladesOf(fan: Extract<Seam, { kind: 'fan' }>, map: Affine): BladePlace[] {
  const { v: first, normal: axis } = makeFrame(fan.origin, fan.normal, fan.up);
  const second = cross(axis, first);
  return Array.from({ length: fan.count }, (_, h) => {
    const angle = fan.phase + (h / fan.count) * 2 * Math.PI;
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    const outward = vecOf((k) => first[k] * c + second[k] * s);
    return {
      id: planeId(fan.id, h),
      place: seamPlace(
        { origin: fan.origin, normal: [...cross(outward, axis)] as Seam['normal'], up: [...axis] as Seam['normal'] },
        map,
      ),
      outward: normalize(mapVector(map, outward)),
    };
  });
}

/** A fan of the plan as it cuts the model. */
export function placedFan(fan: Extract<Seam, { kind: 'fan' }>, map: Affine): Fan {
  const { normal: axis } = makeFrame(fan.origin, fan.normal, fan.up);
  return makeFan(
    mapPoint(map, fan.origin),
    mapVector(map, axis),
    bladesOf(fan, map).map(({ id, place, outward }) => ({ seam: id, frame: place.frame, outward })),
  );
}

import { type Frame, fromFrame, makeFrame } from '../../cut/index.ts';
import { type Affine, dot, inverse, mapNormal, mapPoint, mapVector, sub, type Vec3 } from '../../mesh/index.ts';

/** A seam's plane as it stands on the model, and the way between its (u, v) in source and model coordinates. */
export interface SeamPlace {
  readonly frame: Frame;
  /** (u, v) of the plan, in the source's coordinates, as (u, v) in the frame */
  toModel(at: readonly [number, number]): [number, number];
  toSource(at: readonly [number, number]): [number, number];
}

/** The plane that a seam lies in, or that it is drawn in. */
export interface SeamPlane {
  readonly origin: [number, number, number];
  readonly normal: [number, number, number];
  readonly up?: [number, number, number] | undefined;
}

/**
 * Puts a seam onto the model: points go by the map, normals by its inverse transpose, and up is made square again.
 */
export function seamPlace(seam: SeamPlane, map: Affine): SeamPlace {
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
  { origin, normal }: Pick<SeamPlane, 'origin' | 'normal'>,
  map: Affine,
): { origin: [number, number, number]; normal: [number, number, number] } {
  const back = inverse(map);
  return {
    origin: [...mapPoint(back, origin)] as [number, number, number],
    normal: [...mapNormal(back, normal)] as [number, number, number],
  };
}

/** What the planes of a seam are known by: the seam's own id where it has one plane, else with the number of the part. */
export const planeId = (seam: string, part: number): string => `${seam}:${part}`;

/** Seam and part of a plane's id. */
export function seamOfPlane(plane: string): { seam: string; part?: number } {
  const at = plane.indexOf(':');
  return at < 0 ? { seam: plane } : { seam: plane.slice(0, at), part: Number(plane.slice(at + 1)) };
}

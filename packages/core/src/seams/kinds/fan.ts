import { type Fan, makeFan, makeFrame } from '../../cut/index.ts';
import type { Seam } from '../../document/index.ts';
import { type Affine, cross, mapPoint, mapVector, normalize, type Vec3, vecOf } from '../../mesh/index.ts';
import { planeId, type SeamPlace, seamPlace } from './place.ts';
import type { SeamKind, SeamOf } from './seam-kind.ts';

/** Half-planes round an axis. */
export const fan: SeamKind<SeamOf<'fan'>> = {
  title: 'Fan round',
  way: () => 'fan',
  planes: (seam) => seam.count,
  planeAt: (seam, part, map) => bladesOf(seam, map)[part]?.place ?? null,
  bent: () => false,
  round: true,
  fan: placedFan,
};

/** A half-plane of a fan: what it is known by, its place, and the direction away from the axis. */
interface BladePlace {
  readonly id: string;
  readonly place: SeamPlace;
  readonly outward: Vec3;
}

/** The half-planes of a fan on the model. In each, v runs along the axis and u away from it (or, mirrored, towards it). */
export function bladesOf(fan: SeamOf<'fan'>, map: Affine): BladePlace[] {
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
function placedFan(fan: SeamOf<'fan'>, map: Affine): Fan {
  const { normal: axis } = makeFrame(fan.origin, fan.normal, fan.up);
  return makeFan(
    mapPoint(map, fan.origin),
    mapVector(map, axis),
    bladesOf(fan, map).map(({ id, place, outward }) => ({ seam: id, frame: place.frame, outward })),
  );
}

import { z } from 'zod';
import { asking } from '../../asked.ts';
import { type Fan, makeFan, makeFrame } from '../../cut/index.ts';
import { angle } from '../../fields.ts';
import { type Affine, cross, mapPoint, mapVector, normalize, type Vec3, vecOf } from '../../mesh/index.ts';
import { planeId, type SeamPlace, seamPlace } from './place.ts';
import { type AnySeam, common, type Kind } from './seam-kind.ts';

const fanSchema = z.strictObject({
  ...common,
  kind: z.literal('fan'),
  /** half-planes round the axis */
  count: z.int().min(2).max(72),
  /** turns all of them, radians */
  phase: angle.default(0),
});

type FanSeam = z.output<typeof fanSchema>;

/** Half-planes round an axis. */
export const fan: Kind<typeof fanSchema> = {
  schema: fanSchema,
  kind: 'fan',
  title: 'Fan round',
  said: (seam) => `${seam.count} half-planes`,
  way: () => 'fan',
  planes: (seam) => seam.count,
  planeAt: (seam, part, map) => bladesOf(seam, map)[part]?.place ?? null,
  bent: () => false,
  round: true,
  fan: placedFan,
  about: () => ({ count: 6 }),
  fields: (seam) => {
    const ask = asking(fanSchema.shape, seam);
    return [ask.count('count', 'Segments'), ask.angle('phase', 'Turn')];
  },
};

/** A half-plane of a fan: what it is known by, its place, and the direction away from the axis. */
interface BladePlace {
  readonly id: string;
  readonly place: SeamPlace;
  readonly outward: Vec3;
}

/** The half-planes of a fan on the model. In each, v runs along the axis and u away from it (or, mirrored, towards it). */
export function bladesOf(fan: FanSeam, map: Affine): BladePlace[] {
  const { v: first, normal: axis } = makeFrame(fan.origin, fan.normal, fan.up);
  const second = cross(axis, first);
  return Array.from({ length: fan.count }, (_, h) => {
    const angle = fan.phase + (h / fan.count) * 2 * Math.PI;
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    const outward = vecOf((k) => first[k] * c + second[k] * s);
    return {
      id: planeId(fan.id, h),
      place: seamPlace(
        {
          origin: fan.origin,
          normal: [...cross(outward, axis)] as AnySeam['normal'],
          up: [...axis] as AnySeam['normal'],
        },
        map,
      ),
      outward: normalize(mapVector(map, outward)),
    };
  });
}

/** A fan of the plan as it cuts the model. */
function placedFan(fan: FanSeam, map: Affine): Fan {
  const { normal: axis } = makeFrame(fan.origin, fan.normal, fan.up);
  return makeFan(
    mapPoint(map, fan.origin),
    mapVector(map, axis),
    bladesOf(fan, map).map(({ id, place, outward }) => ({ seam: id, frame: place.frame, outward })),
  );
}

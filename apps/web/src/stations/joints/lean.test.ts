import {
  type Affine,
  compose,
  distance,
  IDENTITY,
  length,
  mapVector,
  mirroring,
  moving,
  normalize,
  scale,
  turning,
} from '@gephyra/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Triple } from '../../engine/types.ts';
import { type AxisName, axisNameOf, leanAlong } from './lean.ts';

const number = fc.integer({ min: -20, max: 20 });
const direction = (fc.tuple(number, number, number) as fc.Arbitrary<Triple>)
  .filter((d) => length(d) > 2)
  .map(normalize);
/** A model that was turned, moved, made larger, and perhaps mirrored. */
const map = fc
  .tuple(direction, fc.integer({ min: -3, max: 3 }), fc.integer({ min: 1, max: 5 }), fc.boolean())
  .map(([axis, angle, k, mirrored]): Affine => {
    const large = compose(turning(axis, angle, [0, 0, 0]), [k, 0, 0, 4, 0, k, 0, 0, 0, 0, k, -9]);
    return compose(moving([1, 2, 3]), mirrored ? compose(mirroring(axis, [0, 0, 0]), large) : large);
  });

describe('the axis of a joint', () => {
  it('is kept by the plan so that it points there on the model, wherever that lies', () => {
    fc.assert(
      fc.property(map, direction, (m, way) => {
        const targets: [AxisName, Triple][] = [
          ['x', [1, 0, 0]],
          ['y', [0, 1, 0]],
          ['z', [0, 0, 1]],
          ['way', way],
        ];
        for (const [name, target] of targets) {
          const lean = leanAlong(name, way, m)!;
          expect(distance(normalize(mapVector(m, lean)), target)).toBeLessThan(1e-6);
          const named = axisNameOf({ lean }, way, m);
          // a way in along an axis goes by the axis' name
          if (named !== name)
            expect([name, Math.abs(way['xyz'.indexOf(named)])]).toEqual(['way', expect.closeTo(1, 4)]);
          // the other way round it is the same axis
          expect(axisNameOf({ lean: [...scale(lean, -3)] }, way, m)).toBe(named);
        }
      }),
    );
  });

  it('is square without a lean, and its own when no name fits', () => {
    expect(axisNameOf({}, null, IDENTITY)).toBe('square');
    expect(leanAlong('square', [0, 0, 1], IDENTITY)).toBeUndefined();
    expect(leanAlong('way', null, IDENTITY)).toBeUndefined();
    expect(axisNameOf({ lean: [0, 0.6, 0.8] }, null, IDENTITY)).toBe('own');
    expect(axisNameOf({ lean: [0, 0.6, 0.8] }, [0, 3, 4], IDENTITY)).toBe('way');
    // a degree off is another direction
    expect(axisNameOf({ lean: [0, Math.sin(0.0175), Math.cos(0.0175)] }, null, IDENTITY)).toBe('own');
  });
});

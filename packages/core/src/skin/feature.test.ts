import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { box } from '../../testing/shapes.ts';
import { concatenate, type Vec3, volume } from '../mesh/index.ts';
import { featureOf, flipToFeatures, type Placed } from './feature.ts';
import { withoutSpecks } from './specks.ts';

const placed = (at: Vec3, normal: Vec3): Placed => ({ at, normal: Float64Array.from(normal) });

describe('the feature within a cell', () => {
  it('of three faces is their corner, of two the place on their edge nearest to where it was met', () => {
    fc.assert(
      fc.property(fc.tuple(...[0, 1, 2].map(() => fc.double({ min: 0.1, max: 0.9, noNaN: true }))), ([x, y, z]) => {
        const [a, b, c] = [
          placed([x, 0.2, 0.3], [1, 0, 0]),
          placed([0.4, y, 0.1], [0, 1, 0]),
          placed([0.2, 0.6, z], [0, 0, 1]),
        ];
        const corner = featureOf([a, b, c], [0, 0, 0], 1)!;
        [x, y, z].forEach((t, k) => {
          expect(corner[k]).toBeCloseTo(t, 9);
        });
        const edge = featureOf([a, b], [0, 0, 0], 1)!;
        expect([edge[0], edge[1], edge[2]]).toEqual([
          expect.closeTo(x, 9),
          expect.closeTo(y, 9),
          expect.closeTo(0.2, 9),
        ]);
      }),
    );
  });

  it('is none where all look about the same way, or where they meet far outside the cell', () => {
    const tilt = 0.2;
    const flat = [placed([0.5, 0.5, 0.5], [0, 0, 1]), placed([0.6, 0.5, 0.5], [Math.sin(tilt), 0, Math.cos(tilt)])];
    expect(featureOf(flat, [0, 0, 0], 1)).toBeNull();
    const far = [placed([0.5, 0, 0], [1, 0, 0]), placed([0, 3, 0], [0, 1, 0])];
    expect(featureOf(far, [0, 0, 0], 1)).toBeNull();
    // only a little outside: where it is
    const near = [placed([0.5, 0, 0], [1, 0, 0]), placed([0, 1.3, 0], [0, 1, 0]), placed([0, 0, 0.5], [0, 0, 1])];
    expect(featureOf(near, [0, 0, 0], 1)![1]).toBeCloseTo(1.3, 9);
  });

  it('has edges joined along it: two triangles that both end in one share the edge between them', () => {
    // 0 and 1 are ordinary, 2 and 3 features across their edge
    const t = Uint32Array.of(0, 1, 2, 1, 0, 3);
    flipToFeatures(t, new Set([2, 3]));
    expect([...t]).toEqual([2, 0, 3, 3, 1, 2]);
    const alone = Uint32Array.of(0, 1, 2, 1, 0, 3);
    flipToFeatures(alone, new Set([2]));
    expect([...alone]).toEqual([0, 1, 2, 1, 0, 3]);
  });
});

describe('specks', () => {
  const at = (x: number, size: number) => box([x, 0, 0], [x + size, size, size]);

  it('go, what is as large as asked stays, and the largest stays however small', () => {
    const mixed = concatenate([at(0, 10), at(20, 0.1), at(30, 2)]);
    expect(volume(withoutSpecks(mixed, 1))).toBeCloseTo(1008, 6);
    expect(volume(withoutSpecks(mixed, 100))).toBeCloseTo(1000, 6);
    const one = at(0, 0.1);
    expect(withoutSpecks(one, 1)).toBe(one);
  });
});

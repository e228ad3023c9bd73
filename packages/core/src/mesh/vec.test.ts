import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Vec3 } from './types.ts';
import {
  add,
  axisVector,
  cross,
  distance,
  dot,
  edgeOf,
  length,
  lerp,
  normalize,
  perAxis,
  pointAlong,
  scale,
  sub,
  three,
  vecOf,
  vertexAt,
} from './vec.ts';

const number = fc.integer({ min: -1000, max: 1000 });
const vector = fc.tuple(number, number, number) as fc.Arbitrary<Vec3>;

describe('vectors', () => {
  it('add, take away and scale as numbers do', () => {
    fc.assert(
      fc.property(vector, vector, number, (a, b, k) => {
        expect(sub(add(a, b), b)).toEqual(a);
        // -0 and 0 are one number
        expect(add(scale(a, k), [0, 0, 0])).toEqual(add(pointAlong([0, 0, 0], a, k), [0, 0, 0]));
        expect(pointAlong(a, b, k)).toEqual(add(a, scale(b, k)));
        expect([lerp(a, b, 0), lerp(a, b, 1)]).toEqual([a, b]);
        expect(distance(lerp(a, b, 0.5), a)).toBeCloseTo(distance(a, b) / 2, 9);
      }),
    );
  });

  it('have a cross product that is square to both, right-handed, and as long as their parallelogram is large', () => {
    fc.assert(
      fc.property(vector, vector, (a, b) => {
        const n = cross(a, b);
        expect([dot(n, a) + 0, dot(n, b) + 0]).toEqual([0, 0]);
        // Lagrange's identity, exact for whole numbers of this size
        expect(dot(n, n)).toBe(dot(a, a) * dot(b, b) - dot(a, b) ** 2);
      }),
    );
    expect(cross(axisVector(0), axisVector(1))).toEqual(axisVector(2));
  });

  it('become unit vectors along the same way; nothing stays nothing', () => {
    fc.assert(
      fc.property(vector, (a) => {
        const u = normalize(a);
        if (length(a) === 0) expect(u).toEqual([0, 0, 0]);
        else {
          expect(length(u)).toBeCloseTo(1, 12);
          expect(dot(u, a)).toBeCloseTo(length(a), 9);
        }
      }),
    );
  });

  it('are made by axis, and read from flat arrays', () => {
    expect(vecOf((a) => a * 10)).toEqual([0, 10, 20]);
    expect(perAxis([5, 6, 7], (x, a) => x * a)).toEqual([0, 6, 14]);
    expect(three((c) => `v${c}`)).toEqual(['v0', 'v1', 'v2']);
    const positions = Float64Array.of(9, 9, 9, 1, 2, 3, 4, 6, 8);
    expect(vertexAt(positions, 1)).toEqual([1, 2, 3]);
    expect(edgeOf(positions, 1, 2)).toEqual([3, 4, 5]);
    expect(edgeOf(positions, 2, 1)).toEqual([-3, -4, -5]);
  });
});

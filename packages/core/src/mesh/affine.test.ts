import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../testing/runs.ts';
import { blob, box } from '../../testing/shapes.ts';
import {
  type Affine,
  affineOf,
  compose,
  determinant,
  IDENTITY,
  inverse,
  mapNormal,
  mapPoint,
  mapped,
  mapVector,
  mirroring,
  moving,
  scaling,
  turning,
  turningTo,
  uniformScale,
} from './affine.ts';
import { volume } from './measure.ts';
import { topology } from './topology.ts';
import type { Vec3 } from './types.ts';
import { cross, distance, dot, length, normalize, sub } from './vec.ts';

const number = fc.integer({ min: -50, max: 50 });
const vector = fc.tuple(number, number, number) as fc.Arbitrary<Vec3>;
const direction = vector.filter((d) => length(d) > 5).map(normalize);
const angle = fc.double({ min: -6, max: 6, noNaN: true });
const factor = fc.double({ min: 0.2, max: 5, noNaN: true });
const rigid = fc
  .tuple(direction, angle, vector, vector)
  .map(([axis, a, about, by]) => compose(moving(by), turning(axis, a, about)));
const uneven = fc.tuple(rigid, factor, factor, factor).map(([m, x, y, z]) => compose(m, scaling([x, y, z])));
const mirrored = fc.tuple(uneven, direction, vector).map(([m, n, at]) => compose(m, mirroring(n, at)));
const any: fc.Arbitrary<Affine> = fc.oneof(rigid, uneven, mirrored);

describe('maps of space', () => {
  it('go one after the other, and back again', () => {
    fc.assert(
      fc.property(any, any, vector, (a, b, p) => {
        expect(distance(mapPoint(compose(a, b), p), mapPoint(a, mapPoint(b, p)))).toBeLessThan(1e-6);
        expect(distance(mapPoint(inverse(a), mapPoint(a, p)), p)).toBeLessThan(1e-6);
        expect(determinant(compose(a, b))).toBeCloseTo(determinant(a) * determinant(b), 4);
      }),
    );
    expect(() => inverse(scaling([1, 0, 1]))).toThrow('scaled to nothing');
  });

  it('carry a plane with its normal, and what is outside stays outside also in a mirror', () => {
    fc.assert(
      fc.property(any, vector, direction, vector, (m, at, n, inPlane) => {
        const along = cross(n, normalize(sub(inPlane, at)));
        const image = mapNormal(m, n);
        expect(length(image)).toBeCloseTo(1, 9);
        expect(Math.abs(dot(mapVector(m, along), image))).toBeLessThan(1e-6);
        // a step outwards is a step outwards
        expect(dot(mapVector(m, n), image)).toBeGreaterThan(0);
      }),
    );
  });

  it('that are rigid keep lengths; the mirror is its own way back', () => {
    fc.assert(
      fc.property(rigid, vector, vector, direction, (m, p, q, n) => {
        expect(distance(mapPoint(m, p), mapPoint(m, q))).toBeCloseTo(distance(p, q), 9);
        expect(uniformScale(m)).toBeCloseTo(1, 9);
        const mirror = mirroring(n, p);
        expect(distance(mapPoint(mirror, mapPoint(mirror, q)), q)).toBeLessThan(1e-9);
        expect(distance(mapPoint(mirror, p), p)).toBeLessThan(1e-9);
        expect(determinant(mirror)).toBeCloseTo(-1, 9);
      }),
    );
  });

  it('turn one direction into another the shortest way, also an opposite one', () => {
    fc.assert(
      fc.property(direction, direction, vector, (from, to, about) => {
        const m = turningTo(from, to, about);
        expect(distance(mapVector(m, from), to)).toBeLessThan(1e-6);
        expect(distance(mapPoint(m, about), about)).toBeLessThan(1e-9);
        // what is square to both stays where it is
        const still = normalize(cross(from, to));
        if (length(cross(from, to)) > 1e-3) expect(distance(mapVector(m, still), still)).toBeLessThan(1e-6);
        const back: Vec3 = [-from[0], -from[1], -from[2]];
        expect(distance(mapVector(turningTo(from, back, about), from), back)).toBeLessThan(1e-6);
      }),
    );
    expect(turningTo([0, 0, 2], [0, 0, 1], [3, 3, 3])).toBe(IDENTITY);
  });

  it('grow alike in every direction or not', () => {
    expect(uniformScale(compose(turning([1, 2, 3], 1, [0, 0, 0]), scaling([2.5, 2.5, 2.5])))).toBeCloseTo(2.5, 9);
    expect(uniformScale(scaling([2, 2, 2.001]))).toBeNull();
    // as long along every axis, but sheared
    expect(
      uniformScale(
        affineOf(
          (r) =>
            [
              [1, 0, 0, 0],
              [Math.SQRT1_2, Math.SQRT1_2, 0, 0],
              [0, 0, 1, 0],
            ][r],
        ),
      ),
    ).toBeNull();
  });

  it('take meshes along: closed ones stay closed and outside out, volumes grow by the determinant', () => {
    const mesh = blob(20, 24, 60, (a, z) => 18 + 3 * Math.sin(2 * a + z));
    fc.assert(
      fc.property(any, (m) => {
        const out = mapped(mesh, m);
        expect(topology(out).watertight).toBe(true);
        expect(volume(out) / (volume(mesh) * Math.abs(determinant(m)))).toBeCloseTo(1, 9);
      }),
      { numRuns: runs(30) },
    );
    const cube = box([0, 0, 0], [1, 1, 1]);
    expect(mapped(cube, IDENTITY)).toBe(cube);
  });
});

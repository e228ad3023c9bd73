import {
  type Affine,
  compose,
  cross,
  distance,
  dot,
  fromFrame,
  IDENTITY,
  length,
  makeFrame,
  mapPoint,
  moving,
  normalize,
  parsePlan,
  pointAlong,
  type Seam,
  type SeamInput,
  seamPlace,
  sub,
  turning,
} from '@gephyra/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Triple } from '../../engine/types.ts';
import {
  acrossLongest,
  beside,
  byLine,
  lineFromFront,
  type NewSeam,
  profileSeam,
  seamRound,
  seamRoundMiddle,
  squareTo,
  throughPoints,
} from './placing.ts';

const box = { min: [0, 0, 0], max: [100, 60, 300] } as const;

/** The seam as the plan reads it. */
const kept = (seam: NewSeam): Seam =>
  parsePlan({
    version: 5,
    printer: { name: 'Desktop 220', size: [220, 220, 250] },
    seams: [{ ...seam, id: 's1' } as SeamInput],
  }).seams[0];

/** The seam's plane where the model lies. */
const onModel = (seam: NewSeam, map: Affine) => seamPlace(kept(seam), map).frame;

const number = fc.integer({ min: -90, max: 90 });
const point = fc.tuple(number, number, number) as fc.Arbitrary<Triple>;
/** A model that was turned, moved and made larger or smaller, the same in every direction. */
const map = fc
  .tuple(point, fc.double({ min: -3, max: 3, noNaN: true }), point, fc.double({ min: 0.3, max: 4, noNaN: true }))
  .filter(([axis]) => length(axis) > 1)
  .map(([axis, angle, by, k]) =>
    compose(compose(moving(by), turning(axis, angle, [0, 0, 0])), [k, 0, 0, 0, 0, k, 0, 0, 0, 0, k, 0]),
  );

describe('where a new seam goes', () => {
  it('across an axis it halves the longest stretch that is left', () => {
    const seams: Seam[] = [];
    const places: number[] = [];
    for (let i = 0; i < 4; i++) {
      const seam = kept(acrossLongest(2, box, seams, IDENTITY));
      places.push(seam.origin[2]);
      seams.push({ ...seam, id: `s${i}` });
    }
    expect(places).toEqual([150, 75, 225, 37.5]);
    // seams across another axis, those switched off and curved ones do not count
    const others = [kept(acrossLongest(0, box, [], IDENTITY)), { ...seams[0], enabled: false }];
    expect(
      kept(acrossLongest(2, box, [...others, kept(seamRoundMiddle('fan', box, IDENTITY))], IDENTITY)).origin[2],
    ).toBe(150);
  });

  it('goes through the three points that were picked, however the model lies', () => {
    fc.assert(
      fc.property(point, point, point, map, (a, b, c, m) => {
        const spread = length(cross(sub(b, a), sub(c, a)));
        fc.pre(spread > 1);
        const frame = onModel(throughPoints([a, b, c], m)!, m);
        // the plan keeps a normal to 12 and a point to 6 places
        for (const p of [a, b, c]) expect(Math.abs(dot(sub(p, frame.origin), frame.normal))).toBeLessThan(1e-4);
      }),
    );
    expect(
      throughPoints(
        [
          [0, 0, 0],
          [5, 5, 5],
          [20, 20, 20],
        ],
        IDENTITY,
      ),
    ).toBeNull();
  });

  it('by a drawn line it holds both lines of sight, and is nearest to the middle of the model', () => {
    fc.assert(
      fc.property(point, point, point, map, (eye, a, b, m) => {
        const sight = (to: Triple) => ({ origin: eye, direction: normalize(sub(to, eye)) });
        fc.pre(length(cross(sub(a, eye), sub(b, eye))) > 50);
        const { origin, normal } = onModel(byLine(sight(a), sight(b), box, m)!, m);
        for (const p of [eye, a, b]) expect(Math.abs(dot(sub(p, origin), normal))).toBeLessThan(1e-3);
        const middle: Triple = [50, 30, 150];
        expect(distance(middle, origin)).toBeCloseTo(Math.abs(dot(sub(middle, eye), normal)), 3);
      }),
    );
    const sight = { origin: [0, 0, 0], direction: [0, 1, 0] } as const;
    expect(byLine(sight, sight, box, IDENTITY)).toBeNull();
  });

  it('square to a face it stands upright, and on a level face it still has a direction', () => {
    fc.assert(
      fc.property(point.filter((n) => length(n) > 1).map(normalize), (face) => {
        const n = squareTo(face);
        expect(length(n)).toBeCloseTo(1, 9);
        expect(dot(n, face)).toBeCloseTo(0, 9);
        if (Math.abs(face[2]) < 0.9) expect(n[2]).toBeCloseTo(0, 9);
      }),
    );
  });

  it('beside a seam it is parallel and 20 mm off', () => {
    const first = kept(acrossLongest(2, box, [], IDENTITY));
    const second = kept(beside(first, IDENTITY));
    expect(second.normal).toEqual(first.normal);
    expect(dot(sub(second.origin, first.origin), first.normal)).toBe(20);
  });

  it('goes round the shortest side of the model, and a ring is half as wide as what is round, in the model’s own size', () => {
    expect(kept(seamRoundMiddle('fan', box, IDENTITY))).toMatchObject({
      origin: [50, 30, 150],
      normal: [0, 1, 0],
      count: 6,
    });
    fc.assert(
      fc.property(
        point,
        point.filter((n) => length(n) > 1).map(normalize),
        fc.integer({ min: 4, max: 80 }),
        map,
        (origin, axis, radius, m) => {
          const seam = kept(seamRound('ring', { origin, axis, radius }, m)) as Extract<Seam, { kind: 'ring' }>;
          expect(distance(mapPoint(m, seam.origin), origin)).toBeLessThan(1e-4);
          const grows = Math.cbrt(
            length([m[0], m[4], m[8]]) * length([m[1], m[5], m[9]]) * length([m[2], m[6], m[10]]),
          );
          expect(Math.abs(seam.radius * grows - radius / 2)).toBeLessThan(0.005);
        },
      ),
    );
  });

  it('a drawn line goes through its places on the model, turned, larger or mirrored', () => {
    const way = fc.tuple(point, point).filter(([a, b]) => length(cross(a, b)) > 50);
    const flat = fc.array(fc.tuple(number, number), { minLength: 2, maxLength: 5 });
    fc.assert(
      fc.property(point, way, flat, map, fc.boolean(), (origin, [a, b], points, m, mirrored) => {
        const [up, sweep] = [normalize(a), normalize(cross(a, b))];
        const own = mirrored ? compose(m, [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]) : m;
        const seam = kept(profileSeam(origin, sweep, up, points, own)) as Extract<Seam, { kind: 'profile' }>;
        const source = makeFrame(seam.origin, seam.normal, seam.up);
        const along = cross(up, sweep);
        seam.points.forEach(([u, v], i) => {
          const there = mapPoint(own, fromFrame(source, u, v));
          const [t, h] = points[i];
          expect(distance(there, pointAlong(pointAlong(origin, along, t), up, h))).toBeLessThan(2e-3);
        });
      }),
    );
  });

  it('a line from the front reaches past both sides of the model', () => {
    const line = kept(lineFromFront(box, IDENTITY)) as Extract<Seam, { kind: 'profile' }>;
    const xs = line.points.map(([u]) => line.origin[0] + u);
    expect(Math.min(...xs)).toBeLessThan(0);
    expect(Math.max(...xs)).toBeGreaterThan(100);
    expect(new Set(line.points.map(([, v]) => v))).toEqual(new Set([0]));
    expect(line.origin[2]).toBe(150);
  });
});

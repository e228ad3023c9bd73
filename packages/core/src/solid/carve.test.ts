import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judge, kernel } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, moved } from '../../testing/shapes.ts';
import { type IndexedMesh, subset, volume } from '../mesh/index.ts';
import { carve } from './carve.ts';

const tagged = (mesh: IndexedMesh, tag: number): IndexedMesh => ({ ...mesh, tags: mesh.tags.map(() => tag) });
const body = tagged(
  blob(16, 20, 80, () => 30),
  3,
);

describe('carving', () => {
  it('parts a solid into inside and outside that add up, each closed and taken by the kernel', () => {
    const place = fc.integer({ min: -30, max: 30 });
    fc.assert(
      fc.property(fc.tuple(place, place, place), fc.integer({ min: 5, max: 60 }), ([x, y, z], size) => {
        const cutter = box([x, y, z], [x + size, y + size, z + size]);
        const { inside, outside } = carve(kernel, body, cutter, 100);
        expect(Math.abs(volume(inside) + volume(outside) - volume(body))).toBeLessThan(1e-5 * volume(body));
        for (const part of [inside, outside]) {
          if (part.tags.length > 0) expect(judge(part)).toMatchObject({ status: 'NoError', closed: true });
        }
        expect(volume(inside)).toBeLessThanOrEqual(size ** 3 * (1 + 1e-5));
      }),
      { numRuns: runs(30) },
    );
  });

  it('tells skin and cut apart: triangles keep their tags, those of the cutter get theirs plus the offset', () => {
    const { inside, outside } = carve(kernel, body, box([-5, -50, -50], [50, 50, 50]), 100);
    for (const part of [inside, outside]) expect([...new Set(part.tags)].sort((a, b) => a - b)).toEqual([3, 100]);
  });

  it('gives all of it on one side where they do not meet', () => {
    const far = moved(box([0, 0, 0], [9, 9, 9]), (x, y, z) => [x + 500, y, z]);
    const { inside, outside } = carve(kernel, body, far, 100);
    expect(inside.tags).toHaveLength(0);
    expect(volume(outside)).toBeCloseTo(volume(body), 1);
  });

  it('refuses what is no solid, in words', () => {
    const open = subset(body, [...body.tags.keys()].slice(3));
    const cutter = box([-5, -50, -50], [50, 50, 50]);
    expect(() => carve(kernel, open, cutter, 100)).toThrow(/is no solid/);
    expect(() => carve(kernel, body, subset(cutter, [0, 1, 2]), 100)).toThrow(/is no solid/);
  });
});

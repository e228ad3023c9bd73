import { describe, expect, it } from 'vitest';
import { box, moved, together } from '../../testing/shapes.ts';
import { buildTree, mapped, turning, type Vec3 } from '../mesh/index.ts';
import { passingDepth, passingsWithin, passingWithin, ROUNDING } from './crossed.ts';
import { crossings } from './crossings.ts';

describe('how far two triangles pass through one another', () => {
  const across: Vec3[] = [
    [-1, -1, 0],
    [1, -1, 0],
    [0, 2, 0],
  ];

  it('is what one stands out on the lesser side', () => {
    const upright = (down: number): Vec3[] => [
      [-0.5, 0, -down],
      [0.5, 0, -down],
      [0, 0, 1],
    ];
    expect(passingDepth([...across, ...upright(0.01)])).toBeCloseTo(0.01, 3);
    expect(passingDepth([...across, ...upright(0.05)])).toBeCloseTo(0.05, 3);
  });

  it('is nothing between needles of one plane, though each stands out on both sides of the other’s own plane', () => {
    // two needles of a face whose corners are rounded by some 4e-6: their own normals lie far off the face's
    const one: Vec3[] = [
      [0, 0, 0],
      [20, 0, 4e-6],
      [10, 6e-6, -4e-6],
    ];
    const other: Vec3[] = [
      [8, -1, 4e-6],
      [11, 1, -4e-6],
      [9.5, 5e-6, 4e-6],
    ];
    expect(passingDepth([...one, ...other])).toBeLessThan(2e-5);
  });
});

describe('what passes through a mesh', () => {
  it('is told with its places, of the triangles that are asked for', () => {
    const block = box([0, 0, 0], [20, 20, 20]);
    const peg = moved(box([-2, -2, -5], [2, 2, 5]), (x, y, z) => [x + 10, y + 10, z + 20.01]);
    const both = together(block, mapped(peg, turning([0, 0, 1], 0.3, [10, 10, 20])));
    const made = { ...both, tags: Uint32Array.from(both.tags, (_, i) => (i < 12 ? 0 : 1)) };
    const places = passingsWithin(made, (tag) => tag === 1);
    expect(places.length).toBeGreaterThan(3);
    for (const [x, y, z] of places) {
      expect(Math.hypot(x - 10, y - 10)).toBeLessThan(3);
      expect(z).toBeCloseTo(20, 6);
    }
    expect(passingWithin(made, (tag) => tag === 1)).toBe(places.length);
    expect(passingWithin(made, () => false)).toBe(0);
  });

  it('is found behind any number of slivers that only look as if', () => {
    const shard = (corners: number[]) => ({
      positions: Float64Array.from(corners),
      triangles: Uint32Array.of(0, 1, 2),
      tags: new Uint32Array(1),
    });
    // needles of one plane, each across the next: their own normals are rounding
    const needles = Array.from({ length: 600 }, (_, i) => [
      shard([0, i, 0, 20, i, 1e-5, 10, i + 6e-6, -1e-5]),
      shard([8, i - 0.4, 1e-5, 11, i + 0.4, -1e-5, 9.5, i + 5e-6, 1e-5]),
    ]).flat();
    // one at either end, so that one of both is come to last
    const real = [-100, 700].flatMap((y) => [
      shard([9, y, 0, 11, y, 0, 10, y + 2, 0]),
      shard([10, y + 0.5, -1, 10, y + 1.5, -1, 10, y + 1, 1]),
    ]);
    const tree = buildTree(together(...needles));
    expect(crossings(tree, tree, 1e5, 1e5, ROUNDING).pairs).toBeGreaterThan(400);
    expect(passingWithin(together(...needles, ...real), () => true)).toBe(2);
  });
});

import { describe, expect, it } from 'vitest';
import { judge, kernel, meshOfSolid } from '../../../testing/judges.ts';
import { box } from '../../../testing/shapes.ts';
import { soundWall } from '../../../testing/walls.ts';
import { buildTree, distanceTo, type IndexedMesh, type Vec3, volume } from '../../mesh/index.ts';
import { hollowSpace } from '../../skin/index.ts';
import { tidied } from './walls.ts';

/** A skin over a grid of (u, v) in the unit square, without the squares whose middles `gap` takes. */
function sheet(n: number, at: (u: number, v: number) => Vec3, gap = (_u: number, _v: number): boolean => false) {
  const positions: number[] = [];
  for (let i = 0; i <= n; i++) for (let j = 0; j <= n; j++) positions.push(...at(i / n, j / n));
  const triangles: number[] = [];
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < n; j++) {
      if (gap((i + 0.5) / n, (j + 0.5) / n)) continue;
      const [a, b] = [i * (n + 1) + j, (i + 1) * (n + 1) + j];
      triangles.push(a, b, b + 1, a, b + 1, a + 1);
    }
  }
  return {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(triangles.length / 3),
  };
}

/** As far as the sides of a roof fall for each mm. */
const FALL = 0.8;
const roof = sheet(30, (u, v) => [u * 60 - 30, v * 40, 24 - Math.abs(u * 60 - 30) * FALL]);
const saddle = sheet(30, (u, v) => {
  const [x, y] = [u * 2 - 1, v * 2 - 1];
  return [x * 36, y * 36, 12 * (x * x - y * y)];
});
/** A sleeve with a square window. */
const sleeve = sheet(
  40,
  (u, v) => [22 * Math.cos(Math.PI * 1.5 * u), v * 50, 22 * Math.sin(Math.PI * 1.5 * u)],
  (u, v) => Math.abs(u - 0.5) < 0.1 && Math.abs(v - 0.5) < 0.15,
);

/** The farthest of some places from a surface, mm. */
const farthest = (mesh: IndexedMesh, places: readonly Vec3[]): number => {
  const tree = buildTree(mesh);
  return Math.max(...places.map((p) => distanceTo(tree, p)));
};

describe('a wall', () => {
  it('of a roof keeps its ridge sharp on both sides, and its rims straight', () => {
    const cell = 1;
    const wall = soundWall(roof, 3, 'inward', ([x]) => Math.abs(x) < 8);
    const ridge = (z: number): Vec3[] => Array.from({ length: 30 }, (_, i) => [0, 5 + i, z]);
    expect(farthest(wall, ridge(24))).toBeLessThan(0.1 * cell);
    // the inner sides meet where both are 3 mm from theirs
    expect(farthest(wall, ridge(24 - 3 * Math.hypot(1, FALL)))).toBeLessThan(0.1 * cell);
  });

  it.each([
    ['saddle', saddle, 'both'],
    ['saddle', saddle, 'outward'],
    ['sleeve with a window', sleeve, 'inward'],
  ] as const)('of a %s is as thick as asked, and ends where its skin does', (_, skin, side) => {
    soundWall(skin, 3, side);
  });
});

describe('a hollow', () => {
  it('has the edges and corners of what it is taken out of, and few triangles where it is flat', () => {
    const { cavity, cell } = hollowSpace(box([0, 0, 0], [40, 30, 50]), 3, []);
    const light = tidied(cavity, cell);
    expect(Math.abs(volume(light) / (34 * 24 * 44) - 1)).toBeLessThan(1e-3);
    const corners = [3, 37].flatMap((x) => [3, 27].flatMap((y) => [3, 47].map((z): Vec3 => [x, y, z])));
    expect(farthest(light, corners)).toBeLessThan(0.1 * cell);
    expect(light.tags.length).toBeLessThan(cavity.tags.length / 5);
    // a wedge: edges that are no right angles
    const wedge = meshOfSolid(
      kernel.Manifold.extrude(
        [
          [
            [0, 0],
            [60, 0],
            [20, 36],
          ],
        ],
        40,
      ),
    );
    const space = hollowSpace(wedge, 3, []);
    const made = tidied(space.cavity, space.cell);
    expect(judge(made)).toMatchObject({ status: 'NoError', closed: true });
    const inset = kernel.CrossSection.ofPolygons([
      [
        [0, 0],
        [60, 0],
        [20, 36],
      ],
    ]).offset(-3, 'Miter', 10);
    expect(Math.abs(volume(made) / (inset.area() * 34) - 1)).toBeLessThan(2e-3);
  });
});

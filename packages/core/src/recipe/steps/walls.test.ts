import { describe, expect, it } from 'vitest';
import { judge, kernel, meshOfSolid } from '../../../testing/judges.ts';
import { blob, box } from '../../../testing/shapes.ts';
import { soundUneven, soundWall } from '../../../testing/walls.ts';
import { buildTree, distanceTo, type IndexedMesh, nearest, noPlace, type Vec3, volume } from '../../mesh/index.ts';
import { evenWall, hollowSpace, varying } from '../../skin/index.ts';
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

describe('a wall that is not as thick everywhere', () => {
  // a plate with a ripple, upright
  const plate = sheet(40, (u, v) => [u * 80 - 40, 2 * Math.sin(u * 6), v * 120]);
  it.each(['inward', 'outward', 'both'] as const)('grows evenly from one end to the other, %s', (side) => {
    soundUneven(
      plate,
      { thickness: 5, side, cell: 0.8, taper: { along: [0, 0, 1], thickness: 2 } },
      5,
      ([, , z]) => 5 - (3 * z) / 120,
    );
  });

  it('is of another thickness round a marked place, and changes smoothly beside it', () => {
    const places = [{ at: [0, 0, 60] as [number, number, number], radius: 20, thickness: 4 }];
    soundUneven(plate, { thickness: 2, side: 'inward', places, cell: 0.7 }, 4, ([x, y, z]) => {
      const s = Math.min(1, Math.max(0, (Math.hypot(x, y, z - 60) - 20) / 6));
      return 4 + (2 - 4) * s * s * (3 - 2 * s);
    });
  });
});

describe('a hollow', () => {
  it('tapers and is thicker round marked places: every place of it is as far from the skin as its nearest place asks', () => {
    const body = blob(40, 40, 120, (a, z) => 40 + 3 * Math.sin(3 * a) + 4 * Math.sin(6 * z));
    const thickness = varying(6, { along: [0, 0, 1], from: -60, to: 60, thickness: 2 }, [
      { at: [40, 0, 0], radius: 10, thickness: 8 },
    ]);
    const { cavity, cell } = hollowSpace(body, thickness, []);
    const made = tidied(cavity, cell);
    expect(judge(made)).toMatchObject({ status: 'NoError', closed: true });
    const tree = buildTree(body);
    const place = noPlace();
    const all: number[] = [];
    for (let v = 0; v < made.positions.length; v += 3) {
      const [x, y, z] = made.positions.subarray(v, v + 3);
      nearest(tree, x, y, z, Infinity, place);
      all.push(Math.abs(Math.sqrt(place.squared) / thickness.at(place.x, place.y, place.z) - 1));
    }
    expect(all.length).toBeGreaterThan(500);
    expect(all.filter((off) => off > 0.05).length).toBeLessThan(all.length / 100);
  });

  it('has the edges and corners of what it is taken out of, and few triangles where it is flat', () => {
    const { cavity, cell } = hollowSpace(box([0, 0, 0], [40, 30, 50]), evenWall(3), []);
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
    const space = hollowSpace(wedge, evenWall(3), []);
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

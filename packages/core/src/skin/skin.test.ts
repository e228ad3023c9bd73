import { describe, expect, it } from 'vitest';
import { judge, kernel } from '../../testing/judges.ts';
import { blob, box, torus } from '../../testing/shapes.ts';
import {
  buildTree,
  concatenate,
  distanceTo,
  type IndexedMesh,
  subset,
  topology,
  turnedOver,
  type Vec3,
  vecOf,
  vertexAt,
  volume,
} from '../mesh/index.ts';
import { differenceOf } from '../solid/index.ts';
import { evenWall, flatFaceAt, hollowSpace, offsetSurface, samplingCost, varying, wallOf } from './index.ts';
import { LOOPS } from './table.ts';

const vertices = (m: IndexedMesh): Vec3[] =>
  Array.from({ length: m.positions.length / 3 }, (_, v) => vertexAt(m.positions, v));

/** A hemisphere's skin, open below. */
function dome(): IndexedMesh {
  const whole = blob(40, 60, 80, () => 40);
  const kept = [...whole.tags.keys()].filter((i) =>
    [0, 1, 2].every((c) => whole.positions[whole.triangles[i * 3 + c] * 3 + 2] > -1),
  );
  return subset(whole, kept);
}

describe('the table of cells', () => {
  it('gives closed surfaces: each way of inside and outside has its opposite turned over', () => {
    expect(LOOPS[0]).toHaveLength(0);
    expect(LOOPS[255]).toHaveLength(0);
    for (const loops of LOOPS) for (const loop of loops) expect(loop.length).toBeGreaterThan(2);
    expect(LOOPS[1].map((l) => l.length)).toEqual([3]);
  });
});

describe('wallOf', () => {
  it.each([
    ['inward', 37, 40],
    ['outward', 40, 43],
    ['both', 38.5, 41.5],
  ] as const)('gives a dome a wall %s, closed, of the asked thickness', (side, low, high) => {
    const { mesh, cell } = wallOf(dome(), evenWall(3), side);
    expect(topology(mesh).watertight).toBe(true);
    expect(judge(mesh).status).toBe('NoError');
    const radii = vertices(mesh)
      .filter((p) => p[2] > 8)
      .map((p) => Math.hypot(...p));
    expect(Math.min(...radii)).toBeGreaterThan(low - 0.15 * cell);
    expect(Math.max(...radii)).toBeLessThan(high + 0.15 * cell);
    // two thirds of a ball's shell, cut square at the rim
    const rim = -Math.min(...vertices(dome()).map((p) => p[2]));
    const shell = (2 / 3) * Math.PI * (high ** 3 - low ** 3) * (1 + rim / 40);
    expect(Math.abs(volume(mesh) / shell - 1)).toBeLessThan(0.03);
  });

  it('says beforehand what it takes, and stops at what is too much', () => {
    expect(samplingCost(1000, 0.5).cells).toBeCloseTo(6000, -2);
    const shares: number[] = [];
    wallOf(dome(), evenWall(6), 'both', 3, (s) => shares.push(s));
    expect(shares.length).toBeGreaterThan(5);
    expect([...shares].sort((a, b) => a - b)).toEqual(shares);
    expect(() =>
      wallOf(dome(), evenWall(6), 'both', 3, () => {
        throw new Error('stopped');
      }),
    ).toThrow('stopped');
  });
});

describe('hollowSpace', () => {
  it('is closed also where a thick place of one side meets a thin one of the other', () => {
    const plate = box([-40, -40, 0], [40, 40, 20]);
    for (const thickness of [11, 17]) {
      const place = { at: [0, 0, 20] as const, radius: 8, thickness };
      const { cavity } = hollowSpace(plate, varying(2, null, [place]), []);
      expect(topology(cavity).watertight).toBe(true);
    }
  });

  it('stays the wall away from the skin everywhere, by independent distance', () => {
    const body = torus(40, 60, 40, (a) => 14 + 2 * Math.sin(3 * a));
    const { cavity, cell } = hollowSpace(body, evenWall(3), []);
    expect(topology(cavity).watertight).toBe(true);
    const tree = buildTree(body);
    const off = vertices(cavity).map((p) => Math.abs(distanceTo(tree, p) - 3));
    expect(Math.max(...off)).toBeLessThan(0.15 * cell);
    const hollow = concatenate([body, turnedOver(cavity)]);
    expect(judge(hollow).volume).toBeCloseTo(volume(body) - volume(cavity), -1);
  });

  it('reaches out through a face that stays open', () => {
    const bell = box([0, 0, 0], [40, 40, 50]);
    const open = flatFaceAt(bell, [20, 20, 0]);
    expect(open).toHaveLength(2);
    const { cavity } = hollowSpace(bell, evenWall(4), open, 1);
    const walls = differenceOf(kernel, bell, [cavity]);
    expect(topology(walls).watertight).toBe(true);
    // four walls and a top of 4 mm; the inner edges are sampled round
    expect(Math.abs(volume(walls) / (40 * 40 * 50 - 32 * 32 * 46) - 1)).toBeLessThan(0.01);
    expect(vertices(walls).some((p) => p[2] === 0 && Math.abs(p[0] - 20) < 15 && Math.abs(p[1] - 20) < 15)).toBe(false);
  });

  it('refuses a wall thicker than the body', () => {
    expect(() => hollowSpace(box([0, 0, 0], [5, 40, 40]), evenWall(3), [])).toThrow(/nowhere thicker/);
  });
});

describe('offsetSurface', () => {
  it('moves every face by the same distance, corners mitred', () => {
    const grown = offsetSurface(box([0, 0, 0], [10, 20, 30]), 0.2);
    const size = vecOf(
      (a) => Math.max(...vertices(grown).map((p) => p[a])) - Math.min(...vertices(grown).map((p) => p[a])),
    );
    [10.4, 20.4, 30.4].forEach((x, a) => {
      expect(size[a]).toBeCloseTo(x, 2);
    });
    const ball = blob(30, 40, 60, () => 30);
    const tree = buildTree(ball);
    const off = vertices(offsetSurface(ball, 0.3)).map((p) => Math.abs(distanceTo(tree, p) - 0.3));
    expect(Math.max(...off)).toBeLessThan(0.01);
  });
});

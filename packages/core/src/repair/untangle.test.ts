import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judge, kernel } from '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, moved } from '../../testing/shapes.ts';
import { withCrossings } from '../crossing/crossed.ts';
import {
  buildBlocks,
  buildTree,
  concatenate,
  distanceTo,
  type IndexedMesh,
  insideSolid,
  type Vec3,
  vertexAt,
  volume,
} from '../mesh/index.ts';
import { toKernel } from '../solid/index.ts';
import { untangle } from './untangle.ts';

/** A closed tube about a path, its ends capped. */
function tube(path: (t: number) => Vec3, radius: number, n = 60, around = 16): IndexedMesh {
  const positions: number[] = [];
  const at = (t: number): Vec3 => path(t);
  for (let i = 0; i <= n; i++) {
    const [p, q, o] = [at(i / n - 1e-3), at(i / n + 1e-3), at(i / n)];
    const d = [0, 1, 2].map((k) => q[k] - p[k]);
    const l = Math.hypot(...d);
    const [x, y] = [d[0] / l, d[1] / l];
    for (let k = 0; k < around; k++) {
      const a = (2 * Math.PI * k) / around;
      // paths run level, so up is square to them
      positions.push(o[0] - y * radius * Math.cos(a), o[1] + x * radius * Math.cos(a), o[2] + radius * Math.sin(a));
    }
  }
  const triangles: number[] = [];
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < around; k++) {
      const [a, b] = [i * around + k, i * around + ((k + 1) % around)];
      triangles.push(a, a + around, b + around, a, b + around, b);
    }
  }
  for (let k = 1; k + 1 < around; k++) {
    triangles.push(0, k, k + 1);
    const top = n * around;
    triangles.push(top, top + k + 1, top + k);
  }
  const mesh = {
    positions: Float64Array.from(positions),
    triangles: Uint32Array.from(triangles),
    tags: new Uint32Array(triangles.length / 3),
  };
  return volume(mesh) > 0 ? mesh : { ...mesh, triangles: mesh.triangles.slice().reverse() };
}

const clean = (mesh: IndexedMesh): void => {
  expect(judge(mesh)).toMatchObject({ status: 'NoError', closed: true });
  const [{ crossed }] = withCrossings([{ mesh }]);
  expect(crossed).toMatchObject({ count: 0 });
};

describe('what passes through itself', () => {
  it('becomes the surface of all that it encloses, as the kernel’s union of the same shapes', () => {
    const place = fc.integer({ min: -25, max: 25 });
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(place, place, place), { minLength: 2, maxLength: 4, selector: String }),
        (places) => {
          const shapes = places.map(([x, y, z], i) =>
            moved(
              blob(10 + i, 14, 40, () => 20),
              (a, b, c) => [a + x, b + y, c + z],
            ),
          );
          const { mesh } = untangle(concatenate(shapes));
          clean(mesh);
          const wanted = kernel.Manifold.union(shapes.map((s) => toKernel(kernel, s))).volume();
          expect(Math.abs(volume(mesh) / wanted - 1)).toBeLessThan(1e-5);
        },
      ),
      { numRuns: runs(12), endOnFailure: true },
    );
  });

  it('of one shell, a tube that runs through itself, has no more walls inside', () => {
    // an eight: it crosses itself in the middle
    const path = (t: number): Vec3 => {
      const a = 5.4 * t - 0.587;
      return [60 * Math.sin(a), 40 * Math.sin(2 * a), 0];
    };
    const whole = tube(path, 8);
    const { mesh, pairs } = untangle(whole);
    expect(pairs).toBeGreaterThan(20);
    clean(mesh);
    const halves = [0, 1].map((h) => tube((t) => path((t + h) / 2), 8, 30));
    const wanted = kernel.Manifold.union(halves.map((s) => toKernel(kernel, s))).volume();
    expect(Math.abs(volume(mesh) / wanted - 1)).toBeLessThan(1e-5);
    // nothing new lies anywhere but on the old surface
    const tree = buildTree(whole);
    for (let v = 0; v < mesh.positions.length / 3; v++) {
      expect(distanceTo(tree, vertexAt(mesh.positions, v))).toBeLessThan(1e-5);
    }
    const blocks = buildBlocks(mesh);
    for (let k = 0; k < 20; k++) {
      const [x, y] = path(0.05 + k * 0.045);
      expect(insideSolid(blocks, [x + 0.31, y - 0.17, 0.73])).toBe(true);
    }
  });

  it('loses what is inside out, and keeps the tags of its triangles', () => {
    const ball = blob(12, 16, 40, () => 20);
    const spiked = { ...ball, positions: ball.positions.slice(), tags: ball.tags.map((_, i) => i) };
    // a place of its skin pulled through the opposite side
    const v = [...Array(ball.positions.length / 3).keys()].reduce((a, b) =>
      ball.positions[b * 3] > ball.positions[a * 3] ? b : a,
    );
    spiked.positions.set([-31, 3, 2], v * 3);
    const { mesh, pairs } = untangle(spiked);
    expect(pairs).toBeGreaterThan(2);
    clean(mesh);
    expect(volume(mesh)).toBeLessThan(volume(ball));
    expect(volume(mesh)).toBeGreaterThan(0);
    for (const tag of mesh.tags) expect(spiked.tags).toContain(tag);
  });

  it('also where shapes only touch, or share faces and edges', () => {
    for (const other of [
      box([10, 0, 0], [30, 20, 20]),
      box([10, 5, 5], [20, 15, 15]),
      box([10, 10, 0], [30, 30, 20]),
      box([5, 5, 20], [15, 15, 30]),
    ]) {
      const { mesh } = untangle(concatenate([box([0, 0, 0], [20, 20, 20]), other]));
      expect(judge(mesh).closed).toBe(true);
    }
  });

  it('leaves what is sound as it is, and refuses what is open', () => {
    const ball = blob(12, 16, 40, () => 20);
    expect(untangle(ball)).toEqual({ mesh: ball, pairs: 0 });
    const open = { ...ball, triangles: ball.triangles.slice(3), tags: ball.tags.slice(1) };
    expect(() => untangle(open)).toThrow(/closed surface/);
  });
});

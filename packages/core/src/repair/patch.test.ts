import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cross, length, normalize, scale, sub, type Vec3 } from '../mesh/index.ts';
import { type RimTriangles, triangulateRim } from './patch.ts';

/** That triangles close a rim: each rim edge once in the rim's own direction, each inner edge once either way. */
function closes(n: number, patch: RimTriangles): void {
  const edges = new Map<string, number>();
  for (const t of patch) {
    for (let e = 0; e < 3; e++) {
      const way = `${t[e]} ${t[(e + 1) % 3]}`;
      edges.set(way, (edges.get(way) ?? 0) + 1);
    }
  }
  expect(patch).toHaveLength(n - 2);
  for (const [way, count] of edges) {
    expect([way, count]).toEqual([way, 1]);
    const [i, j] = way.split(' ').map(Number);
    if ((i + 1) % n === j) edges.set(way, 0);
    else expect(edges.has(`${j} ${i}`)).toBe(true);
  }
  for (let i = 0; i < n; i++) expect(edges.get(`${i} ${(i + 1) % n}`)).toBe(0);
}

const areaOf = (rim: readonly Vec3[], patch: RimTriangles): number =>
  patch.reduce((sum, [a, b, c]) => sum + length(cross(sub(rim[b], rim[a]), sub(rim[c], rim[a]))) / 2, 0);

/** A star-shaped rim: the angles go round, the radii and heights are drawn. */
const rim = (heights: fc.Arbitrary<number>) =>
  fc.array(fc.tuple(fc.integer({ min: 20, max: 60 }), heights), { minLength: 4, maxLength: 30 }).map((corners) =>
    corners.map(([r, z], i): Vec3 => {
      const a = (i / corners.length) * 2 * Math.PI;
      return [r * Math.cos(a), r * Math.sin(a), z];
    }),
  );
const free = () => false;
const alone = (r: readonly Vec3[]) => r.map(() => null);

describe('the patch of a rim', () => {
  it('in one plane covers what the rim encloses, no more and no less', () => {
    fc.assert(
      fc.property(rim(fc.constant(5)), (r) => {
        const patch = triangulateRim(r, free, alone(r), true)!;
        closes(r.length, patch);
        const enclosed = r.reduce((sum, p, i) => {
          const q = r[(i + 1) % r.length];
          return sum + (p[0] * q[1] - q[0] * p[1]) / 2;
        }, 0);
        expect(areaOf(r, patch)).toBeCloseTo(Math.abs(enclosed), 6);
        // and looks the way the rim goes round
        for (const [a, b, c] of patch) {
          const n = cross(sub(r[b], r[a]), sub(r[c], r[a]));
          if (length(n) > 1e-9) expect(normalize(n)[2]).toBeCloseTo(1, 9);
        }
      }),
    );
  });

  it('of an uneven rim closes it, on its own corners', () => {
    fc.assert(
      fc.property(rim(fc.integer({ min: -15, max: 15 })), (r) => {
        const patch = triangulateRim(r, free, alone(r), false);
        expect(patch).not.toBeNull();
        closes(r.length, patch!);
      }),
    );
  });

  it('goes on from the surface: of the two ways over a fold it takes the one that bends least', () => {
    // two long slopes that meet in a ridge at x = 0; the rim is a notch in it
    const r: Vec3[] = [
      [-10, -5, -6],
      [0, -5, 0],
      [10, -5, -6],
      [10, 5, -6],
      [0, 5, 0],
      [-10, 5, -6],
    ];
    const beyond = (p: Vec3, q: Vec3): Vec3 => {
      const middle: Vec3 = [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2];
      // the slopes go on outwards
      return [middle[0] * 2, middle[1] * 2, -Math.abs(middle[0] * 2) * 0.6];
    };
    const outside = r.map((p, i) => beyond(p, r[(i + 1) % r.length]));
    const patch = triangulateRim(r, free, outside, false)!;
    closes(6, patch);
    // the ridge's edge is in the patch: the roof is kept and not cut off level
    const edges = patch.flatMap((t) => t.map((v, e) => [v, t[(e + 1) % 3]].sort().join()));
    expect(edges).toContain('1,4');
  });

  it('takes no edge that exists already, and says when there is no other way', () => {
    const square: Vec3[] = [
      [0, 0, 0],
      [10, 0, 0],
      [10, 10, 0],
      [0, 10, 0],
    ];
    const without =
      (...edges: string[]) =>
      (i: number, j: number) =>
        edges.includes([i, j].sort().join());
    for (const flat of [true, false]) {
      const patch = triangulateRim(square, without('0,2'), alone(square), flat)!;
      expect(patch.flatMap((t) => t.map((v, e) => [v, t[(e + 1) % 3]].sort().join()))).toContain('1,3');
      expect(triangulateRim(square, without('0,2', '1,3'), alone(square), flat)).toBeNull();
    }
  });

  it('of a long rim is found too', () => {
    const long = Array.from({ length: 200 }, (_, i): Vec3 => {
      const a = (i / 200) * 2 * Math.PI;
      return [...scale([Math.cos(a), Math.sin(a), 0.2 * Math.sin(3 * a)], 50)];
    });
    closes(200, triangulateRim(long, free, alone(long), false)!);
  });
});

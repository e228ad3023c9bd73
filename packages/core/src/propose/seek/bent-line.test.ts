import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel, meshOfSolid } from '../../../testing/judges.ts';
import { cutBy } from '../../../testing/plans.ts';
import { runs } from '../../../testing/runs.ts';
import { box } from '../../../testing/shapes.ts';
import { cross, dot, type IndexedMesh, triangleCross, type Vec3 } from '../../mesh/index.ts';
import { bentAlong } from './bent-line.ts';
import { colourLines } from './colour-lines.ts';

/** A column in triangles of some 4 mm. */
const column = meshOfSolid(kernel.Manifold.cylinder(160, 34, 34, 64, true).refineToLength(4));
const middle = ({ positions: p, triangles: t }: IndexedMesh, i: number): Vec3 => {
  const at = (k: number): number => [0, 1, 2].reduce((sum, c) => sum + p[t[3 * i + c] * 3 + k] / 3, 0);
  return [at(0), at(1), at(2)];
};
const painted = (mesh: IndexedMesh, colour: (at: Vec3) => number): IndexedMesh => ({
  ...mesh,
  tags: Uint32Array.from(mesh.tags, (_, i) => colour(middle(mesh, i))),
});

describe('a bent line along a closed one', () => {
  it('is swept as the wave that was painted, and parts the colours better than the plane', () => {
    const wave = fc.record({
      way: fc.double({ min: 0, max: Math.PI, noNaN: true }),
      height: fc.double({ min: 9, max: 20, noNaN: true }),
      waves: fc.double({ min: 0.03, max: 0.07, noNaN: true }),
      phase: fc.double({ min: 0, max: 6, noNaN: true }),
    });
    fc.assert(
      fc.property(wave, ({ way, height, waves, phase }) => {
        const across: Vec3 = [-Math.sin(way), Math.cos(way), 0];
        const level = (at: Vec3): number => height * Math.sin(waves * dot(at, across) + phase);
        const mesh = painted(column, (at) => (at[2] > level(at) ? 1 : 0));
        const [line] = colourLines(mesh);
        fc.pre(line.bent !== null);
        const { sweep, points, worst, mean } = line.bent!;
        // the border runs along triangles of some 4 mm
        expect(worst).toBeLessThan(5.5);
        expect(mean).toBeLessThan(1.8);
        expect(worst).toBeLessThan(0.6 * line.worst);
        expect(Math.abs(dot(sweep, line.normal))).toBeLessThan(1e-9);
        const { at: origin, normal: up } = line;
        const e = cutBy({ ...mesh, tags: new Uint32Array(mesh.tags.length) }, [
          {
            id: 's1',
            kind: 'profile',
            origin: [...origin] as [number, number, number],
            normal: [...sweep] as [number, number, number],
            up: [...up] as [number, number, number],
            points: points.map(([t, h]) => [t, h]),
          },
        ]);
        expect(e.pieces).toHaveLength(2);
        // each piece is of one colour: told by where its triangles lie
        const astray = e.pieces.map(({ solid }) => {
          const areas = [0, 0];
          solid.tags.forEach((_, i) => {
            const at = middle(solid, i);
            if (Math.abs(at[2]) < 79)
              areas[at[2] > level(at) ? 1 : 0] += Math.hypot(...triangleCross(solid.positions, solid.triangles, i)) / 2;
          });
          return Math.min(...areas) / (areas[0] + areas[1]);
        });
        for (const share of astray) expect(share).toBeLessThan(0.04);
      }),
      { numRuns: runs(8) },
    );
  });

  it('is none where the plane follows as well, and of several limbs none', () => {
    const flat = painted(column, (at) => (at[2] > 0.2 * at[0] ? 1 : 0));
    expect(colourLines(flat)[0].bent).toBeNull();
    const posts = [0, 100].map((x) =>
      meshOfSolid(kernel.Manifold.cube([40, 40, 120], true).refineToLength(4).translate([x, 0, 0])),
    );
    const foot = box([-20, -20, -80], [120, 20, -60]);
    expect(foot.tags.length).toBe(12);
    const both = meshOfSolid(
      kernel.Manifold.union(
        [...posts, foot].map(
          (m) =>
            new kernel.Manifold(
              new kernel.Mesh({ numProp: 3, vertProperties: Float32Array.from(m.positions), triVerts: m.triangles }),
            ),
        ),
      ),
    );
    const wavy = painted(both, ([x, , z]) => (x < 30 && z > 12 * Math.sin(x / 9) ? 1 : 0));
    expect(colourLines(wavy).every((l) => l.bent === null)).toBe(true);
  });

  it('goes through places that lie on one', () => {
    // a saddle: up where it crosses x, down where it crosses y
    const normal: Vec3 = [0, 0, 1];
    const circle = (h: (x: number, y: number) => number): Vec3[] =>
      Array.from({ length: 120 }, (_, i) => {
        const [x, y] = [50 * Math.cos((i * Math.PI) / 60), 50 * Math.sin((i * Math.PI) / 60)];
        return [x, y, h(x, y)];
      });
    const bent = bentAlong(
      circle((x) => x * x * 0.008),
      { at: [0, 0, 0], normal },
    )!;
    expect(Math.abs(bent.sweep[1])).toBeCloseTo(1, 6);
    expect(bent.worst).toBeLessThan(0.5);
    expect(bent.points.length).toBeLessThan(16);
    expect(dot(cross(normal, bent.sweep), [1, 0, 0]) ** 2).toBeCloseTo(1, 6);
    expect(
      bentAlong(
        circle(() => 0.3),
        { at: [0, 0, 0], normal },
      ),
    ).toBeNull();
  });
});

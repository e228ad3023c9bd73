import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel, meshOfSolid } from '../../../testing/judges.ts';
import { runs } from '../../../testing/runs.ts';
import { box, torus } from '../../../testing/shapes.ts';
import { dot, type IndexedMesh, normalize, sub, type Vec3 } from '../../mesh/index.ts';
import { colourLines } from './colour-lines.ts';

/** The mesh with the triangles coloured by their middles. */
const painted = (mesh: IndexedMesh, colour: (x: number, y: number, z: number) => number): IndexedMesh => {
  const { positions: p, triangles: t } = mesh;
  const tags = Uint32Array.from({ length: t.length / 3 }, (_, i) => {
    const [x, y, z] = [0, 1, 2].map(
      (k) => (p[t[i * 3] * 3 + k] + p[t[i * 3 + 1] * 3 + k] + p[t[i * 3 + 2] * 3 + k]) / 3,
    );
    return colour(x, y, z);
  });
  return { ...mesh, tags };
};

const ball = meshOfSolid(kernel.Manifold.sphere(50, 96));
const bar = meshOfSolid(kernel.Manifold.cube([40, 40, 200], true).refine(40));

describe('lines between colours', () => {
  it('are followed by the plane that was painted along, however it lies, within the size of its triangles', () => {
    const part = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.tuple(part, part, part).filter((d) => Math.hypot(...d) > 0.2),
        fc.double({ min: -20, max: 20, noNaN: true }),
        (d, offset) => {
          const normal = normalize(d as unknown as Vec3);
          const [line, ...others] = colourLines(painted(ball, (x, y, z) => (dot(normal, [x, y, z]) > offset ? 1 : 0)));
          expect(others).toEqual([]);
          expect(Math.abs(dot(line.normal, normal))).toBeGreaterThan(0.999);
          expect(Math.abs(dot(line.at, normal) - offset)).toBeLessThan(2);
          expect(line.worst).toBeLessThan(3.3);
          expect(line.mean).toBeLessThanOrEqual(line.worst);
          expect(new Set(line.colours)).toEqual(new Set([0, 1]));
          expect(line.cut).toEqual({ kind: 'across', seed: null });
        },
      ),
      { numRuns: runs(40) },
    );
  });

  it('of a band are two, each of which is cut; of a patch one, which no cut parts from the rest', () => {
    const band = colourLines(painted(bar, (_, __, z) => (Math.abs(z) < 30 ? 1 : 0)));
    expect(band.map((l) => Math.round(Math.abs(dot(l.at, [0, 0, 1]))))).toEqual([30, 30]);
    for (const l of band) {
      expect(l.cut.kind).toBe('across');
      expect(l.worst).toBeLessThan(1e-9);
      expect(l.length).toBeCloseTo(160, 6);
    }
    const eye = colourLines(painted(ball, (x, _, z) => (x > 0 && Math.hypot(x - 50, z) < 15 ? 1 : 0)));
    expect(eye.map((l) => l.cut.kind)).toEqual(['patch']);
  });

  it('through one limb of several tell a place in that limb', () => {
    const [line] = colourLines(
      painted(
        torus(90, 40, 24, () => 25),
        (x, y) => (x > 0 && Math.abs(y) < 1e6 && x > 40 && y > 0 ? 1 : 0),
      ),
    ).filter((l) => l.cut.kind === 'across');
    expect(line.cut.kind === 'across' && line.cut.seed).toBeTruthy();
    const seed = (line.cut as { seed: Vec3 }).seed;
    expect(Math.hypot(Math.hypot(seed[0], seed[1]) - 90, seed[2])).toBeLessThan(25);
    expect(Math.hypot(...sub(seed, line.at))).toBeLessThan(30);
  });

  it('of something in one colour, or of specks, are none', () => {
    expect(colourLines(box([0, 0, 0], [40, 40, 40]))).toEqual([]);
    const speck = painted(ball, () => 0);
    speck.tags[100] = 1;
    expect(colourLines(speck).every((l) => l.length > 5)).toBe(true);
    expect(
      colourLines({ positions: new Float64Array(0), triangles: new Uint32Array(0), tags: new Uint32Array(0) }),
    ).toEqual([]);
  });

  it('where three colours meet go round each of them', () => {
    const lines = colourLines(painted(bar, (x, _, z) => (z > 0 ? 2 : x > 0 ? 1 : 0)));
    expect(lines.some((l) => l.cut.kind === 'across' && Math.abs(l.normal[2]) > 0.999 && l.colours.includes(2))).toBe(
      true,
    );
    for (const l of lines) expect(l.mean).toBeGreaterThanOrEqual(0);
  });
});

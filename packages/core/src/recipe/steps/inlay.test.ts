import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judge, kernel, meshOfSolid } from '../../../testing/judges.ts';
import { modelOfMeshes } from '../../../testing/models.ts';
import { runs } from '../../../testing/runs.ts';
import { bodiesOf } from '../../body/index.ts';
import { parsePlan, type StepInput } from '../../document/index.ts';
import { type IndexedMesh, normalize, triangleCross, type Vec3, volume } from '../../mesh/index.ts';
import { toKernel } from '../../solid/index.ts';
import { applyRecipe, modelOf } from '../index.ts';

type Inlay = Omit<Extract<StepInput, { kind: 'inlay' }>, 'kind'>;

const painted = (mesh: IndexedMesh, isPatch: (x: number, y: number, z: number) => boolean): IndexedMesh => {
  const { positions: p, triangles: t } = mesh;
  const middle = (i: number, k: number): number => (p[t[i] * 3 + k] + p[t[i + 1] * 3 + k] + p[t[i + 2] * 3 + k]) / 3;
  return {
    ...mesh,
    tags: Uint32Array.from({ length: t.length / 3 }, (_, i) =>
      isPatch(middle(3 * i, 0), middle(3 * i, 1), middle(3 * i, 2)) ? 1 : 2,
    ),
  };
};

const PALETTE = ['', '#2c7a66', '#1f5673'].map((colour) => ({ name: '', colour }));

const inlaid = (mesh: IndexedMesh, step: Inlay) => {
  const { recipe } = parsePlan({
    version: 5,
    printer: { size: [220, 220, 250] },
    recipe: [{ kind: 'inlay', ...step }],
  });
  const { bodies, reports } = applyRecipe(recipe, modelOf(bodiesOf(modelOfMeshes([mesh], PALETTE), 'Shield')), {
    tools: { kernel },
  });
  return { bodies, notes: reports[0].notes };
};

const ball = meshOfSolid(kernel.Manifold.sphere(40, 128));

describe('an inlay', () => {
  it('of a patch anywhere on a ball drops in: nothing overlaps, its gap is all round, and its skin is the ball’s own', () => {
    const part = fc.double({ min: -1, max: 1, noNaN: true });
    const wish = fc.record({
      way: fc.tuple(part, part, part).filter((d) => Math.hypot(...d) > 0.2),
      wide: fc.double({ min: 0.25, max: 0.7, noNaN: true }),
      depth: fc.double({ min: 1, max: 6, noNaN: true }),
      gap: fc.constantFrom(0, 0.1, 0.25),
    });
    fc.assert(
      fc.property(wish, ({ way, wide, depth, gap }) => {
        const n = normalize(way as unknown as Vec3);
        const mesh = painted(
          ball,
          (x, y, z) => (x * n[0] + y * n[1] + z * n[2]) / Math.hypot(x, y, z) > Math.cos(wide),
        );
        const { bodies, notes } = inlaid(mesh, { at: [40 * n[0], 40 * n[1], 40 * n[2]], depth, gap });
        expect(bodies).toHaveLength(2);
        expect(notes.join()).toMatch(/body of its own/);
        const [rest, put] = bodies;
        for (const b of bodies) expect(judge(b.mesh)).toMatchObject({ status: 'NoError', closed: true });
        const [a, b] = [rest, put].map((x) => toKernel(kernel, x.mesh));
        expect(a.intersect(b).volume()).toBeLessThan(1e-2);
        if (gap > 0) expect(a.minGap(b, 1)).toBeGreaterThan(gap * 0.98 - 2e-3);
        // it is drawn out along the way it dropped in
        expect(a.intersect(b.translate([3 * n[0], 3 * n[1], 3 * n[2]])).volume()).toBeLessThan(0.02 * b.volume());
        // what is gone is the gap alone
        const lost = volume(mesh) - volume(rest.mesh) - volume(put.mesh);
        const rim = 2 * Math.PI * 40 * Math.sin(wide);
        expect(lost).toBeGreaterThanOrEqual(-1e-2);
        expect(lost).toBeLessThan(
          gap * (rim * (depth + 40 * (1 - Math.cos(wide)) + 2) + Math.PI * (40 * Math.sin(wide)) ** 2) * 1.2 + 1e-2,
        );
        // no point of it lies outside the ball
        const { positions: p } = put.mesh;
        for (let k = 0; k < p.length; k += 3) expect(Math.hypot(p[k], p[k + 1], p[k + 2])).toBeLessThan(40.001);
        // each has its own colour all over
        expect(new Set(put.mesh.tags)).toEqual(new Set([1]));
        const left = rest.mesh.tags.reduce(
          (sum, tag, i) =>
            sum + (tag === 1 ? Math.hypot(...triangleCross(rest.mesh.positions, rest.mesh.triangles, i)) : 0),
          0,
        );
        expect(left).toBeLessThan(1e-2);
      }),
      { numRuns: runs(10) },
    );
  });

  it('leaves a ring’s inside alone, and says what stays under it', () => {
    const plate = meshOfSolid(kernel.Manifold.cube([80, 80, 4], true).refine(40));
    const ring = painted(plate, (x, y, z) => z > 1.9 && Math.hypot(x, y) < 30 && Math.hypot(x, y) > 14);
    const { bodies, notes } = inlaid(ring, { at: [22, 0, 2], depth: 3.5, gap: 0.1 });
    expect(bodies).toHaveLength(2);
    expect(notes.join()).toMatch(/Only 0\.5 mm stay under it/);
    expect(toKernel(kernel, bodies[1].mesh).genus()).toBe(1);
    expect(() => inlaid(ring, { at: [22, 0, 2], depth: 4.2 })).toThrow(/come out on the other side/);
  });

  it('is refused where there is no patch, or one that bends too far round', () => {
    expect(() =>
      inlaid(
        painted(ball, () => false),
        { at: [40, 0, 0] },
      ),
    ).toThrow(/one colour all over/);
    const cap = painted(ball, (x) => x > -20);
    expect(() => inlaid(cap, { at: [40, 0, 0] })).toThrow(/bends too far round/);
  });
});

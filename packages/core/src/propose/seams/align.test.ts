import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { judge, kernel, meshOfSolid } from '../../../testing/judges.ts';
import { modelOfMesh, planOf, propose } from '../../../testing/proposing.ts';
import { runs } from '../../../testing/runs.ts';
import { box, together } from '../../../testing/shapes.ts';
import { pieceMesh } from '../../evaluate/index.ts';
import { distance, dot, type IndexedMesh, mirrorIn, volume } from '../../mesh/index.ts';
import { loadSimplifier } from '../../solid/index.ts';
import { EVEN_WISHES, type Proposal } from './proposal.ts';

beforeAll(loadSimplifier);

/** Pairs of seams of one direction and how far their planes are apart, mm. */
const neighbours = ({ seams }: Proposal): number[] =>
  seams.flatMap((a, i) =>
    seams.slice(i + 1).flatMap((b) => {
      if (dot(a.normal, b.normal) < 1 - 1e-12) return [];
      return Math.abs(dot(a.normal, b.origin) - dot(a.normal, a.origin));
    }),
  );

/** A top with four legs of a length, all too long for the printer. */
const table = (leg: number): IndexedMesh => {
  const legs = [
    [0, 0],
    [70, 0],
    [0, 70],
    [70, 70],
  ].map(([x, y]) => kernel.Manifold.cube([22, 22, leg]).translate([x, y, 0]));
  const whole = kernel.Manifold.union([...legs, kernel.Manifold.cube([92, 92, 24]).translate([0, 0, leg - 1])]);
  return meshOfSolid(whole);
};

describe('seams in one plane', () => {
  it('become one, which is meant for all their pieces', () => {
    const { seams, figures, evaluation } = propose(planOf(), modelOfMesh(box([0, 0, 0], [150, 150, 60])), {
      wishes: { ...EVEN_WISHES, hidden: 1.1 },
    });
    expect(figures).toMatchObject({ pieces: 4, fits: 4, closed: 4 });
    expect(seams.map((s) => s.scope?.length).sort()).toEqual([1, 2]);
    const keys = evaluation.pieces.map((p) => p.key);
    for (const key of seams.flatMap((s) => s.scope ?? [])) expect(keys).not.toContain(key);
    // what was said of the place of one is not said of both
    const [joint] = seams.filter((s) => s.scope?.length === 2);
    expect(joint.reasons?.map((r) => r.kind)).toEqual(['fits', 'shared']);
    expect(joint.reasons).toContainEqual({ kind: 'shared', limbs: 2 });
    expect(evaluation.findings.filter((f) => f.code === 'seam.coincident' || f.severity === 'stop')).toEqual([]);
  });

  it('leave no other in their plane, whatever block is parted, and nothing of it is lost', () => {
    const side = fc.double({ min: 90, max: 260, noNaN: true });
    fc.assert(
      fc.property(side, side, side, (x, y, z) => {
        const model = modelOfMesh(box([0, 0, 0], [x, y, z]));
        const proposal = propose(planOf(), model);
        const { pieces } = proposal.evaluation;
        expect(proposal.figures).toMatchObject({ fits: pieces.length, closed: pieces.length });
        expect(pieces.reduce((sum, p) => sum + p.volume, 0)).toBeCloseTo(x * y * z, 3);
        for (const p of pieces) expect(judge(pieceMesh(p).mesh).volume / p.volume).toBeCloseTo(1, 6);
        for (const apart of neighbours(proposal)) expect(apart).toBeGreaterThan(0.02);
      }),
      { numRuns: runs(6) },
    );
  });

  it('are left where they are when both sides are to be alike', () => {
    const mesh = table(260);
    const model = modelOfMesh(mesh);
    const mirror = mirrorIn({ at: [46, 46, 100], normal: [1, 0, 0] });
    const alike = propose(planOf(), model, { mirror });
    expect(alike.unlike).toBe(0);
    expect(alike.figures).toMatchObject({ fits: alike.figures.pieces, closed: alike.figures.pieces });
    expect(alike.evaluation.pieces.reduce((sum, p) => sum + p.volume, 0)).toBeCloseTo(volume(mesh), 3);
  });

  it('of bodies that stand apart are one seam, too', () => {
    const two = together(box([0, 0, 0], [60, 60, 200]), box([80, 0, 0], [140, 60, 200]));
    const { seams, figures } = propose(planOf(), modelOfMesh(two));
    expect(figures.pieces).toBe(4);
    expect(seams).toHaveLength(1);
    expect(seams[0].scope).toHaveLength(2);
    expect(distance(seams[0].normal, [0, 0, 1])).toBeLessThan(1e-9);
  });
});

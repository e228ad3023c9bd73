import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, kernel } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { cutBy, flat, printer } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { box } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/index.ts';
import { parsePlan } from '../document/index.ts';
import { evaluateModel } from '../evaluate/index.ts';
import { finished } from '../finished.ts';
import { modelOf } from '../recipe/index.ts';
import { overlapFindings, overlapsAtRest } from './at-rest.ts';

describe('pieces in their places', () => {
  it('are told when they are in each other, by how much, worked out by hand', () => {
    const side = fc.integer({ min: 10, max: 40 });
    fc.assert(
      fc.property(fc.tuple(side, side, side), fc.integer({ min: -8, max: 8 }), ([w, d, h], gap) => {
        // two blocks side by side, so far apart, or in each other by as much
        const meshes = [box([0, 0, 0], [w, d, h]), box([w + gap, 0, 0], [2 * w + gap, d, h])];
        const model = modelOf(bodiesOf(modelOfMeshes(meshes), 'Test'));
        const e = evaluateModel(parsePlan({ version: 5, printer }), model, { fallback, kernel });
        const found = finished(overlapsAtRest(e, kernel));
        if (gap >= 0) expect(found).toEqual([]);
        else {
          expect(found).toHaveLength(1);
          expect(found[0].volume / (-gap * d * h)).toBeCloseTo(1, 4);
          const [finding] = overlapFindings(found, (key) => e.pieces.find((p) => p.key === key)!.code);
          expect(finding.message).toContain(`A1 and B1 are in each other by ${(-gap * d * h).toFixed(0)} mm³`);
        }
      }),
      { numRuns: runs(40) },
    );
  });

  it('only touch when they are cut from one another, with joints between them', () => {
    const seams = [flat('s1', [20, 20, 90], [0, 0, 1]), flat('s2', [20, 20, 180], [0.3, 0, 1])];
    const joints = seams.map((s, i) => ({
      id: `j${i}`,
      kind: 'pin' as const,
      seam: s.id as string,
      at: [0, 0] as [number, number],
      diameter: 8,
      depth: 8,
    }));
    const e = cutBy(box([0, 0, 0], [40, 40, 270]), seams, { joints });
    expect(e.joints.every((j) => j.built)).toBe(true);
    expect(finished(overlapsAtRest(e, kernel))).toEqual([]);
  });
});

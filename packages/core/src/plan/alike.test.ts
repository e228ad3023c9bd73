import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, kernel } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { blob, box, moved, torus } from '../../testing/shapes.ts';
import { type IndexedMesh, mapped, turning } from '../mesh/index.ts';
import { bodiesOf } from '../repair/index.ts';
import { alikePieces, pieceDeviation } from './alike.ts';
import { type Evaluation, evaluate } from './evaluate.ts';
import { type PlanInput, parsePlan } from './schema.ts';

const printer = { size: [220, 220, 250] as [number, number, number] };

const run = (meshes: readonly IndexedMesh[], plan: Partial<PlanInput> = {}): Evaluation =>
  evaluate(parsePlan({ version: 1, printer, ...plan }), bodiesOf(modelOfMeshes(meshes), 'Test').bodies, {
    fallback,
    kernel,
  });

/** A shape without any symmetry. */
const odd = blob(20, 24, 60, (a, z) => 20 + 4 * Math.cos(a + 0.4) + 3 * Math.cos(2 * a + 3 * z) + 5 * z);
const mirroredX = (m: IndexedMesh): IndexedMesh => {
  const flipped = moved(m, (x, y, z) => [-x, y, z]);
  return {
    ...flipped,
    triangles: flipped.triangles.map((_, i, t) => t[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1]),
  };
};
const away = (m: IndexedMesh, d: number): IndexedMesh => moved(m, (x, y, z) => [x + d, y, z]);

describe('alikePieces', () => {
  it('six segments of a hoop are one file six times', () => {
    const hoop = torus(100, 96, 24, (a) => 12 + Math.cos(6 * a));
    const fan = {
      id: 'f',
      kind: 'fan' as const,
      origin: [0, 0, 0] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
      count: 6,
    };
    const [group, ...others] = alikePieces(run([hoop], { seams: [fan] }), 0.05);
    expect(group.same).toHaveLength(5);
    expect(group.mirrored).toEqual([]);
    // the fan is moved off the vertices by a ten-millionth of the size
    expect(group.deviation).toBeLessThan(1e-4);
    expect(others).toEqual([]);
  });

  it('knows a piece however it is turned, and a mirror twin from a copy', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -30, max: 30 }),
        fc.tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: 1, max: 9 })),
        fc.boolean(),
        (angle, [x, y], twin) => {
          const turned = mapped(odd, turning([x, y, 3], angle / 10, [0, 0, 0]));
          const e = run([odd, away(twin ? mirroredX(turned) : turned, 150)]);
          const [group] = alikePieces(e, 0.05);
          expect([group.same.length, group.mirrored.length]).toEqual(twin ? [0, 1] : [1, 0]);
          expect(group.deviation).toBeLessThan(1e-5);
        },
      ),
      { numRuns: 15 },
    );
  });

  it('tells apart what differs by more than the tolerance, and says by how much', () => {
    const a = box([0, 0, 0], [40, 30, 20]);
    const b = away(box([0, 0, 0], [40, 30, 20.3]), 100);
    expect(alikePieces(run([a, b]), 0.05)).toEqual([]);
    const [group] = alikePieces(run([a, b]), 0.5);
    expect(group.deviation).toBeGreaterThan(0.14);
    expect(group.deviation).toBeLessThan(0.31);
    const e = run([a, b]);
    expect(pieceDeviation(e.pieces[0], e.pieces[1], false)).toBeCloseTo(0.15, 2);
  });

  it('a joint makes a piece another file', () => {
    const bar = box([0, 0, 0], [30, 30, 120]);
    const seams = [40, 80].map((z, i) => ({
      id: `s${i}`,
      kind: 'flat' as const,
      origin: [0, 0, z] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
    }));
    expect(alikePieces(run([bar], { seams }), 0.05)[0].same).toHaveLength(2);
    const joint = {
      id: 'j',
      kind: 'pin' as const,
      seam: 's0',
      at: [15, 15] as [number, number],
      diameter: 8,
      depth: 8,
    };
    const plain = run([bar], { seams, joints: [{ ...joint, at: [15, 15] }] });
    expect(plain.joints[0].built).toBe(true);
    expect(alikePieces(plain, 0.05)).toEqual([]);
  });
});

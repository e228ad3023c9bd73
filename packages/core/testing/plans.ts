import fc from 'fast-check';
import { expect } from 'vitest';
import { bodiesOf } from '../src/body/index.ts';
import { type PlanInput, parsePlan } from '../src/document/schema.ts';
import { evaluate } from '../src/evaluate/evaluate.ts';
import type { Evaluation } from '../src/evaluate/model.ts';
import { pieceMesh } from '../src/evaluate/piece-mesh.ts';
import { toPrintable } from '../src/formats/index.ts';
import { type IndexedMesh, topology, volume } from '../src/mesh/index.ts';
import type { SeamInput } from '../src/seams/kinds/index.ts';
import { fallback, judge, kernel } from './judges.ts';
import { modelOfMeshes } from './models.ts';

export const printer = { name: 'Desktop 220', size: [220, 220, 250] as [number, number, number] };

/** Evaluates seams over a mesh, bodies as the importer makes them. */
export function cutBy(mesh: IndexedMesh, seams: readonly SeamInput[], more: Partial<PlanInput> = {}): Evaluation {
  const plan = parsePlan({ version: 5, printer, seams: seams as SeamInput[], ...more });
  return evaluate(plan, bodiesOf(modelOfMeshes([mesh]), 'Test').bodies, { fallback, kernel });
}

export const flat = (id: string, origin: readonly number[], normal: readonly number[], more: object = {}) =>
  ({ id, kind: 'flat', origin, normal, ...more }) as SeamInput;
export const fan = (
  id: string,
  origin: readonly number[],
  normal: readonly number[],
  count: number,
  more: object = {},
) => ({ id, kind: 'fan', origin, normal, count, ...more }) as SeamInput;

/**
 * Every piece closed and taken by the kernel, volumes adding up, and both sides of every plane alike in area, each side by
 * its own total.
 */
export function sound(mesh: IndexedMesh, e: Evaluation, slack = 1e-9): void {
  const whole = volume(mesh);
  const sum = e.pieces.reduce((s, p) => s + p.volume, 0);
  expect(Math.abs(sum / whole - 1)).toBeLessThan(slack);
  const sides = new Map<string, number>();
  for (const piece of e.pieces) {
    const { mesh: own } = pieceMesh(piece);
    expect(topology(own).watertight).toBe(true);
    expect(volume(own)).toBeGreaterThan(0);
    const said = judge(toPrintable(own).mesh);
    expect(said.status).toBe('NoError');
    expect(Math.abs(said.volume - piece.volume)).toBeLessThan(1e-5 * whole);
    for (const cap of piece.solid.caps) sides.set(cap.seam, (sides.get(cap.seam) ?? 0) + cap.side * cap.area);
  }
  const largest = Math.max(1e-12, ...e.faces.map((f) => f.area));
  for (const difference of sides.values())
    expect(Math.abs(difference)).toBeLessThan(slack * Math.max(largest, whole ** (2 / 3)));
}

const whole = (low: number, high: number) => fc.integer({ min: low, max: high });
const axis = fc
  .tuple(whole(-10, 10), whole(-10, 10), whole(-10, 10))
  .filter((d) => Math.hypot(...d) > 3)
  .map((d) => d.map((x) => x / 10));

/** Seams of every kind that is cut without the kernel, round a place within `reach` of the origin, mm. */
export function anySeam(reach: number) {
  const place = fc.tuple(whole(-reach, reach), whole(-reach, reach), whole(-reach, reach));
  return fc.oneof(
    fc.record({ kind: fc.constant('flat' as const), origin: place, normal: axis }),
    fc.record({
      kind: fc.constant('flat' as const),
      origin: place,
      normal: axis,
      regions: fc.record({
        mode: fc.constantFrom('only', 'allBut'),
        seeds: fc.array(fc.tuple(whole(-2 * reach, 2 * reach), whole(-2 * reach, 2 * reach)), {
          minLength: 1,
          maxLength: 3,
        }),
      }),
    }),
    fc.record({
      kind: fc.constant('fan' as const),
      origin: place,
      normal: axis,
      count: whole(2, 7),
      phase: whole(0, 60).map((x) => x / 10),
    }),
  );
}

/** Generated seams as a plan's, s1, s2 … in order. */
export const numbered = (seams: readonly object[]): SeamInput[] =>
  seams.map((seam, i) => ({ id: `s${i + 1}`, ...seam }) as SeamInput);

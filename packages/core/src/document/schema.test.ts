import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { fallback } from '../../testing/judges.ts';
import { blob } from '../../testing/shapes.ts';
import { shapeOf } from '../body/bodies.ts';
import { evaluate } from '../evaluate/evaluate.ts';
import { applyChange, freeId } from './change.ts';
import { checkPlan, parsePlan } from './schema.ts';

const doc = readFileSync(fileURLToPath(new URL('../../../../docs/plan-format.md', import.meta.url)), 'utf8');
const example: unknown = JSON.parse(/```json\n([\s\S]*?)```/.exec(doc)![1]);

const mesh = blob(24, 30, 300, () => 60);
const raised = { ...mesh, positions: mesh.positions.map((x, i) => (i % 3 === 2 ? x + 150 : x)) };
const body = { id: 'b1', name: 'float', part: 0, ...shapeOf(raised) };

describe('the plan document', () => {
  it('runs as the documentation has it', () => {
    const e = evaluate(parsePlan(example), [body], { fallback });
    expect(e.pieces).toHaveLength(2);
    expect(e.joints.every((j) => j.built)).toBe(true);
    expect(e.findings).toEqual([]);
  });

  it('fills in defaults', () => {
    const plan = parsePlan({ version: 5, printer: { size: [100, 100, 100] } });
    expect(plan).toMatchObject({
      recipe: [],
      seams: [],
      joints: [],
      printer: { margin: 2, nozzle: 0.4, kind: 'filament' },
    });
  });

  it.each([
    [{ version: 99, printer: { size: [1, 1, 1] } }, 'version'],
    [{ version: 5, printer: { size: [100, 100, 'x'] } }, 'printer.size[2]'],
    [{ version: 5, printer: { size: [100, 100, 100] }, seam: [] }, 'document'],
    [
      {
        version: 5,
        printer: { size: [100, 100, 100] },
        seams: [{ id: 'a b', kind: 'flat', origin: [0, 0, 0], normal: [0, 0, 1] }],
      },
      'seams[0].id',
    ],
    [
      {
        version: 5,
        printer: { size: [100, 100, 100] },
        joints: [{ id: 'j', kind: 'pin', seam: 's9', at: [0, 0], diameter: 5, depth: 5 }],
      },
      'joints[0].seam',
    ],
    [null, 'document'],
  ])('names what is wrong by its path (%#)', (input, path) => {
    expect(checkPlan(input).issues.map((i) => i.path)).toContain(path);
    expect(() => parsePlan(input)).toThrow(/^(This plan cannot be used: |This plan was written by a newer)/);
  });

  it('a chamfer as wide as the pin and a socket shallower than it are refused', () => {
    const plan = parsePlan(example);
    for (const set of [{ chamfer: 3 }, { socketDepth: 4 }]) {
      expect(() => applyChange(plan, { do: 'setJoint', id: 'j1', set })).toThrow(/must/);
    }
  });

  it('removing a seam removes its joints, and ids are used again', () => {
    const plan = applyChange(parsePlan(example), { do: 'removeSeam', id: 's1' });
    expect([plan.seams.length, plan.joints.length]).toEqual([0, 0]);
    expect(freeId('s', plan.seams)).toBe('s1');
  });

  it('seams keep their order but for the one that is moved', () => {
    const seam = (id: string) => ({
      id,
      name: '',
      kind: 'flat' as const,
      origin: [0, 0, 0] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
      enabled: true,
    });
    const plan = parsePlan({ version: 5, printer: { size: [100, 100, 100] }, seams: ['a', 'b', 'c'].map(seam) });
    expect(applyChange(plan, { do: 'moveSeam', id: 'c', to: 0 }).seams.map((s) => s.id)).toEqual(['c', 'a', 'b']);
  });
});

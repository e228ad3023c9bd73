import { type StepInput, type StepReport, stepSchema } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { angleAt } from './measure-panel.tsx';
import { reportsByPlace } from './recipe.tsx';
import { changesOf, deviationText, tidy } from './steps.ts';

const step = (input: StepInput) => stepSchema.parse(input);
const counts = {
  bodies: 3,
  closed: 1,
  triangles: 1200,
  openEdges: 14,
  nonManifoldEdges: 0,
  inconsistentEdges: 0,
  volume: 5000,
};
const report = (after: Partial<typeof counts>, deviation: StepReport['deviation'] = null): StepReport => ({
  index: 0,
  before: counts,
  after: { ...counts, ...after },
  notes: [],
  deviation,
});

describe('what a step did', () => {
  it('tells only the numbers that it changed', () => {
    expect(changesOf(report({ openEdges: 0, closed: 3, volume: 5_240_000 }))).toEqual([
      ['Closed', '1 → 3'],
      ['Open edges', '14 → 0'],
      ['Volume, cm³', '5 → 5,240'],
    ]);
    expect(changesOf(report({}))).toEqual([]);
  });

  it('says how far it moved what was there, and how far what it added lies from it', () => {
    expect(deviationText(report({}))).toBe('');
    expect(deviationText(report({}, { old: 0.01234, added: 0.01234 }))).toBe(
      'What was there has moved by at most 0.012 mm.',
    );
    expect(deviationText(report({}, { old: 0, added: 8.938 }))).toMatch(
      /at most 0\.000 mm; what was added lies up to 8\.94 mm/,
    );
  });

  it('has its report by its place among all steps, those that are off included', () => {
    const recipe = [
      step({ kind: 'scale', factor: 2, enabled: false }),
      step({ kind: 'mend' }),
      step({ kind: 'weld', tolerance: 1, enabled: false }),
      step({ kind: 'join' }),
    ];
    const reports = reportsByPlace(recipe, [report({}), { ...report({}), index: 1 }]);
    expect([...reports.keys()]).toEqual([1, 3]);
  });
});

describe('places and angles', () => {
  it('are kept without the last digits, and measured at the middle place', () => {
    expect(tidy([1 / 3, -1e-9, 2])).toEqual([0.333333, 0, 2]);
    expect(
      angleAt([
        [1, 0, 0],
        [0, 0, 0],
        [0, 5, 0],
      ]),
    ).toBeCloseTo(90, 9);
    expect(
      angleAt([
        [1, 0, 0],
        [0, 0, 0],
        [-2, 0, 0],
      ]),
    ).toBeCloseTo(180, 9);
    expect(
      angleAt([
        [1, 0, 0],
        [1, 0, 0],
        [-2, 0, 0],
      ]),
    ).toBe(0);
  });
});

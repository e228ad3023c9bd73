import { describe, expect, it } from 'vitest';
import { type Step, type StepInput, stepSchema } from '../document/index.ts';
import { stepFields } from './step-fields.ts';

/** One of each kind of step that has something to set, with all that it can have. */
const STEPS: readonly StepInput[] = [
  { kind: 'scale', factor: 2 },
  { kind: 'scale', factors: [1, 2, 3] },
  { kind: 'scale', axis: 'x', size: 300 },
  { kind: 'tailor', measure: { girth: [0, 0, 10] }, wanted: 580, room: 12 },
  { kind: 'turn', axis: 'y', angle: 0.5 },
  { kind: 'bring', body: 'b2', from: { at: [0, 0, 0], normal: [0, 0, 1] }, to: { at: [0, 0, 9], normal: [0, 0, -1] } },
  { kind: 'weld', tolerance: 0.01 },
  { kind: 'drop', dust: 3 },
  { kind: 'close' },
  { kind: 'takeOut', body: 'b1', from: ['b2'] },
  { kind: 'simplify', deviation: 0.1 },
  { kind: 'simplify', triangles: 5000 },
  {
    kind: 'wall',
    thickness: 3,
    taper: { thickness: 5 },
    places: [
      { at: [0, 0, 0], radius: 10, thickness: 4 },
      { at: [0, 0, 50], radius: 20, thickness: 6 },
    ],
  },
  { kind: 'hollow', thickness: 3, taper: { thickness: 5 }, places: [{ at: [0, 0, 0], radius: 10, thickness: 4 }] },
  {
    kind: 'bore',
    points: [
      [0, 0, 0],
      [0, 0, 100],
    ],
    diameter: 8,
    sink: { diameter: 14, depth: 5 },
    slot: { width: 25 },
  },
  { kind: 'inlay', at: [0, 0, 0] },
];

describe('what can be set of a step', () => {
  it.each(STEPS.map((s) => stepSchema.parse(s)))(
    'a $kind takes what is set, within its bounds and not beyond',
    (step) => {
      const fields = stepFields(step);
      expect(fields.length).toBeGreaterThan(0);
      expect(new Set(fields.map((f) => f.label)).size).toBe(fields.length);
      const takes = (set: object) => stepSchema.safeParse({ ...step, ...set }).success;
      for (const field of fields) {
        if (field.as === 'note') throw new Error('Steps have no notes.');
        if (field.as === 'tick') {
          expect(stepSchema.parse({ ...step, ...field.set(!field.value) })).not.toEqual(step);
        } else if (field.as === 'choice') {
          for (const { value } of field.options) expect([value, takes(field.set(value))]).toEqual([value, true]);
        } else {
          for (const x of [field.value, field.least, field.most])
            expect([field.label, x, takes(field.set(x))]).toEqual([field.label, x, true]);
          for (const x of [field.least - 1, field.most + 1])
            expect([field.label, x, takes(field.set(x))]).toEqual([field.label, x, false]);
          // what is set is what is shown then, and nothing else is another
          const next = stepSchema.parse({ ...step, ...field.set(field.most) });
          const changed = stepFields(next).flatMap((f) => ('value' in f && f.label === field.label ? [f.value] : []));
          expect(changed).toEqual([field.most]);
        }
      }
    },
  );

  it('a place of another thickness is unmarked by itself', () => {
    const wall = stepSchema.parse(STEPS.find((s) => s.kind === 'wall')) as Extract<Step, { kind: 'wall' }>;
    const away = stepFields(wall).flatMap((f) => (f.as === 'length' && f.away ? [f.away] : []));
    expect(away.map((a) => a.label)).toEqual(['Unmark place 1', 'Unmark place 2']);
    expect(away[0].set).toEqual({ places: [wall.places[1]] });
  });

  it('what only does its work has nothing', () => {
    expect(stepFields(stepSchema.parse({ kind: 'orient' }))).toEqual([]);
  });
});

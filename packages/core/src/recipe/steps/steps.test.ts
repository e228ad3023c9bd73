import { describe, expect, it } from 'vitest';
import { isLight, type Step, type StepInput, stepSchema } from '../../document/recipe-schema.ts';
import { stepTitle } from '../titles.ts';
import { heavyStep, lightStep } from './index.ts';

/** The least that every kind of step asks for. */
const LEAST: { [K in Step['kind']]: Omit<Extract<StepInput, { kind: K }>, 'kind'> } = {
  scale: { factor: 2 },
  unit: { unit: 'in' },
  tailor: { measure: { girth: [0, 0, 1] }, wanted: 580 },
  turn: { axis: 'x', angle: 1 },
  lay: { normal: [0, 0, 1] },
  place: { to: 'floor' },
  mirror: { normal: [1, 0, 0], at: [0, 0, 0] },
  bring: { body: 'b1', from: { at: [0, 0, 0], normal: [0, 0, 1] }, to: { at: [0, 0, 9], normal: [0, 0, -1] } },
  remove: { on: ['b1'] },
  weld: { tolerance: 0.01 },
  drop: {},
  split: {},
  orient: {},
  close: {},
  mend: {},
  untangle: {},
  join: {},
  separate: {},
  takeOut: { body: 'b2', from: ['b1'] },
  simplify: { triangles: 1000 },
  wall: { thickness: 3 },
  hollow: { thickness: 3 },
  bore: {
    points: [
      [0, 0, 0],
      [0, 0, 9],
    ],
    diameter: 6,
  },
  inlay: { at: [0, 0, 0] },
};
const steps = Object.entries(LEAST).map(([kind, fields]) => stepSchema.parse({ kind, ...fields }));

describe('kinds of step', () => {
  it('are light or heavy, as the document says they are', () => {
    for (const step of steps) {
      expect(lightStep(step) !== null, step.kind).toBe(isLight(step));
      expect(heavyStep(step) !== null, step.kind).toBe(!isLight(step));
    }
  });

  it('have words of their own, that tell one from another', () => {
    const titles = steps.map(stepTitle);
    expect(new Set(titles).size).toBe(steps.length);
    for (const title of titles) expect(title).toMatch(/^[A-Z]\w+/);
  });

  it.each<[StepInput, RegExp]>([
    [{ kind: 'scale', factors: [1, 2, 0.5] }, /1, 2, 0\.5/],
    [{ kind: 'scale', axis: 'z', size: 620 }, /620 mm height/],
    [{ kind: 'turn', axis: 'x', angle: Math.PI / 12 }, /15° about x/],
    [{ kind: 'tailor', name: 'Head girth', wanted: 580, room: 20, measure: { girth: [0, 0, 1] } }, /580 mm \+ 20 mm/],
    [{ kind: 'simplify', deviation: 0.05 }, /within 0\.05 mm/],
    [{ kind: 'simplify', triangles: 20000 }, /20,000/],
    [{ kind: 'drop', dust: 2 }, /2 mm/],
    [{ kind: 'remove', on: ['b1', 'b2'] }, /2 bodies/],
  ])('tell the numbers that matter: %o', (input, words) => {
    expect(stepTitle(stepSchema.parse(input))).toMatch(words);
  });
});

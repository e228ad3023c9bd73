import { describe, expect, it } from 'vitest';
import { kernel } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { box } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/bodies.ts';
import { type Step, stepSchema } from '../document/recipe-schema.ts';
import { ShapeCache } from './shape-cache.ts';
import { modelOf } from './state.ts';

const found = bodiesOf(modelOfMeshes([box([0, 0, 0], [20, 20, 20]), box([10, 0, 0], [40, 20, 20])]), 'Mast');
const steps = (...list: object[]): Step[] => list.map((s) => stepSchema.parse(s));
const tools = { kernel };
const join = { kind: 'join' };
const mend = { kind: 'mend' };

describe('models after the steps of a recipe', () => {
  it('are the same objects when the same steps are asked for again, whatever ids they have', () => {
    const cache = new ShapeCache(modelOf(found));
    const first = cache.shape(steps(join, mend), tools);
    const again = cache.shape(steps({ ...join, id: 'r7' }, { ...mend, id: 'r1' }), tools);
    expect(first.bodies).toHaveLength(1);
    expect(again.bodies).toBe(first.bodies);
    expect(again.reports).toEqual(first.reports);
  });

  it('only have done what is new: a step at the end leaves those before it as they were done', () => {
    const cache = new ShapeCache(modelOf(found));
    const told: string[] = [];
    cache.shape(steps(join), tools);
    const longer = cache.shape(steps(join, mend), tools, [], (_, what) => told.push(what));
    expect(told.some((w) => /Joining/.test(w))).toBe(false);
    expect(longer.reports.map((r) => r.index)).toEqual([0, 1]);
  });

  it('differ by which bodies are locked, and leave out steps that are off', () => {
    const cache = new ShapeCache(modelOf(found));
    const off = cache.shape(steps({ ...join, enabled: false }), tools);
    expect(off.bodies).toHaveLength(2);
    const locked = cache.shape(steps(mend), tools, ['b1']);
    expect(locked.bodies[0].mesh).toBe(found.bodies[0].mesh);
  });

  it('beyond six are forgotten, the oldest first, and made again alike', () => {
    const cache = new ShapeCache(modelOf(found));
    const turned = (n: number) => steps({ kind: 'turn', axis: 'z', angle: n / 10 });
    const first = cache.shape(turned(0), tools);
    for (let n = 1; n <= 6; n++) cache.shape(turned(n), tools);
    const again = cache.shape(turned(0), tools);
    expect(again.bodies).not.toBe(first.bodies);
    expect(again.bodies.map((b) => b.volume)).toEqual(first.bodies.map((b) => b.volume));
  });
});

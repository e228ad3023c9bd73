import { applyChange, type JointInput, type Plan, type PlanChange, parsePlan, type SeamInput } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { type Changing, changed } from './changes.ts';

const seam = (id: string, z: number): SeamInput => ({ id, kind: 'flat', origin: [0, 0, z], normal: [0, 0, 1] });
const pin = (id: string, on: string): JointInput => ({ id, kind: 'pin', seam: on, at: [0, 0], diameter: 6, depth: 6 });
const start = parsePlan({
  version: 5,
  printer: { size: [220, 220, 250] },
  recipe: [{ id: 'r1', kind: 'scale', factor: 2 }],
  seams: [seam('s1', 10)],
  joints: [pin('j1', 's1')],
  zones: [{ id: 'z1', kind: 'sphere', at: [0, 0, 0], radius: 5 }],
  measures: [{ name: 'Head girth', wanted: 580 }],
});

/** What a click asks for, with the ids that are free on the plan as it is then. */
const thought: Record<string, (plan: Plan) => readonly Changing[]> = {
  'a seam along the mirror plane': () => [{ do: 'addSeam', seam: seam('s2', 40) }],
  'a seam across z': () => [{ do: 'addSeam', seam: seam('s2', 60) }],
  'a grid': () => [{ do: 'addSeams', seams: [seam('s2', 70), seam('s3', 80)] }],
  'seated joints': () => [{ do: 'addJoints', joints: [pin('j2', 's1'), pin('j3', 's1')] }],
  'a joint': () => [{ do: 'addJoint', joint: pin('j2', 's1') }],
  'a zone': () => [{ do: 'addZone', zone: { id: 'z2', name: '', kind: 'sphere', at: [1, 1, 1], radius: 3 } }],
  'a step': () => [{ do: 'addStep', step: { kind: 'mend' } }],
  'the printer': () => [(now) => ({ do: 'set', set: { printer: { ...now.printer, margin: 7 } } })],
  'the material': () => [(now) => ({ do: 'set', set: { printer: { ...now.printer, material: 'Resin' } } })],
  'a measure': () => [(now) => ({ do: 'set', set: { measures: [...now.measures, { name: 'Forearm' }] } })],
  'a name': () => [{ do: 'setPiece', key: 'b1/s1+', set: { name: 'rim' } }],
};

describe('two changes begun on the same plan', () => {
  const names = Object.keys(thought);
  it.each(names)('%s and any other are both made, whichever is done first', (slow) => {
    for (const quick of names) {
      const [a, b] = [thought[slow](start), thought[quick](start)];
      const one = changed(changed(start, a).plan, b);
      // as much was added as each adds by itself
      const count = (p: Plan): number[] =>
        [p.seams, p.joints, p.zones, p.recipe, p.measures, p.pieces].map((l) => l.length);
      const sum = count(changed(start, a).plan).map((n, i) => n + count(changed(start, b).plan)[i] - count(start)[i]);
      const twice = slow === quick && slow === 'a name';
      expect(count(one.plan)).toEqual(twice ? count(changed(start, a).plan) : sum);
      const both = [slow, quick];
      if (both.includes('the printer')) expect(one.plan.printer.margin).toBe(7);
      if (both.includes('the material')) expect(one.plan.printer.material).toBe('Resin');
    }
  });

  it('tell which ids were given, so that what was added can be selected', () => {
    const first = changed(start, thought['a seam across z'](start)).plan;
    const { plan, ids } = changed(first, thought['a seam along the mirror plane'](start));
    expect(ids.get('s2')).toBe('s3');
    expect(plan.seams.map((s) => s.origin[2])).toEqual([10, 60, 40]);
  });

  it('carry joints over to the id that their seam was given', () => {
    const first = changed(start, thought['a seam across z'](start)).plan;
    const both: PlanChange = {
      do: 'all',
      changes: [
        { do: 'addSeam', seam: seam('s2', 40) },
        { do: 'addJoint', joint: pin('j2', 's2') },
      ],
    };
    const { plan } = changed(first, [both]);
    expect(plan.joints.map((j) => [j.id, j.seam])).toEqual([
      ['j1', 's1'],
      ['j2', 's3'],
    ]);
  });
});

describe('a change that can no longer be made', () => {
  const without = applyChange(start, { do: 'removeSeam', id: 's1' });
  const cases: [string, PlanChange, RegExp][] = [
    ['moves a seam that is gone', { do: 'setSeam', id: 's1', set: { name: 'Neck' } }, /^The seam is no longer there/],
    ['sets a joint that is gone', { do: 'setJoint', id: 'j1', set: { turn: 1 } }, /^The joint is no longer there/],
    ['adds a joint on a seam that is gone', { do: 'addJoint', joint: pin('j9', 's1') }, /^The seam of the joint/],
    ['seats joints on a seam that is gone', { do: 'addJoints', joints: [pin('j9', 's1')] }, /^A seam of these joints/],
    ['says so of one among several', { do: 'all', changes: [{ do: 'removeJoint', id: 'j1' }] }, /^The joint/],
  ];
  it.each(cases)('%s: it is refused in words, and the plan stays', (_, change, words) => {
    const before = JSON.stringify(without);
    expect(() => changed(without, [{ do: 'set', set: { alike: 1 } }, change])).toThrow(words);
    expect(JSON.stringify(without)).toBe(before);
  });

  it('names what is out of bounds as people count', () => {
    expect(() => changed(start, [{ do: 'setSeam', id: 's1', set: { origin: [0, 0, 1e9] } }])).toThrow(
      /^The place of seam 1.* must lie within/,
    );
  });
});

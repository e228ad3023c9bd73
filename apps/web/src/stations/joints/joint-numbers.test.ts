import { type Joint, jointGap, jointSchema, newJoint, parsePlan } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import type { JointView } from '../../engine/types.ts';
import { jointRows, jointSizes } from './joint-numbers.ts';
import { KINDS } from './kinds.ts';

const { printer } = parsePlan({ version: 5, printer: { name: 'Desktop 220', size: [220, 220, 250] } });
const made = (kind: Joint['kind'], more: object = {}): Joint =>
  jointSchema.parse({ ...newJoint(kind, { id: 'j1', seam: 's1', at: [0, 0] }, 8), ...more });
const measured = (more: Partial<JointView> = {}): JointView => ({
  id: 'j1',
  kind: 'pin',
  face: 'f',
  u: 0,
  v: 0,
  gap: 0.2,
  male: 'a',
  socket: 'b',
  edge: 3.456,
  walls: [2.5, null],
  wall: 2.5,
  root: null,
  apart: null,
  built: true,
  depths: [8, 8],
  shear: 78.5,
  own: [],
  other: [],
  ...more,
});

describe('the sizes of a joint', () => {
  it('are the male part’s and its socket’s, with the gap on both sides', () => {
    expect(jointSizes(made('pin', { diameter: 10 }), 0.25)).toBe('Peg 10.00, socket 10.50 mm');
    for (const { value } of KINDS) {
      const [male, socket] = /(-?[\d.]+), \w+ (-?[\d.]+) mm$/
        .exec(jointSizes(made(value), 0.2))!
        .slice(1)
        .map(Number);
      // a lap has its gap on one side
      expect([value, Number((socket - male).toFixed(2))]).toEqual([value, value === 'lap' ? 0.2 : 0.4]);
    }
  });

  it('of a rod that is made thinner leave the hole as it is asked for', () => {
    const rod = made('dowel');
    const own = /([\d.]+), socket ([\d.]+)/.exec(jointSizes(rod, 0.1))!.slice(1).map(Number);
    const loose = /([\d.]+), socket ([\d.]+)/.exec(jointSizes(rod, 0.4))!.slice(1).map(Number);
    // one of the two stays, whichever is not the maker's to change
    expect([own[0] === loose[0], own[1] === loose[1]].filter(Boolean)).toHaveLength(1);
  });
});

describe('what was measured round a joint', () => {
  it('names the walls by the pieces they are in, whichever side stands out', () => {
    const rows = (joint: Joint, view: JointView | null) =>
      Object.fromEntries(jointRows(joint, view, ['A1', 'A2'], printer));
    expect(rows(made('pin', { male: '-' }), measured())).toMatchObject({
      'To the edge': '3.46 mm',
      'Wall in A1': '2.50 mm',
      'To the next joint': 'none',
      'Shears at': '79 mm²',
    });
    expect(rows(made('pin', { male: '+' }), measured({ walls: [2.5, 99], root: 1.2 }))).toMatchObject({
      'Wall in A2': '2.50 mm',
      'Wall in A1': expect.stringMatching(/^over [\d.]+ mm$/),
      'Under its foot in A2': '1.20 mm',
    });
    // a wall that was not looked for has no row; before anything is measured there are no walls
    expect(rows(made('pin', { male: '-' }), measured())).not.toHaveProperty('Wall in A2');
    expect(rows(made('pin'), null)).toMatchObject({ 'To the edge': 'none', 'Shears at': 'none' });
  });

  it('ends with the kind’s own numbers', () => {
    const snap = made('snap');
    const titles = jointRows(snap, measured(), ['A1', 'A2'], printer).map(([title]) => title);
    expect(titles).toContain('To push it in');
    expect(jointRows(made('pin'), measured(), ['A1', 'A2'], printer).map(([title]) => title)).not.toContain(
      'To push it in',
    );
    expect(jointGap(snap, printer)).toBeGreaterThan(0);
  });
});

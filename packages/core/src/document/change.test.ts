import { describe, expect, it } from 'vitest';
import { applyChange, type PlanChange } from './change.ts';
import { checkPlan, type Plan, parsePlan } from './schema.ts';

const base = (): Plan =>
  parsePlan({
    version: 2,
    printer: { size: [220, 220, 250] },
    seams: [
      { id: 's1', kind: 'flat', origin: [0, 0, 10], normal: [0, 0, 1] },
      { id: 's2', kind: 'fan', origin: [0, 0, 0], normal: [0, 0, 1], count: 6 },
    ],
    joints: [{ id: 'j1', kind: 'pin', seam: 's2', part: 3, at: [10, 0], diameter: 6, depth: 6 }],
  });
const after = (...changes: PlanChange[]): Plan => changes.reduce(applyChange, base());

describe('changes of seams', () => {
  it('are added at a place or several at once, and a removed one takes its joints along', () => {
    const ring = {
      id: 's3',
      kind: 'ring' as const,
      origin: [0, 0, 0] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
      radius: 20,
    };
    expect(after({ do: 'addSeam', seam: ring, at: 0 }).seams.map((s) => s.id)).toEqual(['s3', 's1', 's2']);
    expect(after({ do: 'addSeams', seams: [ring, { ...ring, id: 's4' }] }).seams).toHaveLength(4);
    expect(after({ do: 'removeSeam', id: 's2' }).joints).toEqual([]);
  });

  it('refuse fields that the kind does not have, and keep the plan as it was', () => {
    const plan = base();
    expect(() => applyChange(plan, { do: 'setSeam', id: 's1', set: { count: 4 } })).toThrow('count');
    expect(() => applyChange(plan, { do: 'setSeam', id: 's2', set: { count: 1 } })).toThrow();
    expect(() => applyChange(plan, { do: 'setSeam', id: 's2', set: { regions: { mode: 'only', seeds: [] } } })).toThrow(
      'regions',
    );
    expect(plan).toEqual(base());
  });

  it('limit a seam to pieces and regions, and lift that again', () => {
    const limited = after({
      do: 'setSeam',
      id: 's1',
      set: { scope: ['b1/s1+'], regions: { mode: 'only', seeds: [[1, 2]] } },
    }).seams[0];
    expect(limited).toMatchObject({ scope: ['b1/s1+'], regions: { mode: 'only', seeds: [[1, 2]] } });
    const lifted = after(
      { do: 'setSeam', id: 's1', set: { scope: ['b1/s1+'] } },
      { do: 'setSeam', id: 's1', set: { scope: undefined } },
    ).seams[0];
    expect(lifted.scope).toBeUndefined();
  });
});

describe('changes of zones and pieces', () => {
  const zone = {
    id: 'z1',
    name: 'face',
    kind: 'sphere' as const,
    at: [0, 0, 0] as [number, number, number],
    radius: 5,
  };

  it('zones are added, moved, sized and removed', () => {
    const moved = after({ do: 'addZone', zone }, { do: 'setZone', id: 'z1', set: { at: [1, 2, 3], radius: 8 } });
    expect(moved.zones).toEqual([{ ...zone, at: [1, 2, 3], radius: 8 }]);
    expect(after({ do: 'addZone', zone }, { do: 'removeZone', id: 'z1' }).zones).toEqual([]);
    expect(() => after({ do: 'addZone', zone }, { do: 'addZone', zone })).toThrow('used twice');
    expect(() => after({ do: 'addZone', zone }, { do: 'setZone', id: 'z1', set: { radius: 0 } })).toThrow();
  });

  it('what is said of a piece is kept together, by its key', () => {
    const plan = after(
      { do: 'setPiece', key: 'b1/s1+', set: { name: 'Crown' } },
      { do: 'setPiece', key: 'b1/s1+', set: { aside: true } },
      { do: 'setPiece', key: 'b1/s1-', set: { copyOf: { key: 'b1/s1+', mirrored: true } } },
    );
    expect(plan.pieces).toEqual([
      { key: 'b1/s1+', name: 'Crown', aside: true },
      { key: 'b1/s1-', aside: false, copyOf: { key: 'b1/s1+', mirrored: true } },
    ]);
  });
});

describe('documents of seams', () => {
  it.each<[string, object, string]>([
    ['a fan of one half-plane', { kind: 'fan', count: 1 }, 'seams[0].count'],
    ['a fan of half a half-plane', { kind: 'fan', count: 2.5 }, 'seams[0].count'],
    ['a ring without a radius', { kind: 'ring' }, 'seams[0].radius'],
    ['a line of one point', { kind: 'profile', points: [[0, 0]] }, 'seams[0].points'],
    ['a kind that there is not', { kind: 'spiral' }, 'seams[0].kind'],
    ['a mode that there is not', { kind: 'flat', regions: { mode: 'some' } }, 'seams[0].regions.mode'],
  ])('%s is refused by its path', (_, more, path) => {
    const seam = { id: 's1', origin: [0, 0, 0], normal: [0, 0, 1], ...more };
    const { issues } = checkPlan({ version: 2, printer: { size: [220, 220, 250] }, seams: [seam] });
    expect(issues.map((i) => i.path)).toContain(path);
  });

  it('a plan of before, with flat seams only, reads as it did', () => {
    const { plan } = checkPlan({
      version: 2,
      printer: { size: [220, 220, 250] },
      seams: [{ id: 's1', kind: 'flat', origin: [0, 0, 0], normal: [0, 0, 1], up: [0, 1, 0] }],
    });
    expect(plan?.seams[0]).toEqual({
      id: 's1',
      name: '',
      kind: 'flat',
      origin: [0, 0, 0],
      normal: [0, 0, 1],
      up: [0, 1, 0],
      enabled: true,
    });
    expect([plan?.zones, plan?.pieces, plan?.alike]).toEqual([[], [], 0.05]);
  });
});

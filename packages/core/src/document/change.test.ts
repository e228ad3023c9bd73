import { describe, expect, it } from 'vitest';
import { applyChange, type PlanChange, settled } from './change.ts';
import { checkPlan, type Plan, parsePlan } from './schema.ts';

const base = (): Plan =>
  parsePlan({
    version: 5,
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
    expect(() => after({ do: 'addZone', zone }, { do: 'addZone', zone })).toThrow('has the key of another');
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
    const { issues } = checkPlan({ version: 5, printer: { size: [220, 220, 250] }, seams: [seam] });
    expect(issues.map((i) => i.path)).toContain(path);
  });

  it('a plan of before, with flat seams only, reads as it did', () => {
    const { plan } = checkPlan({
      version: 5,
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

describe('changes of beds', () => {
  const bed = (id: string, ...pieces: object[]) => ({ id, printer: 'Own printer', pieces }) as never;
  const two = (): Plan =>
    after({ do: 'addBed', bed: bed('bed1', { piece: 'b1', x: 10, y: 20 }) }, { do: 'addBed', bed: bed('bed2') });
  const where = (plan: Plan) => plan.beds.map((b) => b.pieces.map((p) => [p.piece, p.copy, p.x, p.y]));

  it('a copy is put, moved, moved to another bed and taken off; it is never in two places', () => {
    let plan = two();
    const put = (piece: string, copy: number, to: string | null, set?: object) => {
      plan = applyChange(plan, { do: 'placePiece', piece, copy, bed: to, ...(set && { set }) });
      return where(plan);
    };
    expect(put('b1', 1, 'bed1', { x: 15 })).toEqual([[['b1', 1, 15, 20]], []]);
    expect(put('b1', 1, 'bed2')).toEqual([[], [['b1', 1, 15, 20]]]);
    expect(put('b1', 2, 'bed2', { x: 40, y: 50 })).toEqual([
      [],
      [
        ['b1', 1, 15, 20],
        ['b1', 2, 40, 50],
      ],
    ]);
    expect(put('b1', 1, null)).toEqual([[], [['b1', 2, 40, 50]]]);
    expect(put('b9', 1, null)).toEqual([[], [['b1', 2, 40, 50]]]);
  });

  it('beds are named, locked and removed; wrong places are refused', () => {
    const plan = two();
    const named = applyChange(plan, { do: 'setBed', id: 'bed1', set: { name: 'Night', locked: true } });
    expect(named.beds[0]).toMatchObject({ name: 'Night', locked: true, pieces: [{ piece: 'b1' }] });
    expect(applyChange(named, { do: 'removeBed', id: 'bed1' }).beds.map((b) => b.id)).toEqual(['bed2']);
    expect(() => applyChange(plan, { do: 'placePiece', piece: 'b1', copy: 1, bed: 'bed1', set: { x: 1e9 } })).toThrow();
    expect(() => applyChange(plan, { do: 'addBed', bed: bed('bed1') })).toThrow(/twice/);
    expect(settled(plan, { do: 'addBed', bed: bed('bed1') }).ids.get('bed1')).toBe('bed3');
  });

  it('the same is said of many pieces at once, and of each beside what it said before', () => {
    const plan = after(
      { do: 'setPiece', key: 'b1/s1+', set: { name: 'Crown' } },
      { do: 'setPieces', keys: ['b1/s1+', 'b1/s1-'], set: { colour: '#1f5673', copies: 2 } },
    );
    expect(plan.pieces).toMatchObject([
      { key: 'b1/s1+', name: 'Crown', colour: '#1f5673', copies: 2 },
      { key: 'b1/s1-', colour: '#1f5673', copies: 2 },
    ]);
    expect(() => applyChange(plan, { do: 'setPieces', keys: ['b1/s1+'], set: { colour: 'blue' } })).toThrow();
    expect(() => applyChange(plan, { do: 'setPieces', keys: ['b1/s1+'], set: { copies: 501 } })).toThrow();
  });
});

describe('changes of show faces and codes', () => {
  const at = (x: number): { at: [number, number, number] } => ({ at: [x, 0, 0] });

  it('are added behind those there are, with what was not said filled in', () => {
    const plan = after(
      { do: 'addShow', marks: [at(1)] },
      { do: 'addShow', marks: [{ ...at(2), radius: 3, off: true }] },
    );
    expect(plan.show).toEqual([
      { at: [1, 0, 0], angle: Math.PI / 6, off: false },
      { at: [2, 0, 0], angle: Math.PI / 6, radius: 3, off: true },
    ]);
    expect(applyChange(plan, { do: 'set', set: { show: [] } }).show).toEqual([]);
  });

  it('are refused when there are too many, or they mean nothing', () => {
    const many = Array.from({ length: 2001 }, (_, i) => at(i));
    expect(() => after({ do: 'addShow', marks: many })).toThrow('2000');
    expect(() => after({ do: 'addShow', marks: [{ ...at(0), angle: 4 }] })).toThrow('angle');
    expect(() => after({ do: 'addShow', marks: [{ ...at(0), radius: 0 }] })).toThrow('radius');
    expect(() => after({ do: 'set', set: { labels: { height: 1, depth: 0.4 } } })).toThrow('height');
    expect(() => after({ do: 'set', set: { labels: { height: 8, depth: 9 } } })).toThrow('depth');
    expect(after({ do: 'set', set: { labels: { height: 8, depth: 0.4 } } }).labels).toEqual({ height: 8, depth: 0.4 });
  });
});

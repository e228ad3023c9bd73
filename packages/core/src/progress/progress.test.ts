import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel } from '../../testing/judges.ts';
import { cutBy, flat, printer } from '../../testing/plans.ts';
import { box } from '../../testing/shapes.ts';
import {
  applyChange,
  type LogEntryInput,
  MOST_ENTRIES,
  type PieceState,
  type Plan,
  type PlanInput,
  parsePlan,
  STATES,
} from '../document/index.ts';
import type { Evaluation } from '../evaluate/index.ts';
import { piecePrints } from '../laying/index.ts';
import {
  benchOf,
  type CopyProgress,
  copiesOf,
  days,
  fileMark,
  forecast,
  happened,
  isPrinted,
  nextAtBench,
  notesOfPrint,
  outdated,
  progressOf,
  type SalvageJoin,
  salvage,
  salvaged,
  tallyOf,
} from './index.ts';

const copies = copiesOf([
  { key: 'a', copies: 1 },
  { key: 'b', copies: 2 },
]);
const at = (day: number, hour = 12): string =>
  `2026-05-${String(day).padStart(2, '0')}T${String(hour).padStart(2, '0')}:00:00.000Z`;
const empty = parsePlan({ version: 5, printer });
const noted = (...entries: LogEntryInput[]): Plan => entries.reduce((p, e) => applyChange(p, happened(p, e)), empty);

const entries = fc.array(
  fc.record({
    pieces: fc.subarray(copies, { minLength: 1 }),
    to: fc.constantFrom(...STATES),
    failed: fc.option(fc.record({ height: fc.integer({ min: 0, max: 200 }), why: fc.constant('lifted') }), {
      nil: undefined,
    }),
  }),
  { maxLength: 30 },
);

describe('progress', () => {
  it('is the replay of its log: the last entry of a copy says where it is, failures are counted, and an entry changes only the copies it names', () => {
    fc.assert(
      fc.property(entries, (list) => {
        const log = list.map(
          ({ failed, ...e }, i): LogEntryInput => ({ ...e, at: at(1 + (i % 28)), ...(failed && { failed }) }),
        );
        const plan = noted(...log);
        const now = progressOf(plan.log ?? [], copies);
        expect(now.map(({ piece, copy }) => ({ piece, copy }))).toEqual(copies);
        for (const p of now) {
          const own = log.filter((e) => e.pieces.some((x) => x.piece === p.piece && (x.copy ?? 1) === p.copy));
          expect(p.state).toBe(own.at(-1)?.to ?? 'toPrint');
          expect(p.since).toBe(own.at(-1)?.at ?? null);
          expect(p.failures).toBe(own.filter((e) => e.failed).length);
        }
        const last = log.at(-1)?.pieces ?? [];
        const before = progressOf((plan.log ?? []).slice(0, -1), copies);
        for (const [i, p] of now.entries()) {
          if (!last.some((x) => x.piece === p.piece && x.copy === p.copy)) expect(p).toEqual(before[i]);
        }
      }),
    );
  });

  it('keeps what a printed copy was printed from until it is to be printed again, and remembers a failure until then', () => {
    const one = [{ piece: 'a', copy: 1 }];
    const state = (log: Plan): CopyProgress => progressOf(log.log ?? [], copies)[0];
    const printed = noted({ at: at(1), pieces: [{ piece: 'a', file: '0123abcd' }], to: 'printed' });
    expect(state(printed).file).toBe('0123abcd');
    const cleaned = applyChange(printed, happened(printed, { at: at(2), pieces: one, to: 'cleaned' }));
    expect(state(cleaned).file).toBe('0123abcd');
    const failed = applyChange(
      cleaned,
      happened(cleaned, { at: at(3), pieces: one, to: 'toPrint', failed: { height: 61, why: 'lifted' } }),
    );
    expect(state(failed)).toMatchObject({ file: null, failures: 1, failed: { height: 61, why: 'lifted' } });
    const again = applyChange(failed, happened(failed, { at: at(4), pieces: one, to: 'printing' }));
    expect(state(again).failed).not.toBeNull();
    const made = applyChange(again, happened(again, { at: at(5), pieces: one, to: 'printed' }));
    expect(state(made)).toMatchObject({ failures: 1, failed: null });
  });

  it('refuses a log that is too long, or an entry that says nothing of a piece', () => {
    const entry = { at: at(1), pieces: [{ piece: 'a', copy: 1 }], to: 'printed' as const };
    const log = Array.from({ length: MOST_ENTRIES + 1 }, () => entry);
    expect(() => parsePlan({ ...empty, log })).toThrow(/log/);
    expect(parsePlan({ ...empty, log: log.slice(1) }).log).toHaveLength(MOST_ENTRIES);
    expect(() => parsePlan({ ...empty, log: [{ ...entry, pieces: [] }] })).toThrow();
    expect(() => parsePlan({ ...empty, log: [{ ...entry, at: 'yesterday' }] })).toThrow();
  });

  it('sums what is made and what is left', () => {
    const plan = noted({ at: at(1), pieces: [{ piece: 'b', copy: 2 }], to: 'joined' });
    const cost = { hours: 2, grams: 30, cost: 0.5 };
    expect(tallyOf(progressOf(plan.log ?? [], copies), () => cost)).toMatchObject({
      copies: 3,
      printed: 1,
      joined: 1,
      hours: { made: 2, left: 4 },
      grams: { made: 30, left: 60 },
    });
    expect(forecast(25, 10, new Date(at(1)))?.toISOString()).toBe(at(4));
    expect(forecast(0, 10, new Date())).toBeNull();
    expect(() => forecast(1, 0, new Date())).toThrow(RangeError);
  });

  it('counts by days, those without entries too, whatever the order of entries; a clock that jumped does not fill years', () => {
    const plan = noted(
      { at: at(4), pieces: [{ piece: 'b', copy: 1 }], to: 'printed' },
      { at: at(1), pieces: [{ piece: 'a', copy: 1 }], to: 'printed' },
    );
    expect(days(plan.log ?? [], copies).map((d) => [d.day.slice(8), d.printed])).toEqual([
      ['01', 1],
      ['02', 1],
      ['03', 1],
      ['04', 2],
    ]);
    const far = noted(
      { at: '1970-01-01T00:00:00.000Z', pieces: [{ piece: 'a', copy: 1 }], to: 'printed' },
      { at: at(1), pieces: [{ piece: 'b', copy: 1 }], to: 'printed' },
    );
    expect(days(far.log ?? [], copies).length).toBeLessThan(500);
  });
});

describe('what comes next', () => {
  const steps = [
    { parts: [['a'], ['b']] },
    { parts: [['c'], ['d']] },
    {
      parts: [
        ['a', 'b'],
        ['c', 'd'],
      ],
    },
  ];
  const bed = (id: string, pieces: string[]) => ({
    id,
    printer: 'Desktop 220',
    pieces: pieces.map((piece) => ({ piece, x: 0, y: 0 })),
  });
  const plan = parsePlan({ version: 5, printer, beds: [bed('b1', ['c', 'd']), bed('b2', ['a', 'b'])] });
  const all = copiesOf(['a', 'b', 'c', 'd'].map((key) => ({ key, copies: 1 })));
  const told = (states: Record<string, PieceState>): string[] => {
    const progress = progressOf([], all).map((p) => ({ ...p, state: states[p.piece] ?? p.state }));
    return nextAtBench(plan, progress, steps).map((n) => (n.do === 'print' ? `print ${n.bed}` : `join ${n.step + 1}`));
  };

  it('is the bed whose pieces are joined first, then joining as soon as both sides are printed, the whole after its halves', () => {
    expect(told({})).toEqual(['print b2', 'print b1']);
    expect(told({ a: 'printed', b: 'printing' })).toEqual(['print b1']);
    expect(told({ a: 'printed', b: 'cleaned' })).toEqual(['join 1', 'print b1']);
    expect(told({ a: 'joined', b: 'joined', c: 'printed', d: 'printed' })).toEqual(['join 2']);
    expect(told({ a: 'printed', b: 'printed', c: 'printed', d: 'printed' })).toEqual(['join 1', 'join 2']);
    expect(told({ a: 'joined', b: 'joined', c: 'joined', d: 'joined' })).toEqual([]);
  });
});

describe('what was printed', () => {
  const seams = (z: number) => [flat('s1', [0, 0, z], [0, 0, 1])];
  const body = box([-20, -20, -50], [20, 20, 50]);
  const marks = (z: number): Map<string, string> =>
    new Map(cutBy(body, seams(z)).pieces.map((p) => [p.key, fileMark(p)]));

  it('is known again by its file: the same while nothing changes it, another when its seam moves', () => {
    const [one, same, other] = [marks(0), marks(0), marks(5)];
    expect(same).toEqual(one);
    for (const [key, mark] of one) {
      expect(mark).toMatch(/^[0-9a-f]{16}$/);
      expect(other.get(key)).not.toBe(mark);
    }
    expect(new Set(one.values()).size).toBe(one.size);
  });

  it('is said to be out of date when its file is another now, and only then', () => {
    const now = marks(5);
    const [a, b] = [...marks(0)];
    const state: CopyProgress[] = [a, b].map(([piece, file]) => ({
      piece,
      copy: 1,
      state: 'printed',
      since: at(2),
      failures: 0,
      failed: null,
      file,
    }));
    const code = (key: string): string => (key === a[0] ? 'A1' : 'A2');
    expect(outdated(state, (k) => marks(0).get(k) ?? null, code)).toEqual([]);
    const found = outdated(state, (k) => now.get(k) ?? null, code);
    expect(found.map((f) => f.code)).toEqual(['bench.changed', 'bench.changed']);
    expect(found[0].message).toContain('A1 was printed on 2026-05-02');
    expect(
      outdated(
        state.map((s) => ({ ...s, file: null })),
        (k) => now.get(k) ?? null,
        code,
      ),
    ).toEqual([]);
  });

  it('counts as printed from there on', () => {
    expect(STATES.filter(isPrinted)).toEqual(STATES.slice(2));
  });
});

describe('a print that stopped', () => {
  const seams = [flat('s1', [0, 0, 0], [0, 0, 1])];
  const body = box([-20, -15, -50], [20, 15, 60]);
  // printed on its side: x points up
  const upper = 'b1/s1+';
  const pieces = [{ key: upper, pose: { up: [1, 0, 0] as [number, number, number] } }];
  const made = (more: Partial<PlanInput> = {}) => {
    const evaluation = cutBy(body, seams, { pieces, ...more });
    const context = { kernel, plan: evaluation.context.plan, evaluation, shared: new Map() };
    const print = [...piecePrints(context)].find((p) => p.key === upper)!;
    const again = (plan: Plan) => cutBy(body, plan.seams, { ...plan });
    const saved = (height: number, join: SalvageJoin = 'glue') =>
      salvage(context, print, height, join, new Date(at(3)), again);
    return { context, print, at: saved, again };
  };

  it('is parted square to the way it printed, at its height above the bed; what is below counts as printed', () => {
    const {
      context,
      print,
      at: saved,
      again,
    } = made({
      beds: [{ id: 'bed1', printer: printer.name, pieces: [{ piece: upper, x: 50, y: 50 }] }],
    });
    expect(print.figures.height).toBeCloseTo(40, 6);
    const found = saved(13);
    const { lower, upper: rest } = found;
    // noted meanwhile
    const other = { at: at(2), pieces: [{ piece: 'b1/s1-', copy: 1 }], to: 'printed' as const };
    const meanwhile = applyChange(context.plan, happened(context.plan, other));
    const next = applyChange(meanwhile, salvaged(meanwhile, found));
    expect(next.log?.map((e) => e.pieces[0].piece)).toEqual(['b1/s1-', lower[0]]);
    const after = again(next);
    expect(after.pieces).toHaveLength(3);
    const volumeOf = (keys: readonly string[]) =>
      after.pieces.filter((p) => keys.includes(p.key)).reduce((s, p) => s + p.volume, 0);
    expect(volumeOf(lower)).toBeCloseTo(13 * 30 * 60, 3);
    expect(volumeOf(rest)).toBeCloseTo(27 * 30 * 60, 3);
    const states = progressOf(next.log!, copiesOf(after.pieces.map((p) => ({ key: p.key, copies: 1 }))));
    expect(
      states
        .filter((s) => s.state === 'printed')
        .map((s) => s.piece)
        .sort(),
    ).toEqual(['b1/s1-', ...lower].sort());
    // the missing part has a bed of its own
    expect(next.beds.map((b) => b.pieces.map((p) => p.piece))).toEqual([[], rest]);
    expect(
      after.findings.filter((f) => f.severity === 'stop' || (f.code === 'face.bare' && f.where.seam !== 's1')),
    ).toEqual([]);
    // the piece below the first seam is as it was
    expect(after.pieces.map((p) => p.key)).toContain('b1/s1-');
  });

  it('has its parts under its own code, which no other piece gets, also when a part is parted once more', () => {
    const { context, at: saved, again } = made();
    const codesAfter = (plan: Plan) => new Map(again(plan).pieces.map((p) => [p.key, p.code]));
    const code = context.evaluation.pieces.find((p) => p.key === upper)!.code;
    const seen = (plan: Plan, e: Evaluation): Plan => ({ ...plan, codes: [...e.codes] });
    const start = seen(context.plan, context.evaluation);
    const found = saved(13);
    const { lower, upper: rest } = found;
    const next = applyChange(start, salvaged(start, found));
    const codes = codesAfter(next);
    expect([codes.get(lower[0]), codes.get(rest[0])]).toEqual([`${code}a`, `${code}b`]);
    const evaluation = again(next);
    const second = { kernel, plan: next, evaluation, shared: new Map() };
    const print = [...piecePrints(second)].find((p) => p.key === rest[0])!;
    const more = salvage(second, print, 10, 'glue', new Date(at(4)), again);
    const then = seen(next, evaluation);
    const twice = codesAfter(applyChange(then, salvaged(then, more)));
    expect([more.lower[0], more.upper[0], lower[0]].map((k) => twice.get(k))).toEqual([
      `${code}b`,
      `${code}c`,
      `${code}a`,
    ]);
  });

  it('is parted below joints that the cut would run through, and gets dowels of its own where they are wished for', () => {
    const pin = { id: 'j1', kind: 'pin' as const, seam: 's1', at: [-6, 0] as [number, number], diameter: 6, depth: 8 };
    const { context, at: saved, again } = made({ joints: [pin] });
    const stops = (e: Evaluation) => e.findings.filter((f) => f.severity === 'stop');
    expect(stops(context.evaluation)).toEqual([]);
    const { change, height } = saved(14, 'dowel');
    // the pin takes up what lies from 11 to 17 mm above the bed, and its wall
    expect(height).toBeLessThan(11);
    expect(height).toBeGreaterThan(6);
    const after = again(applyChange(context.plan, change));
    expect(stops(after)).toEqual([]);
    expect(after.joints.filter((j) => j.built && j.id !== 'j1').length).toBeGreaterThan(0);
    // where joints leave no room below it is refused, and nothing is changed
    const low = { ...pin, at: [-16, 0] as [number, number] };
    expect(() => made({ joints: [low] }).at(5)).toThrow(/joints/);
  });

  it('is joined first in an order that was set by hand', () => {
    const order = [{ id: 'o1', parts: [{ piece: 'b1/s1-' }, { piece: upper }] }];
    const { context, at: saved } = made({ order });
    const { change, lower, upper: rest } = saved(13);
    expect(applyChange(context.plan, change).order).toMatchObject([
      { parts: [{ piece: lower[0] }, { piece: rest[0] }] },
      { id: 'o1', parts: [{ piece: 'b1/s1-' }, { step: 'o2' }] },
    ]);
  });

  it('is refused where too little is left, and where several pieces are one file', () => {
    for (const height of [0, 1, 39.5, 200, Number.NaN]) expect(() => made().at(height)).toThrow(/40 mm tall/);
    const copies = made({ pieces: [{ ...pieces[0], copies: 3 }] });
    expect(() => copies.at(13)).toThrow(/made from one file/);
  });

  it('is told in short: how much is printed and joined, and what comes next', () => {
    const seams = [flat('s1', [20, 20, 100], [0, 0, 1])];
    const beds = [{ id: 'bed1', printer: 'Desktop 220', pieces: [{ piece: 'b1/s1-', x: 60, y: 60 }] }];
    const start = parsePlan({
      version: 5,
      printer,
      seams,
      beds,
      pieces: [{ key: 'b1/s1+', copies: 2 }],
    });
    const e = cutBy(box([0, 0, 0], [40, 40, 200]), seams);
    const after = (...list: LogEntryInput[]) =>
      benchOf(
        list.reduce((p, x) => applyChange(p, happened(p, x)), start),
        e,
      );
    const entry = (piece: string, to: PieceState): LogEntryInput => ({ at: at(1), pieces: [{ piece }], to });
    expect(after()).toBeNull();
    expect(after(entry('b1/s1+', 'printed'))).toEqual({ copies: 3, printed: 1, joined: 0, next: 'print Bed 1' });
    const both = [entry('b1/s1+', 'printed'), entry('b1/s1-', 'printed')];
    expect(after(...both)).toEqual({ copies: 3, printed: 2, joined: 0, next: 'join A2 to A1' });
    const glued = [...both, entry('b1/s1+', 'joined'), entry('b1/s1-', 'joined')];
    expect(after(...glued)).toEqual({ copies: 3, printed: 2, joined: 2, next: '' });
  });

  it('of a bed that was printed: what is no taller than what stands there is whole, and what was moved by hand is left', () => {
    const print = {
      id: 'p1',
      bed: 'bed1',
      endedAt: at(2),
      pieces: [
        { piece: 'a', copy: 1, height: 20, file: 'aaaaaaaa' },
        { piece: 'b', copy: 1, height: 60, file: 'bbbbbbbb' },
        { piece: 'b', copy: 2, height: 60 },
      ],
    };
    const stateOf = (piece: string, copy: number): PieceState => (piece === 'b' && copy === 2 ? 'cleaned' : 'printing');
    const common = { at: at(2), bed: 'bed1', print: 'p1' };
    expect(notesOfPrint({ ...print, state: 'done', height: 60 }, stateOf)).toEqual([
      {
        ...common,
        pieces: [
          { piece: 'a', copy: 1, file: 'aaaaaaaa' },
          { piece: 'b', copy: 1, file: 'bbbbbbbb' },
        ],
        to: 'printed',
      },
    ]);
    const [whole, broken] = notesOfPrint({ ...print, state: 'failed', height: 24 }, stateOf);
    expect(whole).toMatchObject({ pieces: [{ piece: 'a' }], to: 'printed' });
    expect(broken).toEqual({
      ...common,
      pieces: [{ piece: 'b', copy: 1 }],
      to: 'toPrint',
      failed: { height: 24, why: 'the printer failed' },
    });
    // stopped before the first layer: nothing failed
    expect(notesOfPrint({ ...print, state: 'stopped', height: 0 }, stateOf)).toEqual([
      {
        ...common,
        pieces: [
          { piece: 'a', copy: 1 },
          { piece: 'b', copy: 1 },
        ],
        to: 'toPrint',
        note: 'stopped',
      },
    ]);
    // a plan takes them
    for (const e of [whole, broken]) expect(() => parsePlan(noted(e))).not.toThrow();
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutBy, flat, printer } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { box } from '../../testing/shapes.ts';
import { applyChange, type LogEntryInput, type Plan, type PlanChange, parsePlan } from '../document/index.ts';
import { pieceMesh } from '../evaluate/index.ts';
import { volume } from '../mesh/index.ts';
import { changedFiles, frozenPieces, sameShape, sparing } from './frozen.ts';
import { happened } from './progress.ts';

const beam = box([0, 0, 0], [40, 40, 300]);
const middle = (id: string, z: number) => ({ ...flat(id, [20, 20, z], [0, 0, 1]) });
const pin = (id: string, seam: string, at: [number, number] = [0, 0]) => ({
  id,
  seam,
  kind: 'pin' as const,
  at,
  diameter: 8,
  depth: 8,
});
const start = parsePlan({
  version: 5,
  printer,
  seams: [middle('s1', 100), middle('s2', 200)],
  joints: [pin('j1', 's1'), pin('j2', 's2')],
});
const [low, mid, high] = ['b1/s1-', 'b1/s1+.s2-', 'b1/s2+'];
const evaluate = (plan: Plan) => cutBy(beam, plan.seams, plan);

describe('what is printed', () => {
  it('is known from the log: every copy that is printed and was not begun again', () => {
    const entry = (day: number, piece: string, to: LogEntryInput['to'], copy = 1): LogEntryInput => ({
      at: `2026-11-0${day}T10:00:00.000Z`,
      pieces: [{ piece, copy }],
      to,
    });
    const log = [
      entry(1, 'a', 'printed'),
      entry(2, 'b', 'printed'),
      entry(3, 'a', 'joined'),
      entry(4, 'b', 'toPrint'),
      entry(5, 'c', 'printing'),
      entry(6, 'a', 'printed', 2),
    ];
    const plan = log.reduce((p, e) => applyChange(p, happened(p, e)), start);
    // a was printed on the first, and once more on the sixth
    expect([...frozenPieces(plan.log ?? [])]).toEqual([['a', '2026-11-06T10:00:00.000Z']]);
  });

  it('is another file after a change only where the change reaches', () => {
    const keysAfter = (change: PlanChange): string[] => {
      const next = applyChange(start, change);
      return changedFiles(evaluate(start), evaluate(next), [low, mid, high]);
    };
    expect(keysAfter({ do: 'setJoint', id: 'j1', set: { diameter: 9 } })).toEqual([low, mid]);
    expect(keysAfter({ do: 'removeJoint', id: 'j2' })).toEqual([mid, high]);
    expect(keysAfter({ do: 'setSeam', id: 's2', set: { name: 'Neck' } })).toEqual([]);
    // a piece that is no more
    expect(keysAfter({ do: 'removeSeam', id: 's2' })).toEqual([mid, high]);
    expect(sameShape(start, applyChange(start, { do: 'setSeam', id: 's1', set: { locked: true } }))).toBe(true);
    expect(sameShape(start, applyChange(start, { do: 'removeJoint', id: 'j1' }))).toBe(false);
  });

  it('stays as it is under any change that is cut down to spare it, and all else of the change is made', () => {
    const seam = fc.constantFrom('s1', 's2');
    const place = fc.tuple(fc.integer({ min: -10, max: 10 }), fc.integer({ min: -10, max: 10 }));
    const single: fc.Arbitrary<PlanChange> = fc.oneof(
      fc
        .tuple(seam, fc.integer({ min: -20, max: 20 }))
        .map(
          ([id, by]): PlanChange => ({ do: 'setSeam', id, set: { origin: [20, 20, (id === 's1' ? 100 : 200) + by] } }),
        ),
      fc
        .tuple(fc.constantFrom('j1', 'j2'), fc.integer({ min: 4, max: 10 }))
        .map(([id, diameter]): PlanChange => ({ do: 'setJoint', id, set: { diameter } })),
      fc.tuple(seam, place).map(([s, at]): PlanChange => ({ do: 'addJoints', joints: [pin(`n${s}`, s, at)] })),
      fc.integer({ min: 20, max: 280 }).map((z): PlanChange => ({ do: 'addSeam', seam: middle(`n${z}`, z) })),
    );
    fc.assert(
      fc.property(
        fc.uniqueArray(single, { minLength: 1, maxLength: 3, selector: (c) => JSON.stringify(c).slice(0, 40) }),
        fc.subarray([low, mid, high], { minLength: 1 }),
        (changes, printed) => {
          const bytes = (plan: Plan): (string | undefined)[] => {
            const { pieces } = evaluate(plan);
            return printed.map((key) => {
              const piece = pieces.find((p) => p.key === key);
              return piece && `${[...pieceMesh(piece).mesh.positions]} ${volume(pieceMesh(piece).mesh)}`;
            });
          };
          const rest = sparing(start, { do: 'all', changes }, printed, evaluate);
          const after = rest ? applyChange(start, rest) : start;
          expect(bytes(after)).toEqual(bytes(start));
          // with nothing printed all of it is made
          const free = sparing(start, { do: 'all', changes }, [], evaluate);
          const whole = applyChange(start, { do: 'all', changes });
          expect(free ? sameShape(applyChange(start, free), whole) : sameShape(start, whole)).toBe(true);
        },
      ),
      { numRuns: runs(40) },
    );
  });
});

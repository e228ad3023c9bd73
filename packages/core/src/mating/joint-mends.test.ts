import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback } from '../../testing/judges.ts';
import { flat, printer } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { blob } from '../../testing/shapes.ts';
import { bodiesOf } from '../body/bodies.ts';
import { applyChange } from '../document/change.ts';
import { type Plan, parsePlan } from '../document/schema.ts';
import { EvalCache } from '../evaluate/eval-cache.ts';
import { evaluate } from '../evaluate/evaluate.ts';
import { readStl, writeStlBinary } from '../formats/stl.ts';

const horn = bodiesOf(
  readStl(
    writeStlBinary(
      blob(24, 32, 260, (a, z) => 45 + 6 * Math.sin(5 * a) + 8 * z),
      'x',
    ),
  ),
  'Horn',
).bodies;
const cache = new EvalCache();
const seams = [flat('s1', [0, 0, 10], [0.1, 0, 1]), flat('s2', [4, 0, 0], [1, 0, 0.1])];
const evaluated = (plan: Plan) => evaluate(plan, horn, { fallback, cache });

const place = fc.integer({ min: -55, max: 55 });
const common = { seam: fc.constantFrom('s1', 's2'), at: fc.tuple(place, place), male: fc.constantFrom('+', '-') };
const joint = fc.oneof(
  fc.record({
    ...common,
    kind: fc.constant('pin'),
    diameter: fc.integer({ min: 1, max: 30 }),
    depth: fc.integer({ min: 2, max: 60 }),
    chamfer: fc.constant(0.1),
  }),
  fc.record({
    ...common,
    kind: fc.constant('key'),
    width: fc.integer({ min: 4, max: 40 }),
    height: fc.integer({ min: 4, max: 30 }),
    depth: fc.integer({ min: 2, max: 20 }),
  }),
  fc.record({
    ...common,
    kind: fc.constant('cone'),
    diameter: fc.integer({ min: 2, max: 40 }),
    tip: fc.constantFrom(0.3, 1),
  }),
  fc.record({
    ...common,
    kind: fc.constant('dowel'),
    stock: fc.constantFrom('printed', 'wood'),
    diameter: fc.constantFrom(6, 8, 10),
    depth: fc.integer({ min: 4, max: 160 }),
  }),
  fc.record({
    ...common,
    kind: fc.constant('snap'),
    diameter: fc.integer({ min: 5, max: 16 }),
    depth: fc.integer({ min: 8, max: 40 }),
    slot: fc.constantFrom(0.5, 1.6),
    barb: fc.constantFrom(0.15, 0.4, 0.8),
  }),
  fc.record({
    ...common,
    kind: fc.constant('magnet'),
    diameter: fc.integer({ min: 3, max: 20 }),
    thickness: fc.constantFrom(2, 5),
    cover: fc.constantFrom(0, 0.2, 1),
    poles: fc.constantFrom(['n', 's'], ['n', 'n']),
  }),
);

const REMOVES = /^(Remove|Leave) this/;

describe('the mends of joints', () => {
  const tally = { kept: 0, removed: 0 };
  it('lead, one after another, to a plan without a stop: every stop has one, and none comes back', () => {
    fc.assert(
      fc.property(fc.array(joint, { minLength: 1, maxLength: 3 }), (list) => {
        let plan = parsePlan({ version: 5, printer, seams, joints: list.map((j, i) => ({ ...j, id: `j${i + 1}` })) });
        const said: string[] = [];
        for (let round = 0; ; round++) {
          const stop = evaluated(plan).findings.find((f) => f.severity === 'stop' && f.where.joint);
          if (!stop) break;
          said.push(`${stop.where.joint} ${stop.code}: ${stop.message} → ${stop.mend?.label}`);
          expect(stop.mend, said.join('\n')).toBeDefined();
          expect(round, said.join('\n')).toBeLessThan(12);
          const next = applyChange(plan, stop.mend!.change);
          expect(next, said.join('\n')).not.toEqual(plan);
          const id = stop.where.joint!;
          const gone = !next.joints.some((j) => j.id === id);
          // a joint only goes when the mend says so; else what it was to cure is cured
          expect(gone, said.join('\n')).toBe(REMOVES.test(stop.mend!.label));
          if (!gone) {
            const still = evaluated(next).findings.filter((f) => f.where.joint === id && f.code === stop.code);
            expect(
              still.every((f) => f.severity !== 'stop' || f.value! > stop.value!),
              said.join('\n'),
            ).toBe(true);
          }
          tally[gone ? 'removed' : 'kept']++;
          plan = next;
        }
        // whatever is left is built
        expect(evaluated(plan).joints.every((j) => j.built)).toBe(true);
      }),
      { numRuns: runs(35) },
    );
    // joints far off or far too large go, but most are mended
    expect(tally.kept).toBeGreaterThan(2 * tally.removed);
  });
});

import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { random } from '../../testing/defects.ts';
import '../../testing/judges.ts';
import { runs } from '../../testing/runs.ts';
import { loopArea, nearestOnLoop, winding } from '../mesh/index.ts';
import { ROUGH } from './clean.ts';
import { intersect, subtract, unite } from './clip.ts';
import { easedLine, easedLoop } from './ease.ts';
import { aroundLines, bandAlong, grow } from './grow.ts';

const saved = (name: string) =>
  JSON.parse(readFileSync(new URL(`../../testing/cases/${name}.json`, import.meta.url), 'utf8'));
const area = (loops: readonly Float64Array[]): number => loops.reduce((sum, l) => sum + loopArea(l), 0);
const covered = (loops: readonly Float64Array[], x: number, y: number): boolean =>
  loops.reduce((n, l) => n + winding(l, x, y), 0) !== 0;

/** Star-shaped loops, some turned about, some of which cross themselves and each other. */
const loops = fc.array(
  fc
    .tuple(
      fc.array(fc.integer({ min: 4, max: 40 }), { minLength: 3, maxLength: 24 }),
      fc.integer({ min: -30, max: 30 }),
      fc.integer({ min: -30, max: 30 }),
      fc.integer({ min: 1, max: 2 }),
    )
    .map(([radii, x, y, turns]) =>
      Float64Array.from(
        radii.flatMap((r, i) => {
          const a = (i / radii.length) * 2 * Math.PI * turns + 0.01 * i;
          return [x + r * Math.cos(a), y + r * Math.sin(a)];
        }),
      ),
    ),
  { minLength: 1, maxLength: 4 },
);
const points = Array.from({ length: 300 }, (_, i) => [((i * 37) % 141) - 70 + 0.123, ((i * 61) % 139) - 69 + 0.377]);
/** Places so near an edge are left to rounding. */
const clear = (all: readonly Float64Array[], x: number, y: number): boolean =>
  all.every((l) => nearestOnLoop(l, x, y).distance > 1e-3);

describe('outlines', () => {
  it('united, shared and taken from each other hold just what winding numbers say of their points', () => {
    fc.assert(
      fc.property(loops, loops, (a, b) => {
        const found = { both: intersect(a, b), left: subtract(a, b), all: unite([...a, ...b]) };
        const wrong: unknown[] = [];
        for (const [x, y] of points.filter(([px, py]) => clear([...a, ...b], px, py))) {
          const [ina, inb] = [covered(a, x, y), covered(b, x, y)];
          const said = [covered(found.both, x, y), covered(found.left, x, y), covered(found.all, x, y)];
          // loops of the two may wind against each other where they lie over each other
          const wanted = [ina && inb, ina && !inb, ina && inb ? said[2] : ina || inb];
          if (String(said) !== String(wanted)) wrong.push([x, y, said, wanted]);
        }
        expect(wrong).toEqual([]);
      }),
      { numRuns: runs(60) },
    );
  });

  it('grown hold all that lies as near as told, and nothing farther; shrunk likewise', () => {
    fc.assert(
      fc.property(loops, fc.integer({ min: -60, max: 80 }), (some, tenths) => {
        const by = tenths / 10;
        const start = unite(some);
        const found = grow(start, by);
        const wrong: unknown[] = [];
        for (const [x, y] of points) {
          const away = Math.min(...start.map((l) => nearestOnLoop(l, x, y).distance));
          const inside = covered(start, x, y);
          if (Math.abs(away - Math.abs(by)) < 0.02) continue;
          const wanted = by > 0 ? inside || away < by : inside && away > -by;
          if (covered(found, x, y) !== wanted) wrong.push([x, y, wanted]);
        }
        expect(wrong).toEqual([]);
      }),
      { numRuns: runs(60) },
    );
  });

  it('around lines and beside paths hold what lies near them', () => {
    const path = fc.array(fc.tuple(fc.integer({ min: -50, max: 50 }), fc.integer({ min: -50, max: 50 })), {
      minLength: 2,
      maxLength: 8,
    });
    fc.assert(
      fc.property(path, (line) => {
        const around = aroundLines([line], 5);
        const band = bandAlong(line, 5);
        const wrong: unknown[] = [];
        const there = Float64Array.from([...line, ...line.slice(1, -1).toReversed()].flat());
        for (const [x, y] of points) {
          const away = nearestOnLoop(there, x, y).distance;
          if (Math.abs(away - 5) > 0.02 && covered(around, x, y) !== away < 5) wrong.push(['around', x, y, away]);
          // its ends are square and its corners mitred, so it reaches no nearer than that
          if (away > 4 * 5 + 0.01 && covered(band, x, y)) wrong.push(['band', x, y, away]);
        }
        expect(wrong).toEqual([]);
        const middles = line.slice(1).map(([x, y], i) => [(x + line[i][0]) / 2, (y + line[i][1]) / 2]);
        for (const [x, y] of middles) expect(covered(band, x + 1e-4, y + 2e-4)).toBe(true);
      }),
      { numRuns: runs(60) },
    );
  });

  it('eased stray no more than they may, and lose what lies on a line', () => {
    const next = random(3);
    const wave = Float64Array.from({ length: 4000 }, (_, i) =>
      i % 2 ? 3 * Math.sin(i / 200) + 0.01 * next() : i / 20,
    );
    const eased = easedLine(wave, 0.05);
    expect(eased.length).toBeLessThan(400);
    for (let i = 0; i < wave.length; i += 2) {
      const around = Float64Array.from([...eased, ...eased.slice(2, -2)]);
      expect(nearestOnLoop(around, wave[i], wave[i + 1]).distance).toBeLessThan(0.0501);
      if (i > 200) break;
    }
    expect(easedLoop(Float64Array.of(0, 0, 1, 0, 2, 0, 2, 2, 1, 2, 0, 2), 1e-9)).toEqual(
      Float64Array.of(0, 0, 2, 0, 2, 2, 0, 2),
    );
  });

  it('of a piece whose borders sent a clipping library round for ever are united', () => {
    const found = unite(
      saved('shadow-31-loops').map((l: number[]) => Float64Array.from(l)),
      'Positive',
    );
    expect(area(found)).toBeCloseTo(30635.57, 1);
  });

  it('with thousands of crumbs grow as their outline does', () => {
    const { by, loops: rough } = saved('shadow-2612-loops');
    const found = grow(
      rough.map((l: number[]) => Float64Array.from(l)),
      by,
      'Round',
      ROUGH,
    );
    expect(found).toHaveLength(1);
    expect(area(found)).toBeGreaterThan(37_700);
    expect(area(found)).toBeLessThan(37_900);
  });

  it('without end or of places that are no numbers are refused by name', () => {
    const endless = Array.from({ length: 3 }, (_, k) =>
      Float64Array.from({ length: 40_000 }, (_, i) => {
        const r = 100 + k + ((i >> 1) % 2 ? 5 : 0);
        const a = (2 * Math.PI * (i >> 1)) / 20_000;
        return i % 2 ? r * Math.sin(a) : r * Math.cos(a);
      }),
    );
    expect(() => unite(endless)).toThrow(expect.objectContaining({ code: 'outline.corners' }));
    expect(() => unite([Float64Array.of(0, 0, 1, 0, Number.NaN, 1)])).toThrow(
      expect.objectContaining({ code: 'outline.number' }),
    );
  });
});

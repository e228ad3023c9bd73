import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernel, meshOfSolid } from '../../testing/judges.ts';
import { orderOf } from '../../testing/orders.ts';
import { anySeam, cutBy, flat, numbered } from '../../testing/plans.ts';
import { runs } from '../../testing/runs.ts';
import { box } from '../../testing/shapes.ts';
import { type PlanInput, parsePlan } from '../document/index.ts';
import { type Evaluation, pieceMesh } from '../evaluate/index.ts';
import { finished } from '../finished.ts';
import { type IndexedMesh, type Vec3, vecOf } from '../mesh/index.ts';
import { boreSolid, rod, routeThrough, toKernel } from '../solid/index.ts';
import { Blocking, checkOrder } from './index.ts';

const DIAMETER = 8;
const BODY: readonly [Vec3, Vec3] = [
  [-90, -40, -30],
  [90, 40, 30],
];

type Recipe = NonNullable<PlanInput['recipe']>;

/** The order that is proposed, or another, looked at with bores that the bodies have already. */
const looked = (e: Evaluation, recipe: Recipe, order: PlanInput['order'] = [...orderOf(e).steps]) =>
  finished(checkOrder(parsePlan({ ...e.context.plan, order, recipe }), e, new Blocking(e)));

/** A bore from place to place, for a rod. */
const led = (...points: readonly Vec3[]): Recipe => [
  { kind: 'bore', points: points.map(([x, y, z]) => [x, y, z]), diameter: DIAMETER, bend: 12, stock: 'rod' },
];
const cutBlock = (from: Vec3, to: Vec3): IndexedMesh =>
  meshOfSolid(toKernel(kernel, box(...BODY)).subtract(toKernel(kernel, rod(from, to, DIAMETER + 0.4))));

const across = [flat('s1', [-30, 0, 0], [1, 0, 0]), flat('s2', [30, 0, 0], [1, 0, 0])];

describe('what runs through bores', () => {
  it('is put in last where one end of a straight bore is free, through its pieces in their order', () => {
    const e = cutBy(cutBlock([-99, 3, 2], [99, 3, 2]), across);
    const { threads, findings } = looked(e, led([-90, 3, 2], [90, 3, 2]));
    expect(findings).toEqual([]);
    expect(threads).toMatchObject([{ bore: 0, what: 'rod 8', length: 180, after: 2 }]);
    const middles = threads[0].pieces.map((k) => e.pieces.find((p) => p.key === k)!.box.min[0]);
    expect(middles).toEqual([-90, expect.closeTo(-30, 3), expect.closeTo(30, 3)]);
  });

  it('is put in before the parts that shut it in, where these come along it', () => {
    const shut: Vec3[] = [
      [-50, 0, 0],
      [50, 0, 0],
    ];
    const solid = cutBlock(shut[0], shut[1]);
    const recipe = led(shut[0], shut[1]);
    const e = cutBy(solid, across);
    const { threads, findings } = looked(e, recipe);
    expect(findings).toEqual([]);
    // into the middle and one end; the other end comes over it
    expect(threads).toMatchObject([{ pieces: { length: 3 }, after: 1 }]);
    // parted along it, it is laid into its groove
    const flatwise = cutBy(solid, [flat('s1', [0, 0, 0], [0, 0.02, 1])]);
    const laid = looked(flatwise, recipe);
    expect(laid.findings).toEqual([]);
    expect(laid.threads).toMatchObject([{ after: 0 }]);
  });

  it('is said where it cannot be put in, with the part that should come along it', () => {
    const shut: Vec3[] = [
      [-60, 0, 0],
      [60, 0, 0],
    ];
    const solid = cutBlock(shut[0], shut[1]);
    const recipe = led(shut[0], shut[1]);
    const e = cutBy(solid, [flat('s1', [0, 0, 0], [1, 0, 1])]);
    const slanting = looked(e, recipe);
    expect(slanting.threads).toMatchObject([{ after: null }]);
    expect(slanting.findings.map((f) => f.code)).toEqual(['stock.shut']);
    const change = slanting.findings[0].mend!.change;
    const mended = looked(e, recipe, change.do === 'set' ? change.set.order : undefined);
    expect(mended.findings).toEqual([]);
    expect(mended.threads).toMatchObject([{ after: 0 }]);
    expect(Math.abs(mended.steps[0].out[0])).toBeCloseTo(1, 9);
  });

  it('is said where something stands in it, and bends are threaded', () => {
    const through: Vec3[] = [
      [-90, 0, 0],
      [90, 0, 0],
    ];
    const half = cutBlock([-99, 0, 0], [41, 0, 0]);
    const recipe = led(through[0], through[1]);
    const stopped = looked(cutBy(half, across), recipe);
    expect(stopped.findings.map((f) => f.code)).toEqual(['stock.stopped']);
    const [, along] = /, (\d+) mm along/.exec(stopped.findings[0].message)!;
    // its front would meet the end of the hole
    expect(Math.abs(Number(along) - (90 + 41 - DIAMETER / 2))).toBeLessThanOrEqual(2);
    const corner: Vec3[] = [
      [-90, 0, 0],
      [0, 0, 0],
      [0, 40, 0],
    ];
    const hole = boreSolid(kernel, routeThrough(corner, 12), DIAMETER + 0.4, { mouth: 0, blind: false });
    const angled = meshOfSolid(toKernel(kernel, box(...BODY)).subtract(toKernel(kernel, hole)));
    const bent = looked(cutBy(angled, across), led(...corner));
    expect(bent.findings).toEqual([]);
    expect(bent.threads).toMatchObject([{ pieces: { length: 2 }, after: 2 }]);
  });

  it('is put in where a rod has room to come from, as the kernel sees it', () => {
    const place = fc.record({
      from: fc.integer({ min: -70, max: -20 }),
      to: fc.integer({ min: 20, max: 70 }),
      y: fc.integer({ min: -20, max: 20 }),
      tilt: fc.integer({ min: -10, max: 10 }),
      open: fc.constantFrom('neither', 'first', 'last', 'both'),
    });
    const seams = fc.array(anySeam(50), { minLength: 1, maxLength: 3 });
    let found = 0;
    fc.assert(
      fc.property(place, seams, ({ from, to, y, tilt, open }, list) => {
        const planes = numbered(list.filter((s) => s.kind === 'flat' && !('regions' in s)));
        fc.pre(planes.length > 0);
        const ends: [Vec3, Vec3] = [
          [open === 'first' || open === 'both' ? -90 : from, y, -tilt],
          [open === 'last' || open === 'both' ? 90 : to, y, tilt],
        ];
        const beyond = ends.map((p, i) => {
          const [a, b] = [p, ends[1 - i]];
          const out = Math.abs(p[0]) === 90 ? 30 : 0;
          const long = Math.hypot(...vecOf((k) => a[k] - b[k]));
          return vecOf((k) => a[k] + ((a[k] - b[k]) * out) / long);
        });
        const solid = cutBlock(beyond[0], beyond[1]);
        const recipe = led(ends[0], ends[1]);
        const e = cutBy(solid, planes);
        const { threads, steps } = looked(e, recipe);
        expect(threads).toHaveLength(1);
        const [{ after, length }] = threads;
        // drawn out along itself, either way, from what is joined at the end
        const way = vecOf((k) => (ends[1][k] - ends[0][k]) / Math.hypot(...vecOf((a) => ends[1][a] - ends[0][a])));
        const all = kernel.Manifold.union(e.pieces.map((p) => toKernel(kernel, pieceMesh(p).mesh)));
        const out = ([1, -1] as const).map((s) => {
          const at = vecOf((k) => ends[s > 0 ? 1 : 0][k]);
          const path: IndexedMesh = rod(
            vecOf((k) => at[k] - s * way[k] * length),
            vecOf((k) => at[k] + s * way[k] * length),
            DIAMETER - 0.2,
          );
          return toKernel(kernel, path).intersect(all).volume();
        });
        // lengths are told to a hundredth
        if (after === steps.length) expect(Math.min(...out)).toBeLessThan(0.5);
        else expect(Math.min(...out)).toBeGreaterThan(0.5);
        if (after !== null) found++;
      }),
      { numRuns: runs(12) },
    );
    expect(found).toBeGreaterThan(3);
  });
});

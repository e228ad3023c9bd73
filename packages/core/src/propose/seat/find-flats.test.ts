import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fallback, kernel } from '../../../testing/judges.ts';
import { modelOfMeshes } from '../../../testing/models.ts';
import { checked, judged, orderOf } from '../../../testing/orders.ts';
import { cutBy, printer, sound } from '../../../testing/plans.ts';
import { runs } from '../../../testing/runs.ts';
import { blob, box } from '../../../testing/shapes.ts';
import { bodiesOf } from '../../body/index.ts';
import { type PlanInput, parsePlan, type SeamInput } from '../../document/index.ts';
import { type Evaluation, evaluateModel } from '../../evaluate/index.ts';
import { shapeProject } from '../../project.ts';
import { findFlats } from './find-flats.ts';
import { seatJoints } from './seat.ts';

type Bent = Extract<SeamInput, { kind: 'profile' }>;

const across = (points: [number, number][], more: Partial<Bent> = {}): Bent => ({
  id: 'p',
  kind: 'profile',
  origin: [0, 0, 0],
  normal: [0, 1, 0],
  up: [0, 0, 1],
  points,
  curve: 'arc',
  ...more,
});

const bow: [number, number][] = [
  [-90, -18],
  [0, 12],
  [90, -20],
];
const block = box([-70, -60, -80], [70, 60, 80]);

const withFlats = (mesh: typeof block, seam: Bent, more: Partial<PlanInput> = {}) => {
  const bare = cutBy(mesh, [seam], more);
  const flats = findFlats(bare, bare.context.plan.seams[0]);
  return { bare, flats, e: cutBy(mesh, [{ ...seam, flats }], more), seam: { ...seam, flats } };
};
const codes = (e: Evaluation) => e.findings.map((f) => f.code).filter((c) => c.startsWith('seam.'));
/** Of a polygon of 64 corners. */
const disc = (diameter: number): number => 32 * (diameter / 2) ** 2 * Math.sin(Math.PI / 32);

describe('flats on bent faces', () => {
  it('are faces of their size on any bent seam, and carry joints that come in one way, as the kernel sees it', () => {
    const height = fc.integer({ min: -25, max: 25 });
    const seams = fc.record({
      points: fc.tuple(height, height, height, height),
      curve: fc.constantFrom('arc' as const, 'free' as const),
      bend: fc.integer({ min: -10, max: 10 }),
    });
    const mesh = blob(40, 48, 300, (a, z) => 75 + 6 * Math.sin(5 * a + 3 * z));
    fc.assert(
      fc.property(seams, ({ points, curve, bend }) => {
        const line = points.map((v, i): [number, number] => [-90 + 60 * i, v]);
        const { flats, e, seam } = withFlats(mesh, across(line, { curve, bend }));
        // a line that is straight makes no bent face
        fc.pre(flats.length > 0);
        expect(codes(e)).toEqual([]);
        sound(mesh, e, 1e-5);
        expect(e.faces.map((f) => f.part! - 500).sort()).toEqual(flats.map((f) => f.n).sort());
        for (const f of e.faces)
          expect(f.area / disc(flats.find((x) => x.n === f.part! - 500)!.diameter)).toBeCloseTo(1, 3);
        const { joints } = seatJoints(e.context.plan, e);
        expect(joints.length).toBeGreaterThan(flats.length / 2);
        const joined = cutBy(mesh, [seam], { joints: [...joints] });
        expect(joined.joints.every((j) => j.built)).toBe(true);
        sound(mesh, { ...joined, pieces: e.pieces }, 1e-5);
        const { steps, locked } = orderOf(joined);
        expect(locked).toEqual([]);
        for (const { common, allowed } of judged(joined, checked(joined, [...steps])))
          expect(common).toBeLessThan(allowed);
      }),
      { numRuns: runs(4) },
    );
  });

  it('go along with their seam, and with the model when it is scaled, but keep their size', () => {
    const { flats, seam } = withFlats(block, across(bow));
    expect(flats.length).toBeGreaterThan(1);
    const moved = cutBy(block, [{ ...seam, origin: [0, 0, 9] }]);
    const plan = parsePlan({ version: 5, printer, seams: [seam], recipe: [{ kind: 'scale', factor: 1.4 }] });
    const shaped = shapeProject(plan, bodiesOf(modelOfMeshes([block]), 'Test'), kernel);
    const scaled = evaluateModel(plan, shaped, { fallback, kernel });
    expect(Math.max(...scaled.pieces.map((p) => p.box.max[0]))).toBeCloseTo(98, 6);
    for (const e of [moved, scaled]) {
      expect(codes(e)).toEqual([]);
      const sizes = e.faces.map((f) => [f.part! - 500, Math.sqrt(f.area / disc(1))]);
      expect(sizes.length).toBe(flats.length);
      for (const [n, size] of sizes) expect(size).toBeCloseTo(flats.find((f) => f.n === n)!.diameter, 2);
    }
  });

  it('are not cut where the face no longer lies, bends too much or has another flat: the seam says so, and takes them away', () => {
    const { flats, seam } = withFlats(block, across(bow));
    const [first] = flats;
    const wrong = [
      { ...first, n: 90, at: [first.at[0], first.at[1] + 30, first.at[2]] },
      { ...first, n: 91, at: [first.at[0] + 4, first.at[1], first.at[2]] },
      { ...first, n: 92, normal: [1, 0.05, 0], at: [-60, -5, 0] },
    ] as typeof flats;
    const e = cutBy(block, [{ ...seam, flats: [...flats, ...wrong] }]);
    expect(codes(e)).toEqual(['seam.flat']);
    const { mend, value } = e.findings.find((f) => f.code === 'seam.flat')!;
    expect(value).toBe(3);
    expect(mend!.change).toMatchObject({ do: 'setSeam', set: { flats } });
    expect(e.faces).toHaveLength(flats.length);
    sound(block, e, 1e-5);
  });

  it('keep out of zones, keep clear of those there are, and are as large as asked', () => {
    const zones = [
      {
        id: 'z1',
        kind: 'box' as const,
        at: [-35, 0, 0] as [number, number, number],
        size: [70, 200, 200] as [number, number, number],
      },
    ];
    const { bare, e } = withFlats(block, across(bow), { zones });
    expect(e.faces.length).toBeGreaterThan(0);
    expect(e.faces.every((f) => f.frame.origin[0] > 0)).toBe(true);
    const own = findFlats(bare, bare.context.plan.seams[0], { diameter: 12, most: 2 });
    expect(own.map((f) => [f.n, f.diameter])).toEqual([
      [0, 12],
      [1, 12],
    ]);
    const more = findFlats(e, e.context.plan.seams[0]);
    const all = [...e.faces.map((f) => f.part! - 500), ...more.map((f) => f.n)];
    expect(new Set(all).size).toBe(all.length);
  });

  it('are not proposed round a core, which slides out along its axis', () => {
    const ring: SeamInput = { id: 'p', kind: 'ring', origin: [0, 0, 0], normal: [0, 0, 1], radius: 30 };
    const e = cutBy(block, [ring]);
    expect(codes(e)).toEqual(['seam.bent']);
    expect(findFlats(e, e.context.plan.seams[0])).toEqual([]);
  });
});

import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { fallback, judge, kernel } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box, moved, together, torus } from '../../testing/shapes.ts';
import { bodiesOf, isClosed } from '../body/index.ts';
import { overlapping } from '../crossing/index.ts';
import { applyChange } from '../document/change.ts';
import { type StepInput, splitRecipe, stepSchema } from '../document/recipe-schema.ts';
import { parsePlan } from '../document/schema.ts';
import { evaluate } from '../evaluate/evaluate.ts';
import {
  compose,
  determinant,
  IDENTITY,
  inverse,
  mapNormal,
  mapPoint,
  mirroring,
  perAxis,
  sizeOf,
  turning,
  turningTo,
  uniformScale,
  type Vec3,
} from '../mesh/index.ts';
import { planeInSource, seamPlace } from '../seams/index.ts';
import { loadSimplifier, toKernel } from '../solid/index.ts';
import { applyRecipe, mirrorPlane, modelBox, modelOf, packModel, takeMeasure, unpackModel } from './index.ts';

beforeAll(loadSimplifier);

const imported = (...meshes: Parameters<typeof modelOfMeshes>[0]) => modelOf(bodiesOf(modelOfMeshes(meshes), 'prop'));
const steps = (list: readonly StepInput[]) => list.map((s) => stepSchema.parse(s));
const run = (model: ReturnType<typeof imported>, ...list: StepInput[]) =>
  applyRecipe(steps(list), model, { tools: { kernel } });
const near = (a: readonly number[], b: readonly number[], digits = 9) =>
  a.forEach((x, i) => {
    expect(x).toBeCloseTo(b[i], digits);
  });

const number = fc.double({ min: -50, max: 50, noNaN: true });
const point = fc.tuple(number, number, number);
const someMap = fc
  .tuple(
    point,
    fc.double({ min: -3, max: 3, noNaN: true }),
    point,
    fc.tuple(...[1, 2, 3].map(() => fc.double({ min: 0.2, max: 4, noNaN: true }))),
    fc.boolean(),
  )
  .map(([axis, angle, about, scale, mirror]) => {
    const turn = turning(Math.hypot(...axis) > 1e-3 ? axis : [0, 0, 1], angle, about);
    const grow = [scale[0], 0, 0, 1, 0, scale[1], 0, 2, 0, 0, scale[2], 3];
    const both = compose(turn, grow);
    return mirror ? compose(mirroring([1, 2, 3], [4, 5, 6]), both) : both;
  });

describe('maps', () => {
  it('compose, and their inverses bring every point back', () => {
    fc.assert(
      fc.property(someMap, someMap, point, (a, b, p) => {
        near(mapPoint(compose(a, b), p), mapPoint(a, mapPoint(b, p)), 6);
        near(mapPoint(inverse(a), mapPoint(a, p)), p, 6);
      }),
    );
  });

  it('keep a normal square to its plane, and outside', () => {
    fc.assert(
      fc.property(someMap, point, point, point, (m, p, q, r) => {
        const e = perAxis(q, (x, k) => x - p[k]);
        const f = perAxis(r, (x, k) => x - p[k]);
        const n: Vec3 = [e[1] * f[2] - e[2] * f[1], e[2] * f[0] - e[0] * f[2], e[0] * f[1] - e[1] * f[0]];
        fc.pre(Math.hypot(...n) > 1);
        const image = mapNormal(m, n);
        const [a, b, c] = [p, q, perAxis(p, (x, k) => x + n[k])].map((x) => mapPoint(m, x));
        const along = b.reduce((s, x, k) => s + (x - a[k]) * image[k], 0);
        expect(Math.abs(along)).toBeLessThan(1e-6 * Math.hypot(...b.map((x, k) => x - a[k])) + 1e-9);
        expect(c.reduce((s, x, k) => s + (x - a[k]) * image[k], 0)).toBeGreaterThan(0);
      }),
    );
  });

  it('turn one direction into another, also its opposite', () => {
    for (const [a, b] of [
      [
        [0, 0, 1],
        [0, 0, -1],
      ],
      [
        [1, 0, 0],
        [-1, 0, 0],
      ],
      [
        [1, 2, 3],
        [3, -1, 0.5],
      ],
    ] as [Vec3, Vec3][]) {
      const m = turningTo(a, b, [1, 1, 1]);
      const l = Math.hypot(...b);
      near(
        mapNormal(m, a),
        b.map((x) => x / l),
      );
      expect(determinant(m)).toBeCloseTo(1, 12);
    }
    expect(turningTo([0, 0, 2], [0, 0, 1], [0, 0, 0])).toEqual(IDENTITY);
  });
});

describe('size and pose', () => {
  const anchor = imported(box([0, 0, 0], [20, 40, 100]));

  it('follow one another in the order of the list', () => {
    const size = (...list: StepInput[]) => sizeOf(modelBox(run(anchor, ...list).bodies));
    near(size({ kind: 'scale', factor: 2 }), [40, 80, 200]);
    near(size({ kind: 'scale', factors: [1, 2, 0.5] }), [20, 80, 50]);
    near(size({ kind: 'scale', axis: 'z', size: 50 }), [10, 20, 50]);
    near(size({ kind: 'scale', axis: 'z', size: 50, locked: false }), [20, 40, 50]);
    near(size({ kind: 'unit', unit: 'in' }), [508, 1016, 2540], 6);
    near(size({ kind: 'turn', axis: 'x', angle: Math.PI / 2 }, { kind: 'scale', axis: 'z', size: 80 }), [40, 200, 80]);
    near(
      size({ kind: 'turn', axis: 'x', angle: Math.PI / 2, enabled: false }, { kind: 'scale', axis: 'z', size: 80 }),
      [16, 32, 80],
    );
  });

  it('lay a face below, put the model on the floor and in the middle, and mirror it', () => {
    const laid = run(anchor, { kind: 'lay', normal: [1, 0, 0] }, { kind: 'place', to: 'floor' });
    near(sizeOf(modelBox(laid.bodies)), [100, 40, 20]);
    expect(modelBox(laid.bodies).min[2]).toBeCloseTo(0, 9);
    near(mapNormal(laid.map, [1, 0, 0]), [0, 0, -1]);
    const centred = run(anchor, { kind: 'place', to: 'centre' });
    near(modelBox(centred.bodies).min, [-10, -20, 0]);
    const copied = run(anchor, { kind: 'mirror', normal: [1, 0, 0], at: [25, 0, 0], copy: true });
    expect(copied.bodies.map((b) => b.id)).toEqual(['b1', 'b1m']);
    expect(judge(copied.bodies[1].mesh).volume).toBeCloseTo(80_000, 0);
    near(modelBox([copied.bodies[1]]).min, [30, 0, 0]);
    const inPlace = run(anchor, { kind: 'mirror', normal: [1, 0, 0], at: [10, 0, 0] });
    expect(judge(inPlace.bodies[0].mesh).volume).toBeCloseTo(80_000, 0);
  });

  it('seams and joints go along; gaps and sizes stay as they are', () => {
    const plan = parsePlan({
      version: 5,
      printer: { size: [220, 220, 250] },
      seams: [{ id: 's1', kind: 'flat', origin: [10, 20, 50], normal: [0, 0, 1] }],
      joints: [{ id: 'j1', kind: 'pin', seam: 's1', at: [3, -6], diameter: 6, depth: 5, gap: 0.2 }],
    });
    const plain = evaluate(plan, anchor.bodies, { fallback });
    fc.assert(
      fc.property(
        fc.constantFrom('x', 'y', 'z'),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.7, max: 3, noNaN: true }),
        fc.boolean(),
        (axis, angle, factor, mirror) => {
          const recipe: StepInput[] = [
            { kind: 'turn', axis: axis as 'x', angle },
            { kind: 'scale', factor },
            ...(mirror
              ? [
                  {
                    kind: 'mirror' as const,
                    normal: [0, 1, 0] as [number, number, number],
                    at: [0, 20, 0] as [number, number, number],
                  },
                ]
              : []),
          ];
          const e = evaluate(parsePlan({ ...plan, recipe }), anchor.bodies, { fallback });
          expect(e.pieces).toHaveLength(2);
          expect(e.joints[0].built).toBe(true);
          expect(e.joints[0].form.depths).toEqual(plain.joints[0].form.depths);
          expect(e.joints[0].gap).toBe(plain.joints[0].gap);
          expect(e.joints[0].form.shear).toBeCloseTo(plain.joints[0].form.shear, 9);
          expect(uniformScale(e.map)).toBeCloseTo(factor, 9);
          // the pin sits where the map takes its place in the source
          const place = seamPlace(plan.seams[0], e.map);
          near(place.toSource([e.joints[0].u, e.joints[0].v]), plan.joints[0].at, 6);
          const { origin, normal } = place.frame;
          near(planeInSource({ origin: [...origin], normal: [...normal] }, e.map).origin, [10, 20, 50], 6);
          expect(e.pieces.reduce((s, p) => s + p.volume, 0) / (80_000 * factor ** 3)).toBeCloseTo(1, 1);
        },
      ),
      { numRuns: runs(20) },
    );
  });

  it('a size is put before the steps whose millimetres it must not stretch', () => {
    let plan = parsePlan({ version: 5, printer: { size: [220, 220, 250] } });
    plan = applyChange(plan, { do: 'addStep', step: { kind: 'mend' } });
    plan = applyChange(plan, { do: 'addStep', step: { kind: 'hollow', thickness: 3 } });
    plan = applyChange(plan, { do: 'addStep', step: { kind: 'scale', factor: 2 } });
    expect(plan.recipe.map((s) => [s.id, s.kind])).toEqual([
      ['r1', 'mend'],
      ['r3', 'scale'],
      ['r2', 'hollow'],
    ]);
    plan = applyChange(plan, { do: 'setStep', id: 'r3', set: { factor: 3, enabled: false } });
    plan = applyChange(plan, { do: 'moveStep', id: 'r2', to: 0 });
    expect(plan.recipe.map((s) => s.id)).toEqual(['r2', 'r1', 'r3']);
    expect(splitRecipe(plan.recipe).heavy.map((s) => s.id)).toEqual(['r2', 'r1']);
    expect(applyChange(plan, { do: 'removeStep', id: 'r1' }).recipe).toHaveLength(2);
  });

  it('refuses sizes of nothing, below nothing and beyond reason, and says which number', () => {
    for (const factor of [0, -1, 1e9, Number.NaN]) {
      const recipe = [{ kind: 'scale', factor }];
      expect(() => parsePlan({ version: 5, printer: { size: [220, 220, 250] }, recipe }), String(factor)).toThrow(
        /the factor of step 1 of the recipe /,
      );
    }
    expect(() => parsePlan({ version: 5, printer: { size: [220, 220, 250] }, recipe: [{ kind: 'scale' }] })).toThrow(
      /either a factor/,
    );
    expect(() => parsePlan({ version: 5, printer: { size: [220, 220, 250] }, recipe: [{ kind: 'melt' }] })).toThrow(
      /step 1 of the recipe/,
    );
  });
});

describe('measures of the wearer', () => {
  const crown = imported(torus(60, 240, 60, () => 6));

  it('are girths outside and inside, and distances, wherever the model has been turned', () => {
    const girth = (side: 'outer' | 'inner') => ({
      girth: [0, 0, 0] as [number, number, number],
      along: [0, 0, 1] as [number, number, number],
      side,
    });
    const turned = run(crown, { kind: 'turn', axis: 'y', angle: 1 }, { kind: 'scale', factor: 1.5 });
    for (const [model, factor] of [
      [crown, 1],
      [turned, 1.5],
    ] as const) {
      expect(takeMeasure(girth('outer'), model.bodies, model.map) / (2 * Math.PI * 66 * factor)).toBeCloseTo(1, 3);
      expect(takeMeasure(girth('inner'), model.bodies, model.map) / (2 * Math.PI * 54 * factor)).toBeCloseTo(1, 3);
      expect(
        takeMeasure(
          {
            points: [
              [0, 0, 0],
              [3, 4, 0],
            ],
          },
          model.bodies,
          model.map,
        ),
      ).toBeCloseTo(5 * factor, 9);
    }
  });

  it('scale the model until the wearer and the padding fit', () => {
    const measure = { girth: [0, 0, 0] as [number, number, number], side: 'inner' as const };
    const fitted = run(crown, { kind: 'tailor', measure, wanted: 560, room: 20 });
    expect(takeMeasure({ ...measure, along: [0, 0, 1] }, fitted.bodies, fitted.map)).toBeCloseTo(580, 6);
    expect(() => run(crown, { kind: 'tailor', measure: { girth: [0, 0, 500] }, wanted: 560 })).toThrow(
      /meets no surface/,
    );
  });
});

describe('mirrorPlane', () => {
  it('finds the plane of a lopsided blob made symmetric, however it lies, and how good it is', () => {
    const half = blob(30, 40, 90, (a, z) => 25 + 6 * Math.cos(a) + 4 * z + 3 * Math.cos(2 * a));
    const lying = run(imported(half), { kind: 'turn', axis: 'z', angle: 0.4 }, { kind: 'turn', axis: 'x', angle: 0.3 });
    const found = mirrorPlane(lying.bodies.map((b) => b.mesh));
    expect(found).not.toBeNull();
    // its own mirror is the plane y = 0 of the source
    const wanted = mapNormal(lying.map, [0, 1, 0]);
    expect(Math.abs(found!.normal.reduce((s, x, k) => s + x * wanted[k], 0))).toBeGreaterThan(0.9995);
    expect(found!.mean).toBeLessThan(0.2);
    expect(found!.worst).toBeGreaterThanOrEqual(found!.mean);
  });

  it('says nothing of a shape that has none', () => {
    const crooked = together(
      box([0, 0, 0], [60, 10, 10]),
      box([0, 10, 0], [10, 50, 10]),
      box([50, 0, 10], [60, 10, 90]),
    );
    const skew = moved(crooked, (x, y, z) => [x + 0.4 * z, y + 0.3 * x, z]);
    expect(mirrorPlane([skew])).toBeNull();
  });
});

describe('solids', () => {
  it('join bodies that overlap into what the kernel makes of them', () => {
    const parts = [box([0, 0, 0], [20, 20, 20]), box([10, 10, 10], [40, 30, 30]), box([60, 0, 0], [70, 10, 10])];
    const joined = run(imported(...parts), { kind: 'join' });
    expect(joined.bodies).toHaveLength(2);
    const theirs = kernel.Manifold.union(parts.map((p) => toKernel(kernel, p))).volume();
    expect(joined.bodies.reduce((s, b) => s + b.volume, 0) / theirs).toBeCloseTo(1, 6);
    expect(joined.reports[0].notes.join()).toMatch(/2 solids/);
  });

  it('take a rider out of a saddle, so that both are apart by the gap on every side', () => {
    const saddle = box([0, 0, 0], [40, 40, 20]);
    const rider = moved(
      blob(24, 32, 24, () => 8),
      (x, y, z) => [x + 20, y + 20, z + 20],
    );
    const apart = run(imported(saddle, rider), { kind: 'takeOut', body: 'b2', from: ['b1'], gap: 0.3 });
    const [a, b] = apart.bodies;
    expect(apart.bodies.every(isClosed)).toBe(true);
    expect(overlapping(a.mesh, b.mesh)).toBeNull();
    const gap = toKernel(kernel, a.mesh).minGap(toKernel(kernel, b.mesh), 5);
    expect(gap).toBeGreaterThan(0.29);
    expect(gap).toBeLessThan(0.305);
  });

  it('make one body of each shell, and drop bodies', () => {
    const two = run(imported(together(box([0, 0, 0], [1, 1, 1]), box([5, 0, 0], [6, 1, 1]))), { kind: 'join' });
    expect(two.bodies).toHaveLength(2);
    expect(run(two, { kind: 'remove', on: ['b1'] }).bodies).toHaveLength(1);
    expect(() => run(two, { kind: 'remove', on: ['b1', two.bodies[1].id] })).toThrow(/Nothing would be left/);
    expect(() => run(two, { kind: 'remove', on: ['b9'] })).toThrow(/body b9/);
  });

  it('simplify within a deviation, or to a count, and stay closed', () => {
    const fine = imported(blob(80, 90, 100, (a) => 40 + 2 * Math.sin(3 * a)));
    const before = fine.bodies[0].mesh.tags.length;
    const within = run(fine, { kind: 'simplify', deviation: 0.1 });
    expect(within.bodies[0].mesh.tags.length).toBeLessThan(before * 0.8);
    expect(within.reports[0].deviation?.old).toBeLessThanOrEqual(0.1);
    expect(isClosed(within.bodies[0])).toBe(true);
    const count = run(fine, { kind: 'simplify', triangles: 1000 });
    expect(count.bodies[0].mesh.tags.length).toBeLessThanOrEqual(1000);
    expect(judge(count.bodies[0].mesh).status).toBe('NoError');
  });

  it('hollow a body with an open face and a drain, at the size it has then', () => {
    const bell = imported(box([0, 0, 0], [20, 20, 25]));
    const hollow = run(
      bell,
      { kind: 'scale', factor: 2 },
      { kind: 'hollow', thickness: 4, open: [[10, 10, 0]], drains: [{ at: [10, 0, 15], diameter: 6 }], cell: 1 },
    );
    const [body] = hollow.bodies;
    expect(isClosed(body)).toBe(true);
    const walls = 40 * 40 * 50 - 32 * 32 * 46 - Math.PI * 9 * 4;
    expect(Math.abs(body.volume / walls - 1)).toBeLessThan(0.015);
    expect(() => run(imported(box([0, 0, 0], [3, 40, 40])), { kind: 'hollow', thickness: 2 })).toThrow(
      /nowhere thicker/,
    );
  });

  it('work on 20 000 loose shells as one body, and mend them', () => {
    const specks = Array.from({ length: 20_000 }, (_, i) => {
      const [x, y] = [(i % 100) * 3, Math.floor(i / 100) * 3];
      return [x, y, 0, x + 1, y, 0, x, y + 1, 0, x, y, 1];
    });
    const positions = Float64Array.from(specks.flat());
    // four triangles each, none welded to its neighbour
    const triangles = Uint32Array.from(
      specks.flatMap((_, i) => [0, 2, 1, 0, 1, 3, 1, 2, 3, 2, 0, 3].map((v) => v + i * 4)),
    );
    const model = imported({ positions, triangles, tags: new Uint32Array(80_000) });
    expect(model.bodies.map((b) => b.loose)).toEqual([20_000]);
    expect(isClosed(model.bodies[0])).toBe(false);
    const mended = run(model, { kind: 'mend' });
    expect(mended.bodies).toHaveLength(1);
    expect(mended.reports[0].notes.join()).toMatch(/20000 loose shells/);
  });
});

describe('packModel', () => {
  it('gives the very same model back', () => {
    const model = run(
      imported(
        torus(10, 9, 7, () => 3),
        box([0, 0, 20], [1, 2, 23]),
      ),
      { kind: 'scale', factor: 1.7 },
    );
    expect(unpackModel(packModel(model))).toEqual(model);
    const shifted = new Uint8Array(packModel(model).length + 3);
    shifted.set(packModel(model), 3);
    expect(unpackModel(shifted.subarray(3))).toEqual(model);
    expect(() => unpackModel(new Uint8Array(20))).toThrow(/cannot be read/);
  });
});

import {
  bodiesOf,
  EvalCache,
  evaluate,
  type IndexedMesh,
  kernelTriangulator,
  loadKernel,
  makeFrame,
  type PlanInput,
  parsePlan,
  sizedBody,
} from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import { modelOfMeshes } from '../../../../packages/core/testing/models.ts';
import { blob, box, torus } from '../../../../packages/core/testing/shapes.ts';
import { regionsAt, wholeModel } from './seam-scope.ts';
import { alikeOf, along, axisAt, gridOf, limbAt, profileOf, sidesOf, wallsOf, waysApart } from './seams.ts';

const kernel = await loadKernel();
const printer = { size: [220, 220, 250] as [number, number, number] };
const planOf = (more: Partial<PlanInput> = {}) => parsePlan({ version: 5, printer, ...more });

function open(...meshes: IndexedMesh[]) {
  const cache = new EvalCache();
  const { bodies } = bodiesOf(modelOfMeshes(meshes), 'Test');
  const sized = bodies.map((b) => sizedBody(b, cache));
  const run = (more: Partial<PlanInput> = {}) =>
    evaluate(planOf(more), bodies, { fallback: kernelTriangulator(kernel), kernel, cache });
  const targets = wholeModel({ bodies: () => sized });
  return { sized, targets, meshes: targets.map((t) => t.mesh), run };
}

const level = (z: number) => makeFrame([0, 0, z], [0, 0, 1]);
const across = (id: string, z: number, more: object = {}) => ({
  id,
  kind: 'flat' as const,
  origin: [0, 0, z] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
  ...more,
});

describe('sections for the flat view', () => {
  it('gives the regions of all bodies, largest first, each with a place inside it', () => {
    const { targets } = open(box([0, 0, 0], [10, 10, 20]), box([40, 0, 0], [70, 10, 20]), box([90, 0, 0], [95, 5, 20]));
    const regions = regionsAt(targets, level(10));
    expect(regions.map((r) => [Math.round(r.area), r.body])).toEqual([
      [300, 'b2'],
      [100, 'b1'],
      [25, 'b3'],
    ]);
    const frame = level(10);
    const x = (seed: readonly [number, number]): number => frame.u[0] * seed[0] + frame.v[0] * seed[1];
    expect(x(regions[0].seed)).toBeGreaterThan(40);
    expect(x(regions[0].seed)).toBeLessThan(70);
  });

  it('measures walls to the opposite outline, also across a hollow', () => {
    const { targets } = open(torus(60, 96, 32, () => 10));
    const walls = wallsOf(regionsAt(targets, level(0)));
    const thick = Array.from(walls).filter((_, i) => i % 5 === 4);
    expect(Math.min(...thick)).toBeGreaterThan(19);
    expect(Math.max(...thick)).toBeLessThan(21);
  });
});

describe('along a direction', () => {
  it('keeps the profile for as long as direction and model stay', () => {
    const { meshes } = open(blob(30, 30, 200, () => 40));
    const first = profileOf(meshes, level(0));
    expect(profileOf(meshes, level(55))).toBe(first);
    expect(profileOf(meshes, makeFrame([0, 0, 0], [0, 1, 0]))).not.toBe(first);
    const other = open(blob(30, 30, 200, () => 41));
    expect(profileOf(other.meshes, level(0))).not.toBe(first);
  });

  it('says where both sides fit from stop to stop, and what is to be kept clear', () => {
    const { meshes } = open(box([-20, -20, 0], [20, 20, 600]));
    const zone = { id: 'z1', kind: 'sphere' as const, at: [0, 0, 100] as [number, number, number], radius: 10 };
    const plan = planOf({ zones: [zone] });
    const identity = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];
    const alone = along(plan, identity, meshes, level(300), [], null);
    expect(alone.bands).toEqual([]);
    expect(alone.clear).toEqual([[90, 110]]);
    const [[low, high]] = along(plan, identity, meshes, level(400), [200], null).bands.slice(-1);
    expect(low).toBeCloseTo(600 - 248, 1);
    expect(high).toBeCloseTo(448, 1);
  });
});

describe('what is picked', () => {
  it('finds the limb at a place of its surface, and the axis of a hoop', () => {
    const rod = open(box([-4, -4, -100], [4, 4, 100]));
    const limb = limbAt(rod.sized, 'b1', [4, 0, 30], [1, 0, 0])!;
    expect(Math.abs(limb.axis[2])).toBeGreaterThan(0.99);
    expect(limb.at[0]).toBeCloseTo(0, 6);
    expect(limbAt(rod.sized, 'b9', [4, 0, 30], [1, 0, 0])).toBeNull();
    const hoop = open(torus(100, 96, 24, () => 10));
    expect(axisAt(hoop.sized, 'b1', [110, 0, 0], [1, 0, 0])!.axis[2]).toBeCloseTo(1, 6);
  });
});

describe('grids, sides, equal pieces', () => {
  it('a grid keeps out of the zones of the plan', () => {
    const { sized } = open(box([-20, -20, 0], [20, 20, 480]));
    const zone = {
      id: 'z1',
      kind: 'box' as const,
      at: [0, 0, 241] as [number, number, number],
      size: [10, 10, 10] as [number, number, number],
    };
    const identity = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];
    const grid = gridOf(planOf({ zones: [zone] }), identity, sized, { axes: [2], spacing: 'even', jointRoom: 0 });
    expect(grid.planes).toEqual([[], [], [236]]);
  });

  it('tells both sides of a seam, and nothing of how it shows when it parts nothing', () => {
    const { sized, run } = open(box([-20, -20, 0], [20, 20, 100]));
    const e = run({ seams: [across('s1', 40)] });
    const { sides, showing } = sidesOf(e, sized, 's1');
    expect(sides.map((s) => s.pieces[0].areas)).toEqual([[1600], [1600]]);
    expect(showing!.smooth).toBeGreaterThan(0.9);
    expect(sidesOf(e, sized, 's9')).toEqual({
      sides: [
        { side: 1, pieces: [] },
        { side: -1, pieces: [] },
      ],
      showing: null,
    });
  });

  it('measures how far a declared copy differs from what it is a copy of', async () => {
    const { run } = open(box([0, 0, 0], [20, 30, 40]), box([100, 0, 0], [120, 30, 44]));
    const more = { pieces: [{ key: 'b2', copyOf: { key: 'b1' } }] };
    const { groups, declared } = await alikeOf(planOf(more), run(more), async () => {});
    expect(groups).toEqual([]);
    expect(declared).toHaveLength(1);
    expect(declared[0].deviation).toBeCloseTo(2, 1);
  });
});

describe('taking apart', () => {
  it('moves pieces away from every plane, whole groups together', () => {
    const { run } = open(box([-20, -20, 0], [20, 20, 90]));
    const seams = [across('s1', 30), across('s2', 60)];
    const ways = waysApart(planOf({ seams }), run({ seams }));
    expect([...ways.values()].map((w) => w[2]).sort((a, b) => a - b)).toEqual([-2, 0, 2]);
  });

  it('moves only what a limited seam or a fan has parted', () => {
    const { run } = open(torus(60, 48, 20, () => 10));
    const fan = {
      id: 'f',
      kind: 'fan' as const,
      origin: [0, 0, 0] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
      count: 4,
    };
    const ways = [...waysApart(planOf({ seams: [fan] }), run({ seams: [fan] })).values()];
    expect(ways).toHaveLength(4);
    for (const w of ways) expect(Math.hypot(...w)).toBeCloseTo(Math.SQRT2, 6);
    // each goes outwards, and they go four different ways
    expect(new Set(ways.map((w) => w.map((x) => Math.round(x)).join())).size).toBe(4);
  });
});

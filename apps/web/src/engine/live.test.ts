import {
  bodiesOf,
  distance,
  EvalCache,
  evaluate,
  fromFrame,
  IDENTITY,
  kernelTriangulator,
  loadKernel,
  type Model,
  makeFrame,
  type PlanInput,
  packModel,
  parsePlan,
  volume,
} from '@gephyra/core';
import { afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { modelOfMeshes } from '../../../../packages/core/testing/models.ts';
import { blob, box } from '../../../../packages/core/testing/shapes.ts';
import { engine } from './live.ts';
import type { EvaluationView } from './types.ts';

// Node finds the kernel by itself
vi.mock('manifold-3d/manifold.wasm?url', () => ({ default: undefined }));

const kernel = await loadKernel();
/** A post on its own, and beside it a slab. */
const post = box([-20, -20, 0], [20, 20, 200]);
const slab = box([60, -30, 0], [140, 30, 12]);
const bodies = bodiesOf(modelOfMeshes([post, slab]), 'Test').bodies;

const planOf = (more: Partial<PlanInput> = {}): PlanInput => ({
  version: 5,
  printer: { name: 'Desktop 220', size: [220, 220, 250] },
  ...more,
});
const level = (id: string, z: number) => ({
  id,
  kind: 'flat' as const,
  origin: [0, 0, z] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
});
const key = {
  id: 'j1',
  kind: 'key' as const,
  seam: 's1',
  at: [0, 0] as [number, number],
  width: 8,
  height: 8,
  depth: 8,
};

const held = (own: Model['bodies'], palette: Model['palette'] = []) => ({
  bodies: own,
  map: IDENTITY,
  palette,
  unit: 'mm' as const,
  reports: [],
});

async function load(model = held(bodies)) {
  vi.stubGlobal('fetch', async () => ({ ok: true, arrayBuffer: async () => packModel(model).buffer }));
  return engine.load('/model');
}
const ids = (view: EvaluationView) => view.fresh.map((g) => g.id);
afterEach(() => void vi.unstubAllGlobals());

beforeAll(() => load());

describe('the engine of the live view', () => {
  it('says what the model is, and in words that it cannot be fetched', async () => {
    expect(await load()).toMatchObject({ triangles: 24, unit: 'mm', box: { min: [-20, -30, 0], max: [140, 30, 200] } });
    vi.stubGlobal('fetch', async () => ({ ok: false }));
    await expect(engine.load('/gone')).rejects.toThrow('cannot be fetched');
  });

  it('gives each piece the colour that most of its own skin has', async () => {
    const slab = box([0, 0, 0], [200, 200, 20]);
    const low = (i: number): boolean => [0, 1, 2].every((k) => slab.positions[slab.triangles[i * 3 + k] * 3 + 2] === 0);
    const paint = Uint32Array.from(slab.tags, (_, i) => (low(i) ? 0 : 1));
    const palette = ['#1f5673', '#bf3b26'].map((colour) => ({ name: '', colour }));
    const parts = [{ name: 'Slab', ...slab, unit: 'mm' as const, paint }];
    const found = bodiesOf({ format: '3mf', parts, palette, notes: [] }, 'Slab');
    await load(held(found.bodies, found.palette));
    const { pieces } = await engine.evaluate(planOf({ seams: [{ ...level('s1', 10), origin: [0, 0, 10] }] }), []);
    expect(pieces.map((p) => [p.key, p.colour])).toEqual([
      ['b1/s1-', '#1f5673'],
      ['b1/s1+', '#bf3b26'],
    ]);
    await load();
  });

  it('shows what the same plan gives by itself', async () => {
    const plan = planOf({ seams: [level('s1', 120), { ...level('s2', 0), origin: [0, 0, 0], normal: [1, 0, 0] }] });
    const view = await engine.evaluate(plan, []);
    const e = evaluate(parsePlan(plan), bodies, {
      fallback: kernelTriangulator(kernel),
      kernel,
      cache: new EvalCache(),
    });
    const told = ({ key, code, volume, build, joints }: (typeof view.pieces)[number] | (typeof e.pieces)[number]) => ({
      key,
      code,
      volume,
      build,
      joints,
    });
    expect(view.pieces.map(told)).toEqual(e.pieces.map(told));
    expect(view.faces.map((f) => [f.id, f.area])).toEqual(e.faces.map((f) => [f.id, f.area]));
    expect(view.findings).toEqual(e.findings);
    expect(view.pieces.reduce((sum, p) => sum + p.volume, 0)).toBeCloseTo(volume(post) + volume(slab), 6);
  });

  it('lets others have their turn while the kernel cuts, and goes on until nobody waits for it', async () => {
    // twenty posts, each cut by the kernel
    const posts = Array.from({ length: 20 }, (_, i) => {
      const dense = blob(50, 70, 100, () => 18);
      return { ...dense, positions: dense.positions.map((x, k) => (k % 3 === 0 ? x + i * 50 : x)) };
    });
    const found = bodiesOf(modelOfMeshes(posts), 'Posts').bodies;
    await load(held(found));
    const bent = (z: number) =>
      planOf({
        seams: [
          {
            id: 's1',
            kind: 'profile',
            origin: [0, 0, z],
            normal: [1, 0, 0],
            up: [0, 0, 1],
            points: [
              [-90, 0],
              [0, 6],
              [90, 0],
            ],
          },
        ],
      });
    const order: string[] = [];
    const whole = engine.evaluate(bent(3), []).then((v) => {
      order.push('evaluated');
      return v;
    });
    const other = new Promise((resolve) => setTimeout(resolve)).then(() => order.push('another'));
    const view = await whole;
    await other;
    expect(order).toEqual(['another', 'evaluated']);
    const e = evaluate(parsePlan(bent(3)), found, { fallback: kernelTriangulator(kernel), kernel });
    expect(view.pieces.map((p) => [p.key, p.volume])).toEqual(e.pieces.map((p) => [p.key, p.volume]));
    expect(view.pieces).toHaveLength(40);

    const left = engine.evaluate(bent(9), []);
    engine.supersede();
    await expect(left).rejects.toThrow('A newer plan is waited for.');
    expect((await engine.evaluate(bent(9), [])).pieces).toHaveLength(40);
    await load();
  });

  it('sends geometry once: after a change only what the change made', async () => {
    const plan = planOf({ seams: [level('s1', 120)] });
    const first = await engine.evaluate(plan, []);
    const have = ids(first);
    // every piece's skin and caps are among what was sent
    for (const p of first.pieces) for (const id of [p.skin, ...p.caps]) expect(have).toContain(id);
    expect(ids(await engine.evaluate(plan, have))).toEqual([]);
    const named = await engine.evaluate(
      { ...plan, pieces: first.pieces.map((p) => ({ key: p.key, name: 'Post' })) },
      have,
    );
    expect(ids(named)).toEqual([]);
    const pinned = await engine.evaluate({ ...plan, joints: [key] }, have);
    const of = (view: EvaluationView, body: string) =>
      view.pieces.filter((p) => p.body === body).flatMap((p) => [p.skin, ...p.caps]);
    expect(ids(pinned).length).toBeGreaterThan(0);
    // the slab is not touched by what is done to the post
    expect(of(pinned, 'b2')).toEqual(of(first, 'b2'));
    for (const id of ids(pinned)) expect(of(pinned, 'b1')).toContain(id);
    // the skins are those that were sent before: a joint changes only the faces it is on
    expect(pinned.pieces.map((p) => p.skin)).toEqual(first.pieces.map((p) => p.skin));
  });

  it('refuses what is no plan, and computes the next one', async () => {
    await expect(engine.evaluate(planOf({ seams: [level('s1', 20), level('s1', 40)] }), [])).rejects.toThrow(/s1/);
    expect((await engine.evaluate(planOf({ seams: [level('s1', 120)] }), [])).pieces).toHaveLength(3);
  });

  it('goes along with the light steps of the recipe', async () => {
    const plan = planOf({ recipe: [{ id: 'r1', kind: 'scale', factors: [2, 2, 2] }] as never });
    const view = await engine.evaluate(plan, []);
    expect(view.box.max[2] - view.box.min[2]).toBeCloseTo(400, 9);
    expect(engine.section(makeFrame([0, 0, view.box.max[2] - 1], [0, 0, 1])).area).toBeCloseTo(80 * 80, 6);
    await engine.evaluate(planOf(), []);
    expect(engine.section(makeFrame([0, 0, 199], [0, 0, 1])).area).toBeCloseTo(40 * 40, 6);
  });

  it('fills a section with as much area as it has', () => {
    const frame = makeFrame([0, 0, 6], [0, 0, 1]);
    const { positions: p, index } = engine.filled(frame);
    let area = 0;
    for (let i = 0; i < index.length; i += 3) {
      const [a, b, c] = [index[i] * 3, index[i + 1] * 3, index[i + 2] * 3];
      area += ((p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[c] - p[a]) * (p[b + 1] - p[a + 1])) / 2;
    }
    expect(Math.abs(area)).toBeCloseTo(40 * 40 + 80 * 60, 3);
    expect(engine.regions(frame, false).regions.map((r) => r.area)).toEqual([80 * 60, 40 * 40]);
  });

  it('picks what the ray meets first and is shown, and measures the wall behind it', () => {
    const from = [300, 0, 6] as const;
    const first = engine.pick(from, [-1, 0, 0], [])!;
    expect(first).toMatchObject({ body: 'b2', normal: [1, 0, 0] });
    expect(distance(first.at, [140, 0, 6])).toBeLessThan(1e-6);
    expect(engine.pick(from, [-1, 0, 0], ['b2'])).toMatchObject({ body: 'b1', normal: [1, 0, 0] });
    expect(engine.pick(from, [1, 0, 0], [])).toBeNull();
    const { wall, room } = engine.probe([60, 0, 6], [-1, 0, 0]);
    expect(wall).toBeCloseTo(80, 6);
    expect(room).toBeCloseTo(40, 6);
  });

  it('knows the pieces before a seam, and looks for what is equal', async () => {
    const plan = planOf({ seams: [level('s1', 100), level('s2', 150)] });
    expect(engine.piecesBefore(plan, 's1').map((p) => p.key)).toEqual(['b1', 'b2']);
    expect(engine.piecesBefore(plan, 's2')).toHaveLength(3);
    const halves = planOf({ seams: [level('s1', 100)] });
    const [group, ...others] = (await engine.alike(halves)).groups;
    expect([group.first, ...group.same, ...group.mirrored].sort()).toEqual(['b1/s1+', 'b1/s1-']);
    expect(others).toEqual([]);
  });

  it('gives sections and profiles of what a seam is meant for: some pieces, or a box', () => {
    const frame = makeFrame([0, 0, 6], [0, 0, 1]);
    // the large body parted at its middle, and only one half of it parted again
    const upright = { id: 's1', kind: 'flat' as const, origin: [100, 0, 0] as const, normal: [1, 0, 0] as const };
    const areas = (more: object, id = 's2'): number[] => {
      const plan = planOf({ seams: [upright as never, { ...level('s2', 6), ...more }] });
      return engine.regions(frame, false, { document: plan, seam: id }).regions.map((r) => Math.round(r.area));
    };
    expect(areas({ scope: ['b2/s1+'] })).toEqual([40 * 60]);
    expect(areas({})).toEqual([80 * 60, 40 * 40]);
    expect(areas({ bound: { min: [-50, -50, 0], max: [70, 10, 20] } })).toEqual([40 * 30, 10 * 40]);
    const scoped = planOf({ seams: [upright as never, { ...level('s2', 6), scope: ['b2/s1+'] }] });
    const { from, to, area } = engine.along(scoped, 's2', makeFrame([0, 0, 6], [1, 0, 0]), []);
    expect([from, to]).toEqual([100, 140]);
    expect(Math.max(...area)).toBeLessThan(Math.max(...engine.along(scoped, 's1', frame, []).area));
  });

  it('seats joints that hold, and the same again in the mirror plane it has found', async () => {
    await load(held(bodies.slice(0, 1)));
    const plan = planOf({ seams: [level('s1', 100)] });
    const [face] = (await engine.evaluate(plan, [])).faces;
    const told: number[] = [];
    const { joints } = await engine.seat(plan, { faces: [face.id], kind: 'auto', spacing: 40, keep: {} }, (share) =>
      told.push(share),
    );
    expect(told.length).toBeGreaterThan(5);
    expect(told.every((share) => share >= 0 && share <= 1)).toBe(true);
    expect(joints.length).toBeGreaterThan(1);
    const seated = { ...plan, joints: [...joints] };
    const view = await engine.evaluate(seated, []);
    expect(view.findings.filter((f) => f.severity === 'stop')).toEqual([]);
    const plane = await engine.mirror(plan);
    expect(plane).not.toBeNull();
    const image = await engine.mirroredJoint({ ...plan, joints: [{ ...key, at: [7, 9] }] }, 'j1', () => {});
    const at = (j: { at: readonly number[] }) => fromFrame(face.frame, j.at[0], j.at[1]);
    const [p, q] = [at({ at: [7, 9] }), at(image!)];
    const side = (x: readonly number[]) => x.reduce((s, v, a) => s + (v - plane!.at[a]) * plane!.normal[a], 0);
    expect(side(p)).toBeCloseTo(-side(q), 1);
    await load();
  });

  it('draws small pictures of the pieces that are asked for, in their colour', async () => {
    const plan = planOf({ seams: [level('s1', 120)] });
    const wanted = (await engine.evaluate(plan, [])).pieces.map((p) => ({ key: p.key, colour: '#3f7f5f' }));
    const made = await engine.pictures(plan, [wanted[1], { key: 'gone', colour: '#000000' }], 48, 36);
    expect(made.map((m) => m.key)).toEqual([wanted[1].key]);
    const pixels = made[0].pixels;
    expect(pixels).toHaveLength(48 * 36 * 4);
    const drawn = [...Array(48 * 36).keys()].filter((i) => pixels[i * 4 + 3] > 0);
    expect(drawn.length).toBeGreaterThan(100);
    // green most of all, however it is lit
    for (const i of drawn) expect(pixels[i * 4 + 1]).toBeGreaterThanOrEqual(pixels[i * 4]);
    // the one that is given away is not the one that is kept
    pixels.fill(0);
    const [again] = await engine.pictures(plan, [wanted[1]], 48, 36);
    expect(again.pixels.some((x) => x > 0)).toBe(true);
    // in another colour it is drawn anew
    const [red] = await engine.pictures(plan, [{ ...wanted[1], colour: '#a03020' }], 48, 36);
    for (const i of drawn) expect(red.pixels[i * 4]).toBeGreaterThanOrEqual(red.pixels[i * 4 + 1]);
  });

  it('stands in for a large model with few triangles in the same box', async () => {
    const fine = bodiesOf(modelOfMeshes([blob(300, 300, 200, () => 60)]), 'Fine').bodies;
    const told = await load(held(fine));
    expect(told.triangles).toBeGreaterThan(100_000);
    const { index, positions } = engine.proxy();
    expect(index.length / 3).toBeLessThanOrEqual(40_000);
    let top = -Infinity;
    for (let i = 2; i < positions.length; i += 3) top = Math.max(top, positions[i]);
    expect(Math.abs(top - told.box.max[2])).toBeLessThan(4);
    await load();
  });

  it('draws a very large model with fewer triangles, caps and numbers as they are', async () => {
    const fine = bodiesOf(modelOfMeshes([blob(560, 560, 200, () => 60)]), 'Fine').bodies;
    await load(held(fine));
    const view = await engine.evaluate(planOf({ seams: [level('s1', 0)] }), []);
    expect(view.lighter).toBe(true);
    const of = (id: number) => view.fresh.find((g) => g.id === id)!.index.length / 3;
    const skins = view.pieces.reduce((n, p) => n + of(p.skin), 0);
    expect(skins).toBeGreaterThan(150_000);
    expect(skins).toBeLessThan(410_000);
    expect(view.pieces.reduce((n, p) => n + p.triangles, 0)).toBeGreaterThan(600_000);
    // a cap has every corner of its rim
    expect(of(view.pieces[0].caps[0])).toBeGreaterThan(550);
    await load();
    expect((await engine.evaluate(planOf(), [])).lighter).toBe(false);
  });

  it('packs several files into one archive', async () => {
    const { unzipSync } = await import('fflate');
    const files = ['a.stl', 'b/c.stl'].map((name, i) => new File([Uint8Array.of(i, 7)], name));
    const out = unzipSync(new Uint8Array(await (await engine.packFiles(files)).arrayBuffer()));
    expect(Object.entries(out)).toEqual([
      ['a.stl', Uint8Array.of(0, 7)],
      ['b/c.stl', Uint8Array.of(1, 7)],
    ]);
  });
});

import { bodiesOf, boxOf, IDENTITY, loadSimplifier, mapped, type PlanInput, type PrintContext } from '@gephyra/core';
import { beforeAll, describe, expect, it } from 'vitest';
import type { IndexedMesh } from '../../../../packages/core/src/mesh/index.ts';
import { kernel } from '../../../../packages/core/testing/judges.ts';
import { modelOfMeshes } from '../../../../packages/core/testing/models.ts';
import { box } from '../../../../packages/core/testing/shapes.ts';
import { SOLIDS } from '../../../../packages/core/testing/solids.ts';
import { HeldModel } from './held-model.ts';
import { bedsOf, choicesOf, lyingOf, posingOf, printsOf } from './prints.ts';

beforeAll(loadSimplifier);

const printer = { name: 'Desktop 220', size: [220, 220, 250] as [number, number, number] };
const plan = (more: Partial<PlanInput> = {}): PlanInput => ({ version: 5, printer, ...more });
const none: PrintContext['shared'] = new Map();
const quiet = (): void => {};

function held(...meshes: readonly IndexedMesh[]): HeldModel {
  const { bodies } = bodiesOf(modelOfMeshes(meshes), 'Prop');
  const model = new HeldModel();
  model.open({ bodies, map: IDENTITY, palette: [{ name: '', colour: '' }], unit: 'mm' }, kernel);
  return model;
}

/** Three corners of a bracket that has no mirror plane of its own. */
const bracket = (): IndexedMesh => {
  const { Manifold } = kernel;
  const solid = Manifold.cube([60, 20, 10])
    .add(Manifold.cube([12, 20, 40]))
    .add(Manifold.cube([12, 35, 10]).translate([48, 0, 0]));
  const m = solid.getMesh();
  return {
    positions: Float64Array.from(m.vertProperties),
    triangles: m.triVerts,
    tags: new Uint32Array(m.triVerts.length / 3),
  };
};
const MIRROR = [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

describe('prints for the page', () => {
  it('have a shadow as wide as the piece, and a map that lays it on the bed, mirrored where its file is', async () => {
    const left = bracket();
    const right = mapped(mapped(left, MIRROR), [1, 0, 0, 200, 0, 1, 0, 0, 0, 0, 1, 0]);
    const shared: PrintContext['shared'] = new Map([['b2', { of: 'b1', mirrored: true }]]) as never;
    const pieces = [{ key: 'b1', pose: { up: [0, 1, 0], spin: 0.3, by: 'hand' } }] as never;
    const { prints } = await printsOf(held(left, right), plan({ pieces }), shared);
    expect(prints.map((p) => [p.key, p.of, p.mirrored])).toEqual([
      ['b1', 'b1', false],
      ['b2', 'b1', true],
    ]);
    const boxes = prints.map((p) => boxOf(mapped(left, p.lay).positions));
    for (const [i, { min, max }] of boxes.entries()) {
      expect(min[2]).toBeCloseTo(0, 9);
      expect(max[2]).toBeCloseTo(35, 6);
      const shadow = prints[i].shadow.flatMap((l) => [...l]);
      for (const k of [0, 1]) {
        expect(min[k] + max[k]).toBeCloseTo(0, 6);
        const along = shadow.filter((_, j) => j % 2 === k);
        expect(Math.max(...along)).toBeCloseTo(max[k], 3);
        expect(Math.min(...along)).toBeCloseTo(min[k], 3);
      }
    }
    // a mirror image is laid by a map that turns left into right
    const turns = prints.map(({ lay: m }) =>
      Math.sign(
        m[0] * (m[5] * m[10] - m[6] * m[9]) - m[1] * (m[4] * m[10] - m[6] * m[8]) + m[2] * (m[4] * m[9] - m[5] * m[8]),
      ),
    );
    expect(turns).toEqual([1, -1]);
  });

  it('come with what is to be said of pieces, codes and beds', async () => {
    const thin = plan({
      seams: [{ id: 's', kind: 'flat', origin: [0, 0, 100], normal: [0, 0, 1] }],
      labels: { height: 8, depth: 0.4 },
      beds: [{ id: 'n1', printer: 'Desktop 220', pieces: [{ piece: 'gone', copy: 1, x: 10, y: 10 }] }],
    });
    const { findings } = await printsOf(held(box([0, 0, 0], [4, 4, 240])), thin, none);
    const codes = new Set(findings.map((f) => f.code));
    expect(codes).toContain('label.room');
    expect(codes).toContain('print.tips');
    expect([...codes].some((c) => c.startsWith('bed.'))).toBe(true);
  });
});

describe('poses for the page', () => {
  it('to choose from have pictures of their size, and the note that the plan would keep', async () => {
    const choices = await choicesOf(held(SOLIDS.table()), plan(), 'b1', 'support', '#aa7744', [60, 40]);
    expect(choices.length).toBeGreaterThan(2);
    expect(choices[0]).toMatchObject({ why: 'upside down', note: { by: 'search', why: 'upside down' } });
    expect(choices[0].note.up.map((x) => Math.round(x))).toEqual([0, 0, -1]);
    for (const { pixels } of choices) {
      expect(pixels).toHaveLength(60 * 40 * 4);
      // something is drawn, and not everywhere
      const drawn = pixels.filter((_, i) => i % 4 === 3 && pixels[i] > 0).length;
      expect(drawn).toBeGreaterThan(100);
      expect(drawn).toBeLessThan(60 * 40);
    }
    expect(await choicesOf(held(SOLIDS.table()), plan(), 'gone', 'support', '#aa7744', [60, 40])).toEqual([]);
  });

  it('that are looked at stand in their columns; what is marked is told where it is on the model', () => {
    const model = held(SOLIDS.table());
    const upright = { up: [0, 0, 1] as const, spin: 0 };
    const lying = lyingOf(model, plan(), 'b1', upright)!;
    expect(lying.stamped).toBeNull();
    expect(lying.figures.supportVolume).toBeGreaterThan(0);
    const columns = Array.from({ length: lying.columns.length / 4 }, (_, i) =>
      lying.columns.subarray(4 * i, 4 * i + 4),
    );
    expect(columns.length).toBeGreaterThan(50);
    for (const [x, y, low, high] of columns) {
      expect(Math.abs(x)).toBeLessThan(31);
      expect(Math.abs(y)).toBeLessThan(21);
      expect([low, Math.round(high)]).toEqual([0, 36]);
    }
    const marked = lyingOf(model, plan({ show: [{ at: [30, 20, 40] }] }), 'b1', upright)!;
    // the table's top: all of it is 40 high on the model
    const heights = new Set([...marked.stamped!].filter((_, i) => i % 3 === 2));
    expect([...heights]).toEqual([40]);
    expect(lyingOf(model, plan(), 'gone', upright)).toBeNull();
  });

  it('of all pieces are told as they are looked for, and add up before and after', async () => {
    const told: [number, string][] = [];
    const model = held(SOLIDS.table(), mapped(SOLIDS.table(), [1, 0, 0, 100, 0, 1, 0, 0, 0, 0, 1, 0]));
    const posing = await posingOf(model, plan(), 'support', none, (share, what) => told.push([share ?? 0, what]));
    expect(told.map(([share]) => share)).toEqual([0, 0.5]);
    expect(told[0][1]).toMatch(/^Posing A1/);
    expect(posing.changed.map((c) => c.key)).toEqual(['b1', 'b2']);
    expect(posing.after.support).toBe(0);
    expect(posing.before.support).toBeGreaterThan(1000);
    expect(posing.after.hours).toBeLessThan(posing.before.hours);
    expect(posing.sides).toEqual([]);
  });
});

describe('beds for the page', () => {
  it('hold everything that fits, and say so while pieces are measured', async () => {
    const told: string[] = [];
    const filling = await bedsOf(held(SOLIDS.table(), SOLIDS.shelf()), plan(), none, (_, what) => told.push(what));
    expect(told.at(-1)).toBe('Filling beds');
    expect(filling.beds.flatMap((b) => b.pieces.map((p) => p.piece)).sort()).toEqual(['b1', 'b2']);
    const again = await bedsOf(held(SOLIDS.table(), SOLIDS.shelf()), plan(), none, quiet);
    expect(again.beds).toEqual(filling.beds);
  });
});

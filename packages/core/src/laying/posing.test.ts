import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { fallback, kernel, meshOfSolid } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { runs } from '../../testing/runs.ts';
import { blob, box } from '../../testing/shapes.ts';
import { SOLIDS } from '../../testing/solids.ts';
import { boxOfShadow, placed, sharedArea } from '../beds/index.ts';
import { bodiesOf } from '../body/index.ts';
import { applyChange, type Plan, type PlanInput, parsePlan, type SeamInput } from '../document/index.ts';
import { evaluate } from '../evaluate/index.ts';
import { readModel } from '../formats/index.ts';
import { bounds, type IndexedMesh, volume } from '../mesh/index.ts';
import { alikePieces, exportPieces, sharedFiles } from '../output/index.ts';
import { loadSimplifier, toKernel } from '../solid/index.ts';
import { bedFiles, layOf } from './bed-files.ts';
import { bedFindings } from './bed-findings.ts';
import { fillBeds, shadowOfPrint } from './fill.ts';
import type { PiecePrint } from './model.ts';
import { poseAll, posesTaken, sumOf } from './pose-all.ts';
import { printFindings } from './print-findings.ts';
import { type PrintContext, piecePrints, poseChoices, printOfFile } from './prints.ts';

beforeAll(loadSimplifier);

const PRINTER = { name: 'Desktop 220', size: [220, 220, 250] as [number, number, number] };
const flat = (id: string, z: number): SeamInput => ({ id, kind: 'flat', origin: [0, 0, z], normal: [0, 0, 1] });

/** A plan computed over meshes. */
function contextOf(meshes: readonly IndexedMesh[], more: Partial<PlanInput> = {}): PrintContext {
  const plan = parsePlan({ version: 5, printer: PRINTER, ...more });
  return again(plan, meshes);
}
function again(plan: Plan, meshes: readonly IndexedMesh[]): PrintContext {
  const { bodies } = bodiesOf(modelOfMeshes(meshes), 'Prop');
  const evaluation = evaluate(plan, bodies, { fallback, kernel });
  return {
    kernel,
    plan,
    evaluation,
    shared: sharedFiles(evaluation, alikePieces(evaluation, plan.alike), plan.pieces),
  };
}
const prints = (context: PrintContext): PiecePrint[] => [...piecePrints(context)];
const moved = (mesh: IndexedMesh, x: number): IndexedMesh => ({
  ...mesh,
  positions: mesh.positions.map((v, i) => (i % 3 === 0 ? v + x : v)),
});
function posed(context: PrintContext, wish: Plan['wish'] = 'support'): Plan {
  const search = poseAll(context, wish);
  let step = search.next();
  while (!step.done) step = search.next();
  return applyChange(context.plan, posesTaken(step.value, context));
}

describe('show faces', () => {
  it('are turned away from the supports, and the piece comes back when they are unmarked', () => {
    const meshes = [blob(24, 32, 60, () => 40)];
    const plain = contextOf(meshes);
    const [before] = prints(again(posed(plain), meshes));
    const down = before.pose.up.map((x) => -40 * x) as [number, number, number];
    // where its supports would be
    const show = [{ at: down, angle: Math.PI, radius: 30 }];
    const marked = contextOf(meshes, { show });
    const wrong = prints(again({ ...posed(plain), show: marked.plan.show }, meshes));
    expect(wrong[0].figures.showScars).toBeGreaterThan(500);
    const told = again({ ...posed(plain), show: marked.plan.show }, meshes);
    expect(printFindings(told, wrong).map((f) => f.code)).toContain('print.scars');
    for (const wish of ['support', 'show'] as const) {
      const [after] = prints(again(posed(marked, wish), meshes));
      expect(after.figures.showScars).toBeLessThan(0.1 * wrong[0].figures.showScars);
      // what was under it looks up or aside now
      expect(after.pose.up.reduce((sum, x, k) => sum + x * before.pose.up[k], 0)).toBeLessThan(0.5);
    }
    const [back] = prints(
      again(posed({ ...marked, plan: { ...posed(marked), show: [] }, evaluation: plain.evaluation }), meshes),
    );
    expect(back.pose.up).toEqual(before.pose.up);
  });
});

describe('posing all pieces', () => {
  it('lowers what a table needs of support to nothing, says why, and its plan keeps it', () => {
    const meshes = [SOLIDS.table()];
    const context = contextOf(meshes);
    const before = sumOf(prints(context));
    const next = again(posed(context), meshes);
    const [after] = prints(next);
    expect(before.support).toBeGreaterThan(10_000);
    expect(after.figures.supportVolume).toBe(0);
    expect(after).toMatchObject({ by: 'search', why: 'upside down', figures: { fits: true } });
    expect(next.plan.pieces[0].pose).toMatchObject({ by: 'search', why: 'upside down' });
    expect(sumOf([after]).hours).toBeLessThan(before.hours);
  });

  it('lies on a cut, and names its seam', () => {
    const context = contextOf([SOLIDS.tube(30, 12, 120)], { seams: [{ ...flat('s1', 60), name: 'Waist' }] });
    const upper = context.evaluation.pieces.find((p) => p.key.endsWith('+'))!;
    const [best] = poseChoices(context, upper, 'support');
    expect(best.why).toBe('on its face at Waist');
    expect(best.pose.up[2]).toBeCloseTo(1, 9);
  });

  it('equal pieces keep one pose, mirror twins its mirror image; poses by hand stay', () => {
    const wedge: IndexedMesh = { ...box([0, 0, 0], [40, 30, 20]) };
    // lopsided in all three axes, so that its mirror image is another shape
    const lopsided = {
      ...wedge,
      positions: wedge.positions.map(
        (v, i) => v + (i % 3 === 0 && wedge.positions[i + 2] > 10 && wedge.positions[i + 1] > 10 ? v * 0.2 : 0),
      ),
    };
    const mirrored: IndexedMesh = {
      positions: lopsided.positions.map((v, i) => (i % 3 === 0 ? -v - 10 : v)),
      triangles: lopsided.triangles.map((_, i, t) => t[i - (i % 3) + [0, 2, 1][i % 3]]),
      tags: lopsided.tags,
    };
    const meshes = [lopsided, moved(lopsided, 60), mirrored];
    const context = contextOf(meshes);
    const next = again(posed(context), meshes);
    const [a, b, c] = prints(next);
    expect([b.of, b.pose, b.figures]).toEqual([a.of, a.pose, a.figures]);
    expect([c.of, c.mirrored]).toEqual([a.key, true]);
    expect(c.pose.up[0]).toBeCloseTo(-a.pose.up[0], 9);
    // the mirrored file lies on the bed in the mirrored pose
    const { files } = exportPieces(next.evaluation.pieces, 'Prop', 'stl', {
      shared: next.shared,
      lay: (piece, twin, mesh) => layOf(printOfFile([a, b, c], piece.key, twin), mesh),
    });
    const boxes = files
      .filter((f) => f.name.endsWith('.stl'))
      .map((f) => bounds(readModel(f.bytes, {}).parts[0].positions));
    expect(boxes).toHaveLength(2);
    for (const { min, max } of boxes) {
      expect(min[2]).toBeCloseTo(0, 4);
      expect(max[2]).toBeCloseTo(a.figures.height, 4);
    }
    const byHand = applyChange(next.plan, {
      do: 'setPiece',
      key: a.key,
      set: { pose: { up: [1, 0, 0], spin: 0.3, by: 'hand' } },
    });
    expect(posed(again(byHand, meshes)).pieces.find((p) => p.key === a.key)!.pose).toMatchObject({
      up: [1, 0, 0],
      by: 'hand',
    });
  });

  it('a pose goes with the model when it is turned and scaled', () => {
    const meshes = [SOLIDS.table()];
    const plan = posed(contextOf(meshes));
    const turned = parsePlan({
      ...plan,
      recipe: [
        { id: 'r1', kind: 'scale', factor: 1.5 },
        { id: 'r2', kind: 'turn', axis: 'x', angle: 1.2 },
      ],
    });
    const [p] = prints(again(turned, meshes));
    expect(p.figures.supportVolume).toBeLessThan(1);
    expect(p.figures.height).toBeCloseTo(60, 6);
  });

  it('a piece that exceeds its printer in its pose is a stop, and its mend takes the pose back', () => {
    const meshes = [{ ...SOLIDS.cube(1), positions: SOLIDS.cube(1).positions.map((x, i) => x * [30, 30, 240][i % 3]) }];
    const plan = parsePlan({
      version: 5,
      printer: { ...PRINTER, size: [250, 220, 200] },
      pieces: [{ key: 'b1', pose: { up: [0, 0, 1] } }],
    });
    const { evaluation } = again(plan, meshes);
    const found = evaluation.findings.find((f) => f.code === 'piece.tooBig')!;
    expect(found.message).toMatch(/in its pose: it is 42(\.0)? mm too tall/);
    const mended = applyChange(plan, found.mend!.change);
    expect(again(mended, meshes).evaluation.pieces[0].build.within).toBe(true);
  });
});

describe('what is said of prints', () => {
  it('a cone on its point may fall, a long plate of a shrinking material may lift, a hollow keeps its support', () => {
    const plate = { ...SOLIDS.cube(1), positions: SOLIDS.cube(1).positions.map((x, i) => x * [190, 30, 5][i % 3]) };
    const context = contextOf([SOLIDS.cone(20, 25), moved(plate, 60)], { printer: { ...PRINTER, material: 'ABS' } });
    const codes = printFindings(context, prints(context)).map((f) => [f.where.piece, f.code]);
    expect(codes).toContainEqual(['b1', 'print.rest']);
    expect(codes).toContainEqual(['b2', 'print.warps']);
    expect(codes.filter(([piece]) => piece === 'b2')).toHaveLength(1);
    const pla = contextOf([plate]);
    expect(printFindings(pla, prints(pla))).toEqual([]);
  });
});

describe('filling beds', () => {
  const two = { ...PRINTER, name: 'Small 130', size: [130, 130, 150] as [number, number, number] };
  const blocks = [0, 1, 2, 3].map((i) => box([i * 100, 0, 0], [i * 100 + 60 + i, 50, 40]));

  it('goes by printer, material and colour; small pieces go to the small printer', () => {
    const large = box([500, 0, 0], [690, 150, 40]);
    const context = contextOf([...blocks, large], {
      printers: [two],
      pieces: [
        { key: 'b2', colour: '#1f5673' },
        { key: 'b3', printer: 'Desktop 220' },
      ],
    });
    const all = prints(context);
    expect(all.map((p) => p.printer)).toEqual(['Small 130', 'Small 130', 'Desktop 220', 'Small 130', 'Desktop 220']);
    const { beds, left } = fillBeds(context, all);
    expect(left).toEqual([]);
    const bedOf = (key: string) => beds.find((b) => b.pieces.some((p) => p.piece === key))!;
    expect(bedOf('b2')).toMatchObject({ printer: 'Small 130', colour: '#1f5673' });
    expect(bedOf('b1').id).toBe(bedOf('b4').id);
    expect(bedOf('b1').id).not.toBe(bedOf('b2').id);
    expect(bedOf('b3').id).toBe(bedOf('b5').id);
    const filled = { ...context, plan: applyChange(context.plan, { do: 'set', set: { beds: [...beds] } }) };
    expect(bedFindings(filled, all)).toEqual([]);
  });

  it('a bed is of its own printer’s material, not of the main one’s', () => {
    const resin = {
      name: 'Resin 145',
      size: [145, 120, 180] as [number, number, number],
      kind: 'resin' as const,
      nozzle: 0.05,
      material: 'Tough resin',
    };
    const context = contextOf(blocks.slice(0, 2), {
      printer: { ...PRINTER, material: 'PLA', learned: { factor: 2, count: 3 } },
      printers: [resin],
      pieces: [
        { key: 'b1', printer: 'Resin 145' },
        { key: 'b2', printer: 'Desktop 220', material: 'PETG' },
      ],
    });
    const all = prints(context);
    expect(fillBeds(context, all).beds.map((b) => [b.printer, b.material])).toEqual([
      ['Resin 145', 'Tough resin'],
      ['Desktop 220', 'PETG'],
    ]);
    // what was learned of PLA says nothing of PETG
    const plain = { ...context, plan: parsePlan({ ...context.plan, printer: { ...PRINTER, material: 'PLA' } }) };
    expect(all[1].estimate.hours).toBe(prints(plain)[1].estimate.hours);
  });

  it('leaves locked beds and pieces where they are, and fills round them', () => {
    const context = contextOf(blocks);
    const all = prints(context);
    const plan = parsePlan({
      ...context.plan,
      beds: [
        { id: 'bed1', printer: 'Desktop 220', locked: true, pieces: [{ piece: 'b1', x: 110, y: 110, spin: 1 }] },
        {
          id: 'bed2',
          printer: 'Desktop 220',
          pieces: [
            { piece: 'b2', x: 100, y: 100, locked: true },
            { piece: 'b3', x: 20, y: 20 },
          ],
        },
      ],
    });
    const { beds } = fillBeds({ ...context, plan }, all);
    expect(beds[0]).toEqual(plan.beds[0]);
    expect(beds[1].pieces).toContainEqual(plan.beds[1].pieces[0]);
    expect(beds[1].pieces.map((p) => p.piece).sort()).toEqual(['b2', 'b3', 'b4']);
    const filled = { ...context, plan: { ...plan, beds: [...beds] } };
    expect(bedFindings(filled, all)).toEqual([]);
    // again: what lies is put anew, nothing is doubled
    expect(fillBeds(filled, all).beds.map((b) => b.pieces.length)).toEqual([1, 3]);
  });

  it('500 copies, hours for a bed, a piece for no printer, spacing wider than the bed: all are placed or named', () => {
    const context = contextOf([box([0, 0, 0], [20, 20, 10]), box([50, 0, 0], [290, 330, 230])], {
      pieces: [{ key: 'b1', copies: 500 }],
    });
    const all = prints(context);
    const { beds, left } = fillBeds(context, all);
    expect(beds.reduce((n, b) => n + b.pieces.length, 0)).toBe(500);
    expect(new Set(beds.flatMap((b) => b.pieces.map((p) => p.copy))).size).toBe(500);
    expect(left).toEqual([{ piece: 'b2', copy: 1, why: 'too large for the bed of Desktop 220' }]);
    const short = {
      ...context,
      plan: parsePlan({ ...context.plan, bedding: { hours: 3 }, pieces: [{ key: 'b1', copies: 30 }] }),
    };
    const few = prints(short);
    for (const bed of fillBeds(short, few).beds) {
      const hours = bed.pieces.length * few[0].estimate.hours + 0.1;
      expect(hours).toBeLessThanOrEqual(3);
    }
    const wide = { ...context, plan: parsePlan({ ...context.plan, bedding: { spacing: 100 }, pieces: [] }) };
    expect(fillBeds(wide, prints(wide)).beds).toHaveLength(1);
  });

  it('nothing overlaps or leaves its bed, for whatever blocks (judged by the 2D library)', () => {
    const side = fc.integer({ min: 8, max: 120 });
    fc.assert(
      fc.property(fc.array(fc.tuple(side, side, side), { minLength: 1, maxLength: 7 }), (sizes) => {
        const context = contextOf(sizes.map(([w, d, h], i) => box([i * 200, 0, 0], [i * 200 + w, d, h])));
        const all = prints(context);
        const { beds } = fillBeds(context, all);
        for (const bed of beds) {
          const lying = bed.pieces.map((p) =>
            placed(shadowOfPrint(context, all.find((a) => a.key === p.piece)!), p.x, p.y, p.spin),
          );
          lying.forEach((a, i) => {
            const { min, max } = boxOfShadow(a);
            expect(Math.min(...min)).toBeGreaterThan(2 - 0.07);
            expect(Math.max(...max)).toBeLessThan(218 + 0.07);
            for (const b of lying.slice(i + 1)) expect(sharedArea(a, b)).toBe(0);
          });
        }
      }),
      { numRuns: runs(12) },
    );
  });
});

describe('what is said of beds', () => {
  const context = contextOf([box([0, 0, 0], [60, 50, 40]), box([100, 0, 0], [140, 30, 20])]);
  const all = prints(context);
  const codes = (beds: unknown, more: object = {}) => {
    const plan = parsePlan({ ...context.plan, ...more, beds });
    return bedFindings({ ...context, plan }, all).map((f) => f.code);
  };
  const bed = (...pieces: object[]) => [{ id: 'bed1', printer: 'Desktop 220', pieces }];
  const [a, b] = [
    { piece: 'b1', x: 60, y: 60 },
    { piece: 'b2', x: 160, y: 160 },
  ];

  it('nothing while there are none, or all lie well', () => {
    expect(codes([])).toEqual([]);
    expect(codes(bed(a, b))).toEqual([]);
  });

  it('what overlaps, leaves the bed, is gone, doubled, missing, too long or for a printer that is gone', () => {
    expect(codes(bed(a, { ...b, x: 85, y: 60 }))).toEqual(['bed.overlap']);
    expect(codes(bed(a, { ...b, x: 4 }))).toEqual(['bed.outside']);
    expect(codes(bed(a, b, { piece: 'b9/s1+', x: 0, y: 0 }))).toEqual(['bed.piece']);
    expect(codes(bed(a, b, b))).toEqual(['bed.piece']);
    expect(codes(bed(a))).toEqual(['bed.missing']);
    expect(codes(bed(a, b), { bedding: { hours: 0.2 } })).toEqual(['bed.hours']);
    expect(codes([{ ...bed(a, b)[0], printer: 'Sold 150' }])).toEqual(['bed.printer', 'bed.missing', 'bed.missing']);
    const keepOut = [{ at: [150, 150] as [number, number], size: [10, 10] as [number, number] }];
    expect(codes(bed(a, b), { printer: { ...PRINTER, keepOut } })).toEqual(['bed.outside']);
  });

  it('the mends cure it', () => {
    const plan = parsePlan({ ...context.plan, beds: bed(a, b, { piece: 'gone', x: 0, y: 0 }) });
    const [found] = bedFindings({ ...context, plan }, all);
    const mended = applyChange(plan, found.mend!.change);
    expect(bedFindings({ ...context, plan: mended }, all)).toEqual([]);
  });
});

describe('the files of beds', () => {
  it.each(['3mf', 'stl'] as const)('as %s hold every piece in its place on the bed, and are read back', (format) => {
    const meshes = [SOLIDS.table(), moved(SOLIDS.table(), 100), moved(SOLIDS.shelf(), 200)];
    const context = contextOf(meshes, { pieces: [{ key: 'b3', copies: 2 }] });
    const plan = posed(context);
    const next = again(plan, meshes);
    const all = prints(next);
    const { beds, change } = fillBeds(next, all);
    const filled = { ...next, plan: applyChange(plan, change) };
    const out = bedFiles(filled, all, filled.plan.beds, 'Reeve / "table"', format, {
      palette: [{ name: '', colour: '' }],
    });
    expect(out.folder).toBe('reeve-table');
    expect(out.beds.flatMap((w) => w.against)).toEqual([]);
    expect(beds).toHaveLength(1);
    const file = out.files.find((f) => f.name === out.beds[0].file)!;
    const { parts } = readModel(file.bytes, { name: file.name });
    const wanted = all.reduce((v, p) => v + p.copies * volume(meshes[Number(p.key.slice(1)) - 1]), 0);
    const solid = (p: (typeof parts)[number]): IndexedMesh => ({
      positions: Float64Array.from(p.positions),
      triangles: p.triangles ?? Uint32Array.from({ length: p.positions.length / 3 }, (_, i) => i),
      tags: new Uint32Array(0),
    });
    expect(parts.reduce((v, p) => v + volume(solid(p)), 0) / wanted).toBeCloseTo(1, 5);
    expect(parts).toHaveLength(format === '3mf' ? 4 : 1);
    for (const part of parts) {
      const { min, max } = bounds(part.positions);
      expect(Math.abs(min[2])).toBeLessThan(0.01);
      expect(Math.min(min[0], min[1])).toBeGreaterThan(1.9);
      expect(Math.max(max[0], max[1])).toBeLessThan(218.1);
    }
    const csv = new TextDecoder().decode(out.files.at(-1)!.bytes).trim().split('\r\n');
    expect(csv).toHaveLength(5);
    expect(csv[0]).toMatch(/^bed,file,printer/);
    expect([...out.files.find((f) => f.name.endsWith('.png'))!.bytes.subarray(1, 4)]).toEqual([80, 78, 71]);
  });

  it('carry codes: each file that of the first piece printed from it, a mirrored one that of its own', () => {
    // two brackets without a mirror plane of their own, mirror images of each other, each parted in two
    const bracket = (x: number, way: number): IndexedMesh => {
      const parts = [box([0, 0, 0], [60, 24, 24]), box([36, 0, 24], [60, 12, 44])];
      const [one, other] = parts.map((m) => toKernel(kernel, m));
      const mesh = meshOfSolid(one.add(other));
      const positions = mesh.positions.map((v, i) => (i % 3 === 0 ? x + way * v : v));
      if (way > 0) return { ...mesh, positions };
      return { ...mesh, positions, triangles: mesh.triangles.map((_, i, t) => t[i - (i % 3) + [0, 2, 1][i % 3]]) };
    };
    const meshes = [bracket(0, 1), bracket(200, -1)];
    const seams: SeamInput[] = [{ id: 's', kind: 'flat', origin: [0, 0, 12], normal: [0, 0, 1] }];
    const volumes = [undefined, { height: 8, depth: 0.4 }].map((labels) => {
      const context = contextOf(meshes, { seams, ...(labels && { labels }) });
      const all = prints(context);
      const mirrored = all.filter((p) => p.mirrored);
      expect(mirrored.length).toBeGreaterThan(0);
      const { change } = fillBeds(context, all);
      const filled = { ...context, plan: applyChange(context.plan, change) };
      const out = bedFiles(filled, all, filled.plan.beds, 'x', '3mf', { palette: [{ name: '', colour: '' }] });
      expect(out.beds.flatMap((w) => w.against)).toEqual([]);
      const parts = out.beds.flatMap(
        (b) => readModel(out.files.find((f) => f.name === b.file)!.bytes, { name: b.file }).parts,
      );
      return new Map(
        parts.map((p) => [p.name, volume({ positions: Float64Array.from(p.positions), triangles: p.triangles! })]),
      );
    });
    expect([...volumes[1].keys()].sort()).toEqual([...volumes[0].keys()].sort());
    for (const [name, v] of volumes[1]) expect(volumes[0].get(name)! - v, name).toBeGreaterThan(4);
  });

  it('without anything on a bed there is nothing to write', () => {
    const context = contextOf([box([0, 0, 0], [10, 10, 10])]);
    expect(() => bedFiles(context, prints(context), [], 'x', 'stl', { palette: [] })).toThrow(/nothing to export/);
  });
});

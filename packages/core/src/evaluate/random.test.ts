import { describe, expect, it } from 'vitest';
import { random } from '../../testing/defects.ts';
import { fallback, kernel } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { cutBy, fan, flat, printer } from '../../testing/plans.ts';
import { check, randomCase } from '../../testing/random-plans.ts';
import { richCase } from '../../testing/rich-plans.ts';
import { runs } from '../../testing/runs.ts';
import { box, together } from '../../testing/shapes.ts';
import { tray } from '../../testing/shells.ts';
import { bodiesOf } from '../body/bodies.ts';
import { withCrossings } from '../crossing/crossed.ts';
import { applyChange } from '../document/index.ts';
import { checkPlan, parsePlan } from '../document/schema.ts';
import { GephyraError } from '../errors.ts';
import type { BuiltCap } from '../joints/build.ts';
import { faultyEdges } from '../joints/sealed.ts';
import { volume } from '../mesh/index.ts';
import { topology } from '../mesh/topology.ts';
import { applyRecipe } from '../recipe/run.ts';
import { modelOf } from '../recipe/state.ts';
import { rims } from '../seams/carve-cell.ts';
import { unionOf } from '../solid/index.ts';
import { evaluateModel } from './evaluate.ts';
import { pieceMesh } from './piece-mesh.ts';

describe('random plans', () => {
  // the long run is npm run fuzz -- plans
  it.each([0, 1, 2, 3])('of all steps, seams and joints give only sound pieces (part %i)', (part) => {
    const faults: string[] = [];
    let pieces = 0;
    for (let i = 0; i < runs(12); i++) {
      const seed = 20261125 + (part * 1000 + i) * 7919;
      try {
        const outcome = check(randomCase(random(seed)));
        pieces += outcome.pieces;
        faults.push(...outcome.faults.map((f) => `${seed}: ${f}`));
      } catch (error) {
        // a step may name a body that an earlier one has removed
        if (!/^recipe\./.test((error as { code?: string }).code ?? '')) throw error;
      }
    }
    expect(faults).toEqual([]);
    expect(pieces).toBeGreaterThan(40);
  });

  it.each([0, 1, 2])(
    'of everything that a plan can hold give only sound pieces, or a stop finding (part %i)',
    (part) => {
      const faults: string[] = [];
      let pieces = 0;
      for (let i = 0; i < runs(5); i++) {
        const seed = 20261201 + (part * 1000 + i) * 104_729;
        try {
          const outcome = check(richCase(random(seed)));
          pieces += outcome.pieces;
          faults.push(...outcome.faults.map((f) => `${seed}: ${f}`));
        } catch (error) {
          // a step may be refused: a bore that misses, a patch that is bent
          if (!(error instanceof GephyraError)) throw error;
        }
      }
      expect(faults).toEqual([]);
      expect(pieces).toBeGreaterThan(12);
    },
  );

  // each gave a piece that was closed in no format, without a word
  it.each([500, 2418, 1490, 2403, 1761, 296, 5038, 5318])('that were bad once stay sound (%i)', (n) => {
    expect(check(randomCase(random(n * 7919 + 1))).faults).toEqual([]);
  });

  it.each([
    ['a lap that came out of the skin without a word', 31086475],
    ['a groove whose walls came out through another face, and corners on one place that were moved as one', 28884994],
  ])('%s', (_, seed) => {
    const next = random(seed);
    next();
    expect(check(richCase(next)).faults).toEqual([]);
  });

  it.each([
    ['a fan whose axis lies in the plane of an earlier cap', 32499778],
    ['a cap whose outline touches itself, its diagonals beside its sides', 6462106],
    ['a cap whose outline touches itself in a vertex', 18989964],
    ['bodies that are joined where they lie on one another', 32959080],
    ['a body joined to what it was taken out of', 52590281],
    ['two fans that meet in a crumb of 0.00001 mm', 29324259],
  ])('%s', (_, seed) => {
    expect(check(randomCase(random(seed))).faults).toEqual([]);
  });
});

describe('numbers have bounds', () => {
  const plan = (more: object) =>
    checkPlan({ version: 5, printer, seams: [flat('s1', [0, 0, 0], [0, 0, 1])], ...more }).issues.map((i) => i.path);
  it('in places, angles and counts', () => {
    expect(plan({ seams: [flat('s1', [0, 0, 1e9], [0, 0, 1])] })[0]).toMatch(/^seams\[0\]\.origin/);
    expect(plan({ seams: [fan('s1', [0, 0, 0], [0, 0, 1], 3, { phase: 1e300 })] })[0]).toBe('seams[0].phase');
    expect(
      plan({
        seams: [
          {
            id: 's1',
            kind: 'profile',
            origin: [0, 0, 0],
            normal: [0, 0, 1],
            points: [
              [0, 0],
              [1e9, 0],
            ],
          },
        ],
      })[0],
    ).toMatch(/points/);
    expect(plan({ joints: [{ id: 'j1', kind: 'pin', seam: 's1', at: [1e7, 0], diameter: 5, depth: 5 }] })[0]).toMatch(
      /at/,
    );
    expect(plan({ pieces: [{ key: 'b1', name: 'a\u0000' }] })).toEqual(['pieces[0].name']);
  });

  it('a seam that reaches far beyond the model is refused with a reason, and nothing is lost', () => {
    const mesh = box([-50, -50, -50], [50, 50, 50]);
    const far = cutBy(mesh, [
      {
        id: 's1',
        kind: 'profile',
        origin: [0, 0, 0],
        normal: [0, 0, 1],
        points: [
          [-60, 0],
          [0, 9e5],
          [60, 0],
        ],
      } as never,
    ]);
    expect(far.findings.filter((f) => f.code === 'seam.refused').map((f) => f.severity)).toEqual(['stop']);
    expect(far.pieces.reduce((s, p) => s + p.volume, 0)).toBeCloseTo(1e6, 3);
    // of a box that reaches a kilometre out only what is round the model counts
    const wide = cutBy(mesh, [
      { ...flat('s1', [0, 0, 0], [0, 0, 1]), bound: { min: [-9e5, -9e5, -9e5], max: [9e5, 9e5, 9e5] } } as never,
    ]);
    expect(wide.pieces.map((p) => Math.round(p.volume))).toEqual([500_000, 500_000]);
  });

  it('a model of kilometres or of nothing is refused, with the steps to change', () => {
    const model = modelOf(bodiesOf(modelOfMeshes([box([0, 0, 0], [10, 10, 10])]), 'Bell'));
    const scaled = (factor: number) => () =>
      applyRecipe([{ kind: 'scale', factor, locked: true, enabled: true }], model);
    expect(scaled(1e6)).toThrow(/10000000 mm large; at most/);
    expect(scaled(1e-5)).toThrow(/only 0.0001 mm large/);
    expect(() => bodiesOf(modelOfMeshes([box([0, 0, 0], [1e308, 1, 1])]), 'Bell')).toThrow(
      /1e\+308 mm from the origin/,
    );
    expect(() => bodiesOf(modelOfMeshes([box([0, 0, 0], [Number.NaN, 1, 1])]), 'Bell')).toThrow(/infinitely far/);
  });

  it('more than 2000 pieces are not computed: the seam that goes too far is named', () => {
    const seams = [0, 1, 2].flatMap((a) =>
      Array.from({ length: 13 }, (_, i) => {
        const n = [0, 0, 0];
        n[a] = 1;
        return flat(
          `s${a}${i}`,
          n.map((x) => x * (i * 7 - 42)),
          n,
        );
      }),
    );
    const e = cutBy(box([-50, -50, -50], [50, 50, 50]), seams);
    const refused = e.findings.filter((f) => f.code === 'seam.refused');
    expect(refused.length).toBeGreaterThan(0);
    expect(refused[0].message).toMatch(/more than 2000 pieces/);
    expect(e.pieces.length).toBeLessThanOrEqual(2000);
    expect(e.pieces.reduce((s, p) => s + p.volume, 0)).toBeCloseTo(1e6, 3);
  });
});

describe('closedness', () => {
  const e = cutBy(tray(5), [flat('s1', [0, 0, 10], [0, 0, 1]), flat('s2', [0, 0, 0], [1, 0, 0])]);

  it('is counted edge by edge: an open, a doubled and a turned triangle are seen', () => {
    const [piece] = e.pieces;
    expect(faultyEdges(piece.solid, piece.caps)).toBe(0);
    const without = (cap: BuiltCap, i: number): BuiltCap => ({
      ...cap,
      triangles: [...cap.triangles.slice(0, i), ...cap.triangles.slice(i + 3)] as never,
      owners: cap.owners.slice(1),
    });
    const [first, ...rest] = piece.caps;
    expect(faultyEdges(piece.solid, [without(first, 0), ...rest])).toBe(3);
    const doubled = { ...first, triangles: [...first.triangles, ...first.triangles.slice(0, 3)] as never };
    expect(faultyEdges(piece.solid, [doubled, ...rest])).toBeGreaterThan(0);
    const [a, b, c, ...more] = first.triangles;
    expect(faultyEdges(piece.solid, [{ ...first, triangles: [a, c, b, ...more] as never }, ...rest])).toBe(3);
    const skin = piece.solid.triangles.slice();
    skin.copyWithin(0, 3, 6);
    expect(faultyEdges({ ...piece.solid, triangles: skin }, piece.caps)).toBeGreaterThan(0);
    for (const p of e.pieces) expect(topology(pieceMesh(p).mesh).watertight).toBe(true);
  });

  it('outlines that touch in a vertex: parts get their own, a hole that touches stays with its rim', () => {
    // two triangles that share vertex 0, and a square ring whose hole touches its rim at vertex 0
    expect(rims(Uint32Array.of(0, 1, 2, 0, 3, 4), [0, 1]).map((l) => l.length)).toEqual([3, 3]);
    const ring = Uint32Array.of(0, 1, 4, 4, 1, 2, 4, 2, 5, 5, 2, 3, 5, 3, 0);
    const loops = rims(ring, [0, 1, 2, 3, 4]);
    expect(loops).toHaveLength(1);
    expect(loops[0].filter((v) => v === 0)).toHaveLength(2);
  });
});

describe('a body that passes through itself', () => {
  it('is told, and stops the pieces whose files would, too, but not those beside', () => {
    // a bar folded through itself on its left: one shell of two boxes that share a vertex
    const two = together(box([0, 0, 0], [100, 20, 20]), box([0, 5, 5], [30, 15, 40]));
    const triangles = two.triangles.map((v) => (v === 8 ? 0 : v));
    const model = modelOf(bodiesOf(modelOfMeshes([{ ...two, triangles }]), 'Bar'));
    const plan = parsePlan({ version: 5, printer, seams: [flat('s1', [60, 0, 0], [1, 0, 0])] });
    const look = (bodies: typeof model.bodies) =>
      evaluateModel(plan, { ...model, bodies }, { fallback, kernel }).findings.filter((f) =>
        f.code.endsWith('.crossed'),
      );
    expect(look(model.bodies)).toEqual([]);
    const found = look(withCrossings(model.bodies));
    expect(found.map((f) => [f.code, f.severity])).toEqual([
      ['body.crossed', 'warn'],
      ['piece.crossed', 'stop'],
    ]);
    expect(found[1].where.piece).toBe('b1/s1-');
    // its mend makes it the surface of what it encloses
    const { recipe } = applyChange(plan, found[1].mend!.change);
    const mended = withCrossings(applyRecipe(recipe, model, { tools: { kernel } }).bodies);
    expect(mended[0].crossed).toMatchObject({ count: 0 });
    expect(look(mended)).toEqual([]);
    const other = box([0, 5, 5], [30, 15, 40]);
    other.positions.set([0, 0, 0], 0);
    const wanted = unionOf(kernel, [box([0, 0, 0], [100, 20, 20]), other]);
    expect(volume(mended[0].mesh)).toBeCloseTo(volume(wanted), 1);
    // of a large one it is not looked for unless somebody asks
    const fresh = bodiesOf(modelOfMeshes([{ ...two, triangles }]), 'Bar').bodies;
    expect(withCrossings(fresh, 5)[0].crossed).toBeUndefined();
  });
});

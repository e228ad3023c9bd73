import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { CORPUS } from '../../../testing/corpus.ts';
import { fallback, judge, kernel, meshOfSolid } from '../../../testing/judges.ts';
import { modelOfMesh, planOf, printer, propose } from '../../../testing/proposing.ts';
import { runs } from '../../../testing/runs.ts';
import { box, moved } from '../../../testing/shapes.ts';
import { type Plan, parsePlan } from '../../document/index.ts';
import { evaluateModel, pieceMesh } from '../../evaluate/index.ts';
import {
  boxOf,
  distance,
  type IndexedMesh,
  mirroredPoint,
  sizeOf,
  topology,
  type Vec3,
  volume,
} from '../../mesh/index.ts';
import type { Model } from '../../recipe/index.ts';
import { depthInZone, placeZone } from '../../seams/index.ts';
import { loadSimplifier } from '../../solid/index.ts';
import { EVEN_WISHES, type Proposal } from './proposal.ts';
import { proposeSeams } from './propose.ts';
import { reasonWords } from './reasons.ts';
import { standIn } from './stand-in.ts';

beforeAll(loadSimplifier);

/** The middle of a solid's volume, by the tetrahedra that its triangles make with the origin. */
function middleOf({ positions: p, triangles: t }: IndexedMesh): Vec3 {
  const sum = [0, 0, 0];
  let six = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [...p.subarray(t[i + k] * 3, t[i + k] * 3 + 3)]);
    const w =
      a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
    six += w;
    for (let k = 0; k < 3; k++) sum[k] += (w * (a[k] + b[k] + c[k])) / 4;
  }
  return [sum[0] / six, sum[1] / six, sum[2] / six];
}

type Rod = readonly [from: readonly number[], to: readonly number[], radius: number];

/** Round rods grown together. */
const rods = (list: readonly Rod[]): IndexedMesh =>
  meshOfSolid(
    kernel.Manifold.union(
      list.map(([from, to, r]) =>
        kernel.Manifold.hull([from, to].map((at) => kernel.Manifold.sphere(r, 20).translate([at[0], at[1], at[2]]))),
      ),
    ),
  );

const cross = rods([
  [[-150, 0, 0], [150, 0, 0], 18],
  [[0, -130, 0], [0, 130, 0], 16],
  [[0, 0, 0], [0, 0, 160], 20],
]);

/** What every proposal has to hold: all fit and are closed, nothing is lost, and the document gives the very same pieces. */
function sound(proposal: Proposal, model: Model, plan: Plan): void {
  const { figures, evaluation } = proposal;
  expect(figures).toMatchObject({ fits: figures.pieces, closed: figures.pieces });
  const size = model.bodies.reduce((sum, b) => sum + volume(b.mesh), 0);
  expect(evaluation.pieces.reduce((sum, p) => sum + p.volume, 0) / size).toBeCloseTo(1, 9);
  const again = evaluateModel(parsePlan(JSON.parse(JSON.stringify(proposal.plan))), model, { fallback, kernel });
  expect(again.pieces.map((p) => [p.key, p.volume])).toEqual(evaluation.pieces.map((p) => [p.key, p.volume]));
  for (const p of evaluation.pieces) expect(judge(pieceMesh(p).mesh).status).toBe('NoError');
  expect(proposal.plan.printer).toEqual(plan.printer);
  for (const s of proposal.seams) expect(s.reasons!.map(reasonWords).join().length).toBeGreaterThan(5);
}

describe('a proposal', () => {
  it('parts random bodies of rods into pieces that fit, and keeps its word on the model', () => {
    const place = fc.tuple(
      fc.integer({ min: -140, max: 140 }),
      fc.integer({ min: -140, max: 140 }),
      fc.integer({ min: -140, max: 140 }),
    );
    fc.assert(
      fc.property(
        fc.array(fc.tuple(place, fc.integer({ min: 14, max: 34 })), { minLength: 1, maxLength: 4 }),
        (list) => {
          const model = modelOfMesh(rods(list.map(([to, r]) => [[0, 0, 0], to, r])));
          const plan = planOf();
          sound(propose(plan, model), model, plan);
        },
      ),
      { numRuns: runs(4) },
    );
  });

  it('cuts limbs across and leaves no crumbs, with few pieces', () => {
    const model = modelOfMesh(cross);
    const proposal = propose(planOf(), model);
    sound(proposal, model, planOf());
    expect(proposal.figures.slivers).toBe(0);
    // four arms of 150 and one of 160 mm about a middle, 100 mm each at the most
    expect(proposal.figures.pieces).toBeLessThanOrEqual(8);
    for (const f of proposal.evaluation.faces) expect(f.area).toBeLessThan(2.2 * Math.PI * 20 ** 2);
  });

  it('is the same for the same model, and turns and moves with it', () => {
    const model = modelOfMesh(cross);
    const first = propose(planOf(), model, { effort: 800 });
    expect(propose(planOf(), model, { effort: 800 }).plan).toEqual(first.plan);
    const turned = propose(planOf(), modelOfMesh(moved(cross, (x, y, z) => [300 - y, x + 40, z - 25])), {
      effort: 800,
    });
    expect(turned.figures.pieces).toBe(first.figures.pieces);
    expect(turned.figures.seamArea / first.figures.seamArea).toBeCloseTo(1, 1);
  });

  it('parts both sides of a mirror plane alike: each piece lies in it, or has its image', () => {
    const arm = fc.tuple(
      fc.integer({ min: 60, max: 150 }),
      fc.integer({ min: -120, max: 120 }),
      fc.integer({ min: -120, max: 120 }),
      fc.integer({ min: 12, max: 22 }),
    );
    fc.assert(
      fc.property(fc.array(arm, { minLength: 1, maxLength: 2 }), fc.boolean(), (arms, turned) => {
        const both = arms.flatMap(([x, y, z, r]): Rod[] => [
          [[0, 0, 0], [x, y, z], r],
          [[0, 0, 0], [-x, y, z], r],
        ]);
        const straight = rods([...both, [[0, 0, -70], [0, 0, 90], 24]]);
        const mesh = turned ? moved(straight, (x, y, z) => [30 + 0.8 * x - 0.6 * y, 0.6 * x + 0.8 * y, z]) : straight;
        const normal: [number, number, number] = turned ? [0.8, 0.6, 0] : [1, 0, 0];
        const mirror = { normal, offset: turned ? 24 : 0 };
        const model = modelOfMesh(mesh);
        const proposal = propose(planOf(), model, { mirror });
        sound(proposal, model, planOf());
        expect(proposal.unlike).toBe(0);
        const { pieces } = proposal.evaluation;
        const middles = pieces.map((p) => middleOf(pieceMesh(p).mesh));
        pieces.forEach((p, i) => {
          const image = mirroredPoint(mirror, middles[i]);
          const twin = pieces.find((_, j) => distance(middles[j], image) < 0.5);
          expect(twin && twin.volume / p.volume).toBeCloseTo(1, 2);
        });
      }),
      { numRuns: runs(3) },
    );
  });

  it('keeps the image of a cut out of zones, too', () => {
    const model = modelOfMesh(cross);
    const mirror = { normal: [1, 0, 0] as [number, number, number], offset: 0 };
    // where it would part an arm, if it were free to
    const free = propose(planOf(), model, { mirror });
    const twice = free.seams.filter((s) => s.reasons!.some((r) => r.kind === 'alike' && r.how === 'twice'));
    expect(twice.length).toBeGreaterThan(1);
    for (const { origin } of twice.slice(0, 1)) {
      const plan = planOf({ zones: [{ id: 'z1', kind: 'sphere', at: origin, radius: 12 }] });
      const proposal = propose(plan, model, { mirror });
      sound(proposal, model, plan);
      expect(proposal.unlike).toBe(0);
      const [zone] = plan.zones.map((z) => placeZone(z, model.map));
      for (const f of proposal.evaluation.faces) expect(depthInZone(zone, f.frame, f.region)).toBe(0);
    }
  });

  it('takes a grid of planes where that does with fewer pieces, and says so', () => {
    const frame = CORPUS.find((s) => s.name === 'breastplate')!.make();
    const model = modelOfMesh(frame);
    const desk = planOf({ printer: { size: [224, 224, 252], margin: 2 } });
    const proposal = propose(desk, model, { jointRoom: 8 });
    sound(proposal, model, desk);
    expect(proposal.figures.pieces).toBeLessThanOrEqual(30);
    expect(reasonWords(proposal.seams[0].reasons![0])).toMatch(/grid of planes/);
  });

  it('keeps out of zones, leaves locked seams, parts only the pieces it is asked to, and takes several printers', () => {
    const model = modelOfMesh(cross);
    const zones = [{ id: 'z1', kind: 'sphere' as const, at: [85, 0, 0] as [number, number, number], radius: 30 }];
    const kept = {
      id: 's1',
      kind: 'flat' as const,
      origin: [0, 0, 60] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
      locked: true,
    };
    const loose = { ...kept, id: 's2', origin: [0, 0, 90] as [number, number, number], locked: false };
    const plan = planOf({ zones, seams: [kept, loose] });
    const proposal = propose(plan, model, { keep: 'locked' });
    sound(proposal, model, plan);
    expect(proposal.plan.seams[0]).toEqual(plan.seams[0]);
    expect(proposal.plan.seams.filter((s) => s.origin[2] === 90)).toEqual([]);
    const [zone] = plan.zones.map((z) => placeZone(z, model.map));
    for (const f of proposal.evaluation.faces) expect(depthInZone(zone, f.frame, f.region)).toBe(0);
    // the upper piece fits, and is parted because it is asked for; the lower does not, and is left
    const only = propose(planOf({ seams: [kept] }), model, { only: ['b1/s1+'] });
    expect(only.evaluation.pieces).toHaveLength(3);
    expect(only.evaluation.pieces.map((p) => p.key)).toContain('b1/s1-');
    const large = parsePlan({ version: 5, printer, printers: [{ name: 'Large', size: [400, 400, 400] }] });
    const both = propose(large, model, { printers: [large.printer, ...large.printers] });
    expect(both.figures.pieces).toBe(1);
  });

  it('takes a slant where it is allowed to, and writes the pose', () => {
    const rod = rods([[[0, 0, 0], [0, 0, 218], 8]]);
    const straight = propose(planOf(), modelOfMesh(rod));
    expect(straight.figures.pieces).toBe(3);
    expect(straight.plan.pieces).toEqual([]);
    const slanted = propose(planOf(), modelOfMesh(rod), { turned: true });
    sound(slanted, modelOfMesh(rod), planOf());
    expect(slanted.figures.pieces).toBe(2);
    const posed = slanted.plan.pieces.filter((p) => p.pose);
    expect(posed.length).toBeGreaterThan(0);
    for (const { key } of posed) {
      expect(slanted.evaluation.pieces.find((p) => p.key === key)!.build).toMatchObject({ within: true, posed: true });
    }
    // what is as long as the printer in no direction is parted all the same
    const short = rods([[[0, 0, 0], [90, 90, 0], 6]]);
    expect(propose(planOf(), modelOfMesh(short), { turned: true }).figures.pieces).toBe(1);
  });

  it('makes no piece longer than is wished for, and leaves whole bodies and printed pieces as they are', () => {
    const model = modelOfMesh(box([0, 0, 0], [40, 40, 200]), box([100, 0, 0], [140, 40, 200]));
    const short = propose(planOf(), model, { longest: 60, whole: ['b2'] });
    const own = short.evaluation.pieces.filter((p) => p.body === 'b1');
    expect(own.length).toBeGreaterThan(3);
    for (const p of own) expect(Math.max(...p.size)).toBeLessThanOrEqual(60);
    expect(short.evaluation.pieces.filter((p) => p.body === 'b2')).toHaveLength(1);
    const seam = (id: string, z: number) => ({
      id,
      kind: 'flat' as const,
      origin: [20, 20, z] as [number, number, number],
      normal: [0, 0, 1] as [number, number, number],
    });
    const plan = planOf({ seams: [seam('s1', 30), seam('s2', 153)] });
    const bar = modelOfMesh(box([0, 0, 0], [40, 40, 300]));
    const again = propose(plan, bar, { keep: 'locked', still: ['b1/s1-'], longest: 90 });
    // the seam of the printed piece stays, the other goes
    expect(again.plan.seams.map((s) => s.id)).toContain('s1');
    expect(again.plan.seams.some((s) => s.origin[2] === 153)).toBe(false);
    expect(again.evaluation.pieces.find((p) => p.key === 'b1/s1-')!.volume).toBeCloseTo(40 * 40 * 30, 6);
    const whole = propose(planOf({ seams: [seam('s1', 120)] }), bar, { still: ['b1/s1+'] });
    expect(whole.evaluation.pieces.filter((p) => p.key.startsWith('b1/s1+'))).toHaveLength(1);
  });

  it('parts several bodies, each by seams of its own, and what fits not at all', () => {
    const model = modelOfMesh(box([0, 0, 0], [40, 40, 200]), box([100, 0, 0], [140, 40, 60]));
    const proposal = propose(planOf(), model);
    sound(proposal, model, planOf());
    expect(proposal.evaluation.pieces.filter((p) => p.body === 'b2')).toHaveLength(1);
    expect(proposal.figures.pieces).toBe(3);
  });

  it.each([
    ['a cube', box([0, 0, 0], [250, 250, 250]), 27],
    ['a plate thinner than a wall', box([0, 0, 0], [300, 200, 0.8]), 9],
  ])('shares out %s', (_, mesh, most) => {
    const model = modelOfMesh(mesh);
    const proposal = propose(planOf(), model);
    sound(proposal, model, planOf());
    expect(proposal.figures.pieces).toBeLessThanOrEqual(most);
  });

  it('stops when it is told to, and refuses what cannot be cut and printers without room', () => {
    const model = modelOfMesh(box([0, 0, 0], [250, 250, 250]));
    let told = 0;
    const stopped = proposeSeams(
      planOf(),
      model,
      { printers: [planOf().printer], wishes: EVEN_WISHES, jointRoom: 4, keep: 'all', effort: 0, seed: 0 },
      { fallback, kernel },
      () => ++told < 4,
    );
    expect(told).toBe(4);
    expect(stopped.evaluation.pieces.reduce((sum, p) => sum + p.volume, 0)).toBeCloseTo(250 ** 3, 0);
    const open = { ...cross, triangles: cross.triangles.slice(3), tags: cross.tags.slice(1) };
    expect(() => propose(planOf(), modelOfMesh(open))).toThrow(/not closed, so it cannot be cut. Mend it/);
    const tiny = planOf({ printer: { size: [12, 12, 12], margin: 1 } });
    expect(() => propose(tiny, model)).toThrow(/No printer has room/);
  });
});

describe('a stand-in', () => {
  it.each(CORPUS.filter((s) => ['figure 3', 'sieve', 'horn', 'four faces'].includes(s.name)))(
    'of $name is closed, light, near, and without long edges',
    ({ make }) => {
      const mesh = make();
      const size = Math.max(...sizeOf(boxOf(mesh.positions)));
      const light = standIn(mesh, size);
      expect(topology(light).watertight).toBe(true);
      expect(volume(light) / volume(mesh)).toBeCloseTo(1, 1);
      expect(light.tags.length).toBeLessThan(20_000);
      for (let h = 0; h < light.triangles.length; h++) {
        const a = light.triangles[h] * 3;
        const b = light.triangles[h % 3 === 2 ? h - 2 : h + 1] * 3;
        const p = light.positions;
        expect(Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2])).toBeLessThanOrEqual(70.001);
      }
    },
  );
});

import { describe, expect, it } from 'vitest';
import { fallback, kernel, meshOfSolid } from '../testing/judges.ts';
import { modelOfMesh, planOf } from '../testing/proposing.ts';
import { box } from '../testing/shapes.ts';
import type { IndexedMesh } from './mesh/index.ts';
import { computeProject } from './project.ts';
import { EVEN_WISHES, figuresOf } from './propose/seams/index.ts';
import { type Weighed, weighParting, weightOf } from './weigh.ts';

const tools = { fallback, kernel };
const level = (id: string, z: number) => ({
  id,
  kind: 'flat' as const,
  origin: [0, 0, z] as [number, number, number],
  normal: [0, 0, 1] as [number, number, number],
});

/** A parting by level seams, weighed, with the shares that were told on the way. */
function weigh(mesh: IndexedMesh, heights: readonly number[]): { weighed: Weighed; told: number[]; weight: number } {
  const model = modelOfMesh(mesh);
  const { plan, evaluation } = computeProject(
    planOf({ seams: heights.map((z, i) => level(`s${i + 1}`, z)) }),
    model,
    tools,
  );
  const steps = weighParting(plan, evaluation, model, tools);
  const told: number[] = [];
  for (;;) {
    const step = steps.next();
    if (step.done)
      return { weighed: step.value, told, weight: weightOf(figuresOf(evaluation), step.value, EVEN_WISHES) };
    told.push(step.value);
  }
}

describe('a parting that is weighed', () => {
  it('is jointed and laid: bars stand without support and have no bare face', () => {
    const { weighed, told } = weigh(box([-20, -20, 0], [20, 20, 180]), [90]);
    expect(weighed).toMatchObject({ bare: 0, refused: 0 });
    // sockets are held up inside at the most
    expect(weighed.support).toBeLessThan(2);
    expect(weighed.hours).toBeGreaterThan(0.5);
    expect(told).toEqual([...told].sort((a, b) => a - b));
    expect(told.at(-1)).toBeLessThan(1);
  });

  it('tells what is held up: a seam under wide heads leaves less to hold than one through their middle', () => {
    // two plates on a stem
    const plate = kernel.Manifold.cube([90, 90, 10], true);
    const stem = kernel.Manifold.cube([20, 20, 100], true);
    const spool = meshOfSolid(stem.add(plate.translate([0, 0, 45])).add(plate.translate([0, 0, -45])));
    const across = weigh(spool, [0]).weighed;
    const none = weigh(spool, []).weighed;
    expect(across.support).toBeLessThan(0.2 * none.support);
  });

  it('counts faces on which nothing finds room', () => {
    expect(weigh(box([0, 0, 0], [60, 1, 180]), [90]).weighed.bare).toBe(1);
  });

  it('weighs more with every piece, bare face, refused joint, hour and gram', () => {
    const { weighed } = weigh(box([-20, -20, 0], [20, 20, 180]), [90]);
    const figures = { pieces: 2, slivers: 0, fits: 2, closed: 2, seamArea: 1600, seenLength: 160 };
    const base = weightOf(figures, weighed, EVEN_WISHES);
    for (const worse of [{ bare: 1 }, { refused: 1 }, { hours: weighed.hours + 1 }, { support: 10 }]) {
      expect(weightOf(figures, { ...weighed, ...worse }, EVEN_WISHES)).toBeGreaterThan(base);
    }
    for (const worse of [{ pieces: 3, fits: 3, closed: 3 }, { fits: 1 }, { slivers: 1 }, { seenLength: 400 }]) {
      expect(weightOf({ ...figures, ...worse }, weighed, EVEN_WISHES)).toBeGreaterThan(base);
    }
    // a piece that is too large is worth no saving of pieces
    expect(weightOf({ ...figures, pieces: 5, fits: 5, closed: 5 }, weighed, EVEN_WISHES)).toBeLessThan(
      weightOf({ ...figures, fits: 1 }, weighed, EVEN_WISHES),
    );
  });
});

import { beforeAll, describe, expect, it } from 'vitest';
import { random } from '../../testing/defects.ts';
import { fallback, kernel } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { randomCase } from '../../testing/random-plans.ts';
import { runs } from '../../testing/runs.ts';
import { bodiesOf } from '../body/index.ts';
import { withCrossings } from '../crossing/index.ts';
import { applyChange, parsePlan } from '../document/index.ts';
import { evaluateModel } from '../evaluate/index.ts';
import { alikePieces, sharedFiles } from '../output/index.ts';
import { columnsOf, columnsVolume } from '../print/index.ts';
import { applyRecipe, modelOf } from '../recipe/index.ts';
import { loadSimplifier } from '../solid/index.ts';
import { bedFiles } from './bed-files.ts';
import { bedFindings } from './bed-findings.ts';
import { fillBeds } from './fill.ts';
import { poseAll, posesTaken } from './pose-all.ts';
import { type PrintContext, piecePrints, printMeshOf } from './prints.ts';

beforeAll(loadSimplifier);

/** A random plan computed; null where its recipe asks for what is gone, or a body passes through itself. */
function computed(seed: number): PrintContext | null {
  const { meshes, plan: input } = randomCase(random(seed));
  const plan = parsePlan(input);
  try {
    const model = applyRecipe(plan.recipe, modelOf(bodiesOf(modelOfMeshes(meshes), 'Test')), { tools: { kernel } });
    if (withCrossings(model.bodies).some((b) => (b.crossed?.count ?? 0) > 0)) return null;
    const evaluation = evaluateModel(plan, model, { fallback, kernel });
    return {
      kernel,
      plan,
      evaluation,
      shared: sharedFiles(evaluation, alikePieces(evaluation, plan.alike), plan.pieces),
    };
  } catch (error) {
    if (/^recipe\./.test((error as { code?: string }).code ?? '')) return null;
    throw error;
  }
}

describe('random plans, posed and put on beds', () => {
  it.each([0, 1])(
    'every number is one, beds hold every piece that fits, and their files are sound (part %i)',
    (part) => {
      let seen = 0;
      for (let i = 0; i < runs(4); i++) {
        const seed = 77 + (part * 8 + i) * 7919;
        const context = computed(seed);
        if (!context) continue;
        const pieces = context.evaluation.pieces.filter((p) => p.closed && !p.aside && Math.min(...p.size) > 0.5);
        // crumbs thinner than the raster are not what beds are for
        if (pieces.length === 0 || pieces.length < context.evaluation.pieces.length) continue;
        for (const piece of pieces) {
          const mesh = printMeshOf(context, piece);
          expect([seed, mesh.volume / piece.volume]).toEqual([seed, expect.closeTo(1, 6)]);
          const fine = Math.min(...piece.size) / 40;
          const share = columnsVolume(columnsOf(mesh, Math.max(0.15, Math.min(0.5, fine)))) / mesh.volume;
          expect([seed, piece.key, share]).toEqual([seed, piece.key, expect.closeTo(1, 0.8)]);
        }
        const search = poseAll(context, context.plan.wish);
        let step = search.next();
        while (!step.done) step = search.next();
        const posed = { ...context, plan: applyChange(context.plan, posesTaken(step.value, context)) };
        const prints = [...piecePrints(posed)];
        for (const { figures, estimate } of prints) {
          for (const [name, value] of Object.entries({ ...figures, ...estimate })) {
            if (typeof value !== 'number' || name === 'tip' || name === 'stand' || name === 'standSupported') continue;
            expect([seed, name, Number.isFinite(value)]).toEqual([seed, name, true]);
          }
          expect(estimate.hours).toBeGreaterThan(0);
          expect(figures.locked).toBeLessThanOrEqual(1);
          expect(figures.onPiece).toBeLessThanOrEqual(1);
        }
        const { beds, left, change } = fillBeds(posed, prints);
        const filled = { ...posed, plan: applyChange(posed.plan, change) };
        expect([seed, left.length + beds.reduce((n, b) => n + b.pieces.length, 0)]).toEqual([seed, prints.length]);
        const stops = bedFindings(filled, prints).filter((f) => f.severity === 'stop');
        expect([seed, stops.map((f) => f.message)]).toEqual([seed, []]);
        if (beds.length === 0) continue;
        const files = bedFiles(filled, prints, filled.plan.beds, 'Random', i % 2 === 0 ? '3mf' : 'stl', {
          palette: [],
        });
        expect([seed, files.beds.flatMap((b) => b.against)]).toEqual([seed, []]);
        seen++;
      }
      expect(seen).toBeGreaterThan(1);
    },
  );
});

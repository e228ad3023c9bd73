import { describe, expect, it } from 'vitest';
import { random } from '../../testing/defects.ts';
import { fallback, kernel } from '../../testing/judges.ts';
import { modelOfMeshes } from '../../testing/models.ts';
import { randomCase } from '../../testing/random-plans.ts';
import { bodiesOf } from '../body/bodies.ts';
import { type Plan, parsePlan } from '../document/schema.ts';
import { applyRecipe } from '../recipe/run.ts';
import { modelOf } from '../recipe/state.ts';
import { EvalCache } from './eval-cache.ts';
import { evaluateModel } from './evaluate.ts';
import type { Evaluation } from './model.ts';
import { pieceMesh } from './piece-mesh.ts';

/** All that an evaluation says, without the objects it says it with. */
const said = (e: Evaluation) => ({
  pieces: e.pieces.map((p) => {
    const { mesh, tags, paint } = pieceMesh(p);
    return [
      p.key,
      p.code,
      p.name,
      p.volume,
      p.size,
      p.joints,
      p.closed,
      [...mesh.positions],
      [...mesh.triangles],
      tags,
      paint,
    ];
  }),
  faces: e.faces.map((f) => [f.id, f.pieces, f.area]),
  joints: e.joints.map((j) => [j.id, j.built, j.face, j.edge, j.walls, j.root, j.apart, j.next]),
  ways: e.ways.map((w) => [w.step.groups, w.joints, w.out]),
  loose: e.loose.map((l) => [l.what, l.count, l.length]),
  findings: e.findings,
  kept: [e.anchors, e.contacts],
});

/** Plans on the way to one: without its last seams and joints, with others moved, switched off and scoped. */
function* wayTo(plan: Plan): Generator<Plan> {
  const seam = plan.seams.at(-1);
  const joints = plan.joints.filter((j) => j.seam !== seam?.id);
  yield parsePlan({ ...plan, seams: plan.seams.slice(0, -1), joints });
  yield plan;
  if (seam) {
    yield parsePlan({ ...plan, seams: [...plan.seams.slice(0, -1), { ...seam, enabled: false }] });
    const [x, y, z] = seam.origin;
    yield parsePlan({ ...plan, seams: [...plan.seams.slice(0, -1), { ...seam, origin: [x + 1, y - 2, z + 3] }] });
    yield parsePlan({ ...plan, seams: [...plan.seams.slice(0, -1), { ...seam, scope: ['b1'] }] });
  }
  yield parsePlan({ ...plan, joints: plan.joints.map((j) => ({ ...j, turn: j.turn + 0.5 })) });
  yield parsePlan({ ...plan, reach: 3, printer: { ...plan.printer, nozzle: 0.8 } });
}

describe('evaluation with what earlier ones kept', () => {
  it.each(Array.from({ length: 12 }, (_, i) => 7001 + i * 7919))('says the same as one by itself (%i)', (seed) => {
    const { meshes, plan: input } = randomCase(random(seed));
    const full = parsePlan(input);
    const source = modelOf(bodiesOf(modelOfMeshes(meshes), 'Test'));
    let model: ReturnType<typeof applyRecipe>;
    try {
      model = applyRecipe(full.recipe, source, { tools: { kernel } });
    } catch (error) {
      // a step may name a body that an earlier one has removed
      expect((error as { code: string }).code).toMatch(/^recipe\./);
      return;
    }
    const cache = new EvalCache();
    // there and back again, so that what is kept is met by plans that it was not made for
    const plans = [...wayTo(full)];
    for (const plan of [...plans, ...plans.toReversed()]) evaluateModel(plan, model, { fallback, kernel, cache });
    for (const plan of plans) {
      const kept = evaluateModel(plan, model, { fallback, kernel, cache });
      expect(said(kept)).toEqual(said(evaluateModel(plan, model, { fallback, kernel })));
    }
  });
});

import { expect, it } from 'vitest';
import { fallback, judge, kernel } from '../../../testing/judges.ts';
import { modelOfMeshes } from '../../../testing/models.ts';
import { blob } from '../../../testing/shapes.ts';
import { bodiesOf } from '../../body/index.ts';
import { parsePlan } from '../../document/index.ts';
import { pieceMesh } from '../../evaluate/index.ts';
import { prepareStep } from '../../prepare.ts';
import { computeProject } from '../../project.ts';
import { applyRecipe, modelOf } from '../../recipe/index.ts';
import { gridSeams } from './grid-seams.ts';

const printer = { name: 'Desktop 220', size: [220, 220, 250] as [number, number, number] };
const column = blob(18, 30, 900, (a, z) => 150 + 20 * Math.sin(3 * a + z / 90));
const source = modelOf(bodiesOf(modelOfMeshes([column]), 'Column'));

it('a grid parts any model into pieces that fit, whatever its size was made, zones or none', () => {
  for (const factor of [1, 0.5, 2]) {
    const plan = parsePlan({
      version: 5,
      printer,
      recipe: [{ kind: 'scale', factor }],
      zones: [{ id: 'z1', kind: 'sphere', at: [0, 0, 0], radius: 12 }],
    });
    const model = applyRecipe(plan.recipe, source, { tools: { kernel } });
    const seams = gridSeams(plan, model, 8);
    const { evaluation } = computeProject(parsePlan({ ...plan, seams }), model, { fallback, kernel });
    expect(evaluation.pieces.length).toBeGreaterThan(factor);
    expect(evaluation.pieces.every((p) => p.build.within)).toBe(true);
    expect(evaluation.pieces.every((p) => judge(pieceMesh(p).mesh).closed)).toBe(true);
  }
  const small = parsePlan({ version: 5, printer: { ...printer, size: [20, 20, 20], margin: 3 } });
  expect(gridSeams(small, source, 8)).toEqual([]);
});

it('a search that is ended before it came to anything gives a grid', () => {
  const tools = { fallback, kernel };
  const plan = parsePlan({ version: 5, printer });
  const project = computeProject(plan, source, tools);
  const { did, left, change } = prepareStep('seams', { project, model: source, tools, enough: () => true });
  expect(left).toEqual([]);
  expect(did).toMatch(/^\d+ seams in a grid/);
  expect(change).toMatchObject({ do: 'addSeams' });
});

import { bodiesOf } from '../src/body/index.ts';
import { type Plan, type PlanInput, parsePlan } from '../src/document/index.ts';
import type { IndexedMesh } from '../src/mesh/index.ts';
import { EVEN_WISHES, type Proposal, type ProposeWish, proposeSeams } from '../src/propose/seams/index.ts';
import { type Model, modelOf } from '../src/recipe/index.ts';
import { fallback, kernel } from './judges.ts';
import { modelOfMeshes } from './models.ts';

/** A small printer, so that small models need parting. */
export const printer = { size: [104, 104, 122] as [number, number, number], margin: 2 };

export const planOf = (more: Partial<PlanInput> = {}): Plan => parsePlan({ version: 5, printer, ...more });

export const modelOfMesh = (...meshes: IndexedMesh[]): Model => modelOf(bodiesOf(modelOfMeshes(meshes), 'Test'));

/** Seams for the small printer, with as little search as there can be. */
export const propose = (plan: Plan, model: Model, more: Partial<ProposeWish> = {}): Proposal =>
  proposeSeams(
    plan,
    model,
    { printers: [plan.printer], wishes: EVEN_WISHES, jointRoom: 4, keep: 'all', effort: 0, seed: 0, ...more },
    { fallback, kernel },
  );

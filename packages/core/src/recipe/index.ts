export { angle, between, coordinate, direction, id, name, text, vec3 } from './fields.ts';
export { type TakenMeasure, takeMeasure } from './measure.ts';
export { packModel, unpackModel } from './pack.ts';
export { fitFactor, poseMap } from './pose.ts';
export { applyRecipe, bodiesNamed, type Deviation, type RecipeOptions, type StepReport } from './run.ts';
export { isLight, type Step, type StepInput, type StepOf, splitRecipe, stepSchema } from './schema.ts';
export { type Model, mappedBody, modelBox, modelOf } from './state.ts';
export { type MirrorPlane, mirrorPlane, mirrorSearch } from './symmetry.ts';
export { type Counts, countsOf, type Tools, workOf } from './work.ts';

export { type TakenMeasure, takeMeasure } from './measure.ts';
export { packModel, unpackModel } from './pack.ts';
export { applyRecipe, type StepReport } from './run.ts';
export { ShapeCache, type Shaped } from './shape-cache.ts';
export { type Model, modelBox, modelOf } from './state.ts';
export { stepFields } from './step-fields.ts';
export { type MirrorPlane, mirrorOf, mirrorPlane, mirrorSearch, type TurnAxis, turnAxis } from './symmetry.ts';
export { stepTitle } from './titles.ts';

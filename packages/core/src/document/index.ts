export { applyChange, freeId, type PlanChange, settled, withIds } from './change.ts';
export { angle, between, coordinate, direction, id, name, text, vec3 } from './fields.ts';
export { type Finding, type Mend, mm, type Severity } from './findings.ts';
export { type Joint, type JointFields, type JointInput, type JointOf, jointSchema } from './joint-schema.ts';
export { ampleWall, wallLimits } from './limits.ts';
export { isLight, type Step, type StepInput, type StepOf, splitRecipe, stepSchema } from './recipe-schema.ts';
export {
  type BodyNote,
  type Contact,
  checkPlan,
  type FlatSeam,
  fitSetsSchema,
  type Plan,
  type PlanInput,
  type Printer,
  type ProfileSeam,
  parsePlan,
  planSchema,
  printerSchema,
  type Seam,
  type SeamInput,
  type SeamRegions,
  type Zone,
} from './schema.ts';

export { applyChange, freeId, type PlanChange, settled, withIds } from './change.ts';
export { FINDINGS, type FindingCode, isListedAt, type StationId, stationOf } from './finding-kinds.ts';
export type { Finding, Mend, Severity } from './findings.ts';
export { ampleWall, wallLimits } from './limits.ts';
export {
  type HeavyKind,
  isLight,
  type LightKind,
  type Step,
  type StepInput,
  type StepOf,
  splitRecipe,
  stepSchema,
} from './recipe-schema.ts';
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

export type {
  Flat,
  FlatSeam,
  ProfileSeam,
  Seam,
  SeamInput,
  SeamReason,
  SeamRegions,
} from '../seams/kinds/index.ts';
export {
  type AlternateBody,
  type Alternates,
  alternateBodies,
  spareBodies,
  withAlternate,
  withoutAlternate,
} from './alternates.ts';
export { applyChange, freeId, type PlanChange, settled, withIds } from './change.ts';
export { FINDINGS, type FindingCode, isListedAt, type StationId, stationOf } from './finding-kinds.ts';
export type { Finding, Mend, Severity } from './findings.ts';
export { ampleWall, wallLimits } from './limits.ts';
export { type LogEntry, type LogEntryInput, MOST_ENTRIES, type PieceState, STATES } from './log.ts';
export { MergeConflict, merged } from './merge.ts';
export { CLOSING_MINUTES, CLOSINGS, type Closing, type OrderPart, type OrderStep } from './order.ts';
export {
  type PrintSetting,
  type PrintSettingInput,
  printSettingFields,
  printSettingOf,
  printSettingSchema,
} from './print-setting.ts';
export {
  type HeavyKind,
  isLight,
  type LightKind,
  type Step,
  type StepInput,
  type StepOf,
  splitRecipe,
  stepSchema,
  stepSchemaOf,
  unevenPlace,
} from './recipe-schema.ts';
export {
  type Bed,
  type Bedding,
  type BodyNote,
  type CodeEntry,
  type Contact,
  checkPlan,
  fitSetsSchema,
  LABELS,
  type PieceNote,
  type PlacedPiece,
  type Plan,
  type PlanInput,
  type PoseNote,
  type Printer,
  parsePlan,
  planSchema,
  printerSchema,
  WISHES,
  type Wish,
  type Zone,
} from './schema.ts';
export { seamsBefore } from './seams-before.ts';
export { CREASE, MOST_MARKS, type ShowMark } from './show-mark.ts';

export { applyChange, freeId, type PlanChange, withIds } from './change.ts';
export { PIECE_COLOURS, pieceColour } from './colours.ts';
export { type EvalContext, type Evaluation, evaluate, evaluateModel, type Piece, pieceMesh } from './evaluate.ts';
export {
  EXPORT_FORMATS,
  type ExportedPiece,
  type ExportFile,
  type ExportFormat,
  exportPieces,
  safeName,
  stopsOf,
} from './export.ts';
export type { MatingFace } from './faces.ts';
export { type Finding, type Mend, mm, type Severity } from './findings.ts';
export { type FitResult, fitTo, usableSize } from './fits.ts';
export { type PlacedJoint, pinOf, wallLimits } from './joints.ts';
export { planeInSource, type SeamPlace, seamPlace } from './place.ts';
export {
  type BodyNote,
  checkPlan,
  type Joint,
  type JointInput,
  type Measure,
  type Plan,
  type PlanInput,
  type PlanIssue,
  type Printer,
  parsePlan,
  planSchema,
  printerSchema,
  type Seam,
} from './schema.ts';
export { EvalCache, type SizedBody, sizedBody } from './stages.ts';

export { type AlikeGroup, alikePieces, pieceDeviation, type SharedFile, sharedFiles } from './alike.ts';
export { applyChange, freeId, type PlanChange, settled, withIds } from './change.ts';
export { PIECE_COLOURS, pieceColour } from './colours.ts';
export { bendWay, type Point, partPlace, sampled } from './cutter.ts';
export { nearestRegion } from './cutting.ts';
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
export { stopsByItself } from './joint-findings.ts';
export { formJoint, formOf, jointGap } from './joint-form.ts';
export { type JointContext, type MeasuredJoint, measureJoint } from './joint-measure.ts';
export { sizeOfJoint } from './joint-mends.ts';
export { type Joint, type JointFields, type JointInput, type JointOf, jointSchema } from './joint-schema.ts';
export { emptyPlacing, type PlacedJoint, placeJoint } from './joints.ts';
export { lapOutline } from './laps.ts';
export { ampleWall, type Limits, wallLimits } from './limits.ts';
export { type LoosePart, looseRod } from './loose.ts';
export { bothOf, type Occupancy, type Occupied, occupy, prismMesh } from './occupants.ts';
export { bladesOf, planeInSource, type SeamPlace, seamPlace } from './place.ts';
export { type Showing, type SidePiece, type SideReadout, seamReadout, seamShowing } from './readout.ts';
export { type Refit, refitJoints } from './refit.ts';
export {
  type BodyNote,
  type Contact,
  checkPlan,
  type FlatSeam,
  fitSetsSchema,
  type Measure,
  type PieceNote,
  type Plan,
  type PlanInput,
  type PlanIssue,
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
export { EvalCache, type SizedBody, sizedBody } from './stages.ts';
export { joiningSteps, type WayIn, waysIn } from './way-in.ts';
export { inZone, type PlacedZone, placeZone, zoneSpan } from './zones.ts';

export { type BuildCheck, bestBuild, usableSize, withinBuild, withinPosed } from './build-volume.ts';
export type { Candidate, PoseReason } from './candidates.ts';
export { type PoseOption, posesFor, scoreOf } from './choose.ts';
export { type Columns, columnsOf, columnsVolume } from './columns.ts';
export {
  type Estimate,
  estimateOf,
  hoursText,
  type LoggedPrint,
  learnedFactor,
} from './estimate.ts';
export { type Figures, type Measured, measurePose, type PrintRule } from './figures.ts';
export {
  laidOn,
  layDown,
  mirroredPose,
  type Pose,
  poseOfTurn,
  poseOnModel,
  poseTurn,
  turnedPose,
  UPRIGHT,
  upInSource,
} from './pose.ts';
export { type Cap, lightPrint, type Peg, type PrintMesh, printMesh, SURFACE } from './print-mesh.ts';
export { printRule } from './rule.ts';
export { type Slices, slicesOf } from './slices.ts';
export type { Supports } from './support.ts';

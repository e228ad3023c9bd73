export { type BedFiles, type BedOptions, bedFiles, layOf, type WrittenBed } from './bed-files.ts';
export { bedFindings, bedName, beyondBed, tooNear } from './bed-findings.ts';
export {
  bedHours,
  bedRoom,
  type Filling,
  fillBeds,
  leadOf,
  leadPose,
  nameOfCopy,
  shadowOfPrint,
  type Unplaced,
} from './fill.ts';
export type { PiecePrint, PoseChoice, PoseProposal } from './model.ts';
export { poseAll, posesTaken, sumOf } from './pose-all.ts';
export { printFindings, sideFindings } from './print-findings.ts';
export {
  type PrintContext,
  piecePrints,
  poseChoices,
  printerNamed,
  printerOfPrint,
  printersOf,
  printMeshOf,
  printOf,
  printOfFile,
} from './prints.ts';

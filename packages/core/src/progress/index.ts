export { type Bench, benchOf } from './bench.ts';
export { fileMark } from './file.ts';
export { changedFiles, frozenPieces, sameShape, sparing } from './frozen.ts';
export { type Next, nextAtBench } from './next.ts';
export { type EndedPrint, notesOfPrint } from './print-end.ts';
export {
  type CopyProgress,
  copiesOf,
  copyKey,
  days,
  forecast,
  happened,
  isJoined,
  isPrinted,
  outdated,
  progressOf,
  stateIndex,
  type Tally,
  tallyOf,
} from './progress.ts';
export { type Salvage, type SalvageJoin, salvage, salvaged } from './salvage.ts';

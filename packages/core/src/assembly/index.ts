export { type Overlap, overlapFindings, overlapsAtRest } from './at-rest.ts';
export { Blocking, type Hold } from './blocking.ts';
export { offsetsAt, standOff } from './build.ts';
export { type Assembly, type AssemblyStep, checkOrder } from './check.ts';
export { partMoved, partsTurned, placesFor, stepMoved, writtenOrder } from './edit.ts';
export { needsOf, type StepNeeds } from './needs.ts';
export { type Locked, type Order, proposeOrder } from './order.ts';
export type { Blocker } from './ways.ts';
export { codesOf, comesFrom, holdWords, stepWords } from './words.ts';

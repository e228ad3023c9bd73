export {
  type Crossed,
  cornersOf,
  passingDepth,
  passingsWithin,
  passingWithin,
  placeOfPair,
  ROUNDING,
  withCrossings,
} from './crossed.ts';
export { crossings, eachStandsOut, trianglesCross } from './crossings.ts';
export { overlapping } from './overlap.ts';

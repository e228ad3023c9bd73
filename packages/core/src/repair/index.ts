export {
  type Body,
  type BodyShape,
  bodiesOf,
  bodiesOfMesh,
  FARTHEST,
  type Import,
  isClosed,
  numbered,
  shapeOf,
} from './bodies.ts';
export { dropDuplicates, dropFlat, without } from './clean.ts';
export { type Closed, type CloseOptions, closeHoles } from './close.ts';
export { type Crossed, withCrossings } from './crossed.ts';
export { type Crossings, crossings } from './crossings.ts';
export { resolveCrowded } from './crowded.ts';
export { oneSidedDistance, twoSidedDistance } from './deviation.ts';
export { DEFECTS, type Defect, type DefectKind, DUST, diagnose, type Health, type Place } from './diagnose.ts';
export { cornerFans, splitFans } from './fans.ts';
export { type Hole, holesOf } from './holes.ts';
export { type Mended, mendSurface, usualTolerance } from './mend.ts';
export { orientConsistently } from './orient.ts';
export { overlapping } from './overlap.ts';
export { type Paired, pairEdges } from './pair.ts';
export { splitAtJunctions } from './tjunctions.ts';

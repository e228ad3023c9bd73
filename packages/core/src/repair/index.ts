export { dropDuplicates, dropFlat, without } from './clean.ts';
export { closeHoles } from './close.ts';
export { resolveCrowded } from './crowded.ts';
export { oneSidedDistance, twoSidedDistance } from './deviation.ts';
export { DEFECTS, type Defect, type DefectKind, diagnose, type Health, type Place } from './diagnose.ts';
export { cornerFans, splitFans } from './fans.ts';
export { mendSurface, usualTolerance } from './mend.ts';
export { orientConsistently } from './orient.ts';
export { untangle } from './untangle.ts';

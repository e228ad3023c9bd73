export { flatFaceAt, type Hollowed, hollowSpace } from './hollow.ts';
export { offsetSurface } from './offset.ts';
export { noSidedPlace, type Sided, type SidedPlace, sided, signedDistance } from './signed.ts';
export { samplingCost } from './surface.ts';
export { usualCell, type Walled, type WallSide, wallOf } from './wall.ts';

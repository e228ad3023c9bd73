export { flatFaceAt, hollowSpace } from './hollow.ts';
export { offsetSurface } from './offset.ts';
export { sided } from './signed.ts';
export { samplingCost } from './surface.ts';
export { wallOf } from './wall.ts';

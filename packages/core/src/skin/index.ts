export { flatFaceAt, hollowSpace } from './hollow.ts';
export { offsetSurface } from './offset.ts';
export { sided } from './signed.ts';
export { samplingCost } from './surface.ts';
export { evenWall, type Thickness, varying } from './thickness.ts';
export { wallOf } from './wall.ts';

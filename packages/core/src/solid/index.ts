export { carve } from './carve.ts';
export { differenceOf, overlapOf, rod, unionOf } from './combine.ts';
export { hullMesh, hullOf } from './hull.ts';
export { type Kernel, kernelTriangulator, loadKernel, toKernel } from './kernel.ts';
export { Placeable } from './placeable.ts';
export { type Reshaping, reshape } from './reshape.ts';
export { boreSolid, framesAlong, type Route, routeThrough, usualBend } from './route.ts';
export { lightened, loadSimplifier, simplified } from './simplify.ts';
export { kernelStatus } from './tagged.ts';

export { carve } from './carve.ts';
export { differenceOf, rod, unionOf } from './combine.ts';
export { type Kernel, kernelTriangulator, loadKernel, toKernel } from './kernel.ts';
export { lightened, loadSimplifier, simplified } from './simplify.ts';
export { kernelStatus } from './tagged.ts';

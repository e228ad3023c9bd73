export { type Carved, carve } from './carve.ts';
export { differenceOf, rod, unionOf } from './combine.ts';
export { type Kernel, kernelTriangulator, loadKernel, toKernel } from './kernel.ts';
export { lightened, loadSimplifier, simplified } from './simplify.ts';
export { fromKernel, kernelStatus, toTagged } from './tagged.ts';

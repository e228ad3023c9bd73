export { type Kernel, kernelTriangulator, loadKernel, toKernel } from './kernel.ts';

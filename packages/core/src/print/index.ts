export { type FitResult, fitTo, usableSize } from './build-volume.ts';

export { type BuildCheck, usableSize, withinBuild } from './build-volume.ts';

export { BLOCK, type Blocks, buildBlocks } from './blocks.ts';
export { area, bounds, sizeOf, uniteBoxes, volume } from './measure.ts';
export { type Drawn, picture } from './picture.ts';
export { insideSolid, rayHits } from './ray.ts';
export { type Shells, shells, type Topology, topology } from './topology.ts';
export { scaled } from './transform.ts';
export type { Box, IndexedMesh, Tag, Vec3 } from './types.ts';
export { add, along, cross, dot, length, normalize, scale, sub } from './vec.ts';
export { compact, find, unite, type Weld, weldExact, weldWithin } from './weld.ts';

export {
  type Affine,
  affineOf,
  compose,
  determinant,
  IDENTITY,
  inverse,
  mapNormal,
  mapPoint,
  mapped,
  mapVector,
  mirroring,
  moving,
  scaling,
  turning,
  turningTo,
  uniformScale,
} from './affine.ts';
export { BLOCK, type Blocks, blocksNear, buildBlocks } from './blocks.ts';
export { type Border, tagBorders, tagPatch } from './borders.ts';
export { clipped } from './clip.ts';
export { constrainedTriangles } from './constrained.ts';
export { sphereDirections } from './directions.ts';
export { unfolded } from './folded.ts';
export { type HalfEdges, halfEdges, nextHalf, OPEN } from './halfedges.ts';
export { depthInside, hull2, insideConvex, type Polygon } from './hull2.ts';
export { area, bounds, boxCorners, boxOf, sizeOf, triangleCross, uniteBoxes, volume } from './measure.ts';
export { meetsBox } from './meets-box.ts';
export { type Mirror, mirroredDirection, mirroredPoint, mirrorIn } from './mirror.ts';
export { newellNormal } from './newell.ts';
export { concatenate, renumbering, splitBy, subset, turnedOver } from './parts.ts';
export { EYE, picture } from './picture.ts';
export {
  crossingsAlong,
  type Loop2,
  loopArea,
  loopLength,
  nearestOnLoop,
  pointSegment2,
  segmentGap2,
  segmentsCross,
  winding,
} from './polygon.ts';
export { principalAxes } from './principal.ts';
export { type Cells, cellsFor, clustered, proxy } from './proxy.ts';
export { insideSolid, rayHits, windingAhead } from './ray.ts';
export { ringMesh, tubeMesh } from './rings.ts';
export { sameNumbers } from './same.ts';
export { type Shaded, shaded } from './shading.ts';
export { type Shells, shells, type Topology, topology } from './topology.ts';
export {
  boxPairs,
  buildTree,
  distanceTo,
  fineTree,
  type Nearest,
  nearest,
  noPlace,
  type Tree,
  treeOf,
} from './tree.ts';
export type { Box, IndexedMesh, Tag, Vec3 } from './types.ts';
export {
  AXES,
  add,
  axisVector,
  cross,
  distance,
  dot,
  edgeOf,
  length,
  lerp,
  normalize,
  perAxis,
  pointAlong,
  scale,
  squareTo,
  sub,
  three,
  vecOf,
  vertexAt,
} from './vec.ts';
export { compact, find, unite, weldExact, weldWithin } from './weld.ts';

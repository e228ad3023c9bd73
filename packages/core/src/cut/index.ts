export { besideLoop, besidePath } from './beside.ts';
export { type CapLoops, type Cell, cellOf } from './cell.ts';
export { commonRegions } from './common.ts';
export { cutCells } from './cut.ts';
export { effectivePlane, windowOf } from './effective.ts';
export { fanCut } from './fan.ts';
export { clearFan, makeFan } from './fan-place.ts';
export { atOffset, type Frame, fromFrame, makeFrame } from './frame.ts';
export { gradedMesh } from './graded.ts';
export { limitedCut } from './limited.ts';
export { Outlines } from './outlines.ts';
export { prismOf } from './prism.ts';
export { type Profile, profileAlong, slabBox } from './profile.ts';
export { type FlatRegion, inRegion, insidePoint, type Region, regionsOf, regionsOfLoops } from './regions.ts';
export { rejoined } from './rejoin.ts';
export { crossedTriangles, sectionAt, sectionLoops } from './section.ts';
export type { Fan } from './sectors.ts';
export {
  type CapRegion,
  cellOfSolid,
  closeCell,
  closedMesh,
  closeRegion,
  type Solid,
  solidsOf,
  volumeFrom,
} from './solids.ts';
export { extent, halve, splitByPlane } from './split.ts';
export { type Triangulator, triangulate } from './triangulate.ts';

export { besideLoop, besidePath } from './beside.ts';
export { type CapLoops, type Cell, cellOf } from './cell.ts';
export { commonRegions } from './common.ts';
export { type Cut, cutCells } from './cut.ts';
export { effectivePlane, windowOf } from './effective.ts';
export { fanCut } from './fan.ts';
export { clearFan, makeFan } from './fan-place.ts';
export { atOffset, type Frame, fromFrame, makeFrame } from './frame.ts';
export { type Limited, limitedCut } from './limited.ts';
export { type Loop2, loopArea, loopLength, nearestOnLoop, winding } from './polygon.ts';
export { type Profile, profileAlong, slabBox } from './profile.ts';
export { type FlatRegion, inRegion, insidePoint, type Region, regionsOf, regionsOfLoops } from './regions.ts';
export { crossedTriangles, type Section, sectionAt, sectionLoops } from './section.ts';
export type { Blade, Fan } from './sectors.ts';
export {
  type CapRegion,
  cellOfSolid,
  closeCell,
  closedMesh,
  closeRegion,
  type Solid,
  solidsOf,
  solidVolume,
  volumeFrom,
} from './solids.ts';
export { extent, type Halves, halve, type Split, splitByPlane } from './split.ts';
export { type Triangulator, triangulate } from './triangulate.ts';

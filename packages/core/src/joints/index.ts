export { type BuiltCap, buildCap, cappedMesh, type Half } from './build.ts';
export { columnDepth, columnToTriangles } from './column.ts';
export { coneForm } from './cone.ts';
export { dowelForm } from './dowel.ts';
export {
  FITS,
  type Fit,
  type FitSets,
  type FitTable,
  gapOf,
  JOINT_KINDS,
  type JointKind,
  startingFits,
} from './fits.ts';
export { areaOf, type FormWish, type JointForm, type Ring, type Stack } from './form.ts';
export { keyForm } from './key.ts';
export { type LapLine, lapForm, lapLine } from './lap.ts';
export { type BuiltLap, buildLap } from './lap-build.ts';
export { magnetForm } from './magnet.ts';
export { MATERIALS, type Material, materialOf } from './materials.ts';
export { movedLoop } from './outline.ts';
export { partDiagonals } from './part-diagonals.ts';
export { pinForm } from './pin.ts';
export { convexGap, edgeDistance, outlineRoom, type Pole, poleOf } from './room.ts';
export { slabsOf } from './slabs.ts';
export { type SnapLoad, snapForm, snapLoad } from './snap.ts';
export { MAGNETS, STOCKS, type Stock, stickLength } from './stock.ts';
export { stripOf } from './strip.ts';
export { type Prism, prismDistance, prismToTriangles } from './wall.ts';
export { excessOf, type Guide, wayOut } from './way.ts';

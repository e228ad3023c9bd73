export { type BuiltCap, buildCap, type Half } from './build.ts';
export { CHORD_ERROR, type OutlineShape, offsetConvex, outlineOf } from './outline.ts';
export { type JointForm, type Pin, pinForm, type Ring } from './pin.ts';
export { convexGap, edgeDistance, outlineRoom, type Pole, poleOf } from './room.ts';
export { type Prism, prismDistance, prismToTriangles } from './wall.ts';

export { type Body, bodiesOf, bodiesOfMesh, type Import, isClosed, shapeOf } from './bodies.ts';
export { pairEdges } from './pair.ts';

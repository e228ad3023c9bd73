export { type Body, bodiesOf, type Import } from './bodies.ts';
export { type Paired, pairEdges } from './pair.ts';

export { pieceColour } from './colours.ts';
export { evaluate, evaluateModel } from './evaluate.ts';
export type { Evaluation, Piece } from './model.ts';
export { pieceMesh } from './piece-mesh.ts';
export { type Showing, type SideReadout, seamReadout, seamShowing } from './readout.ts';

export { capFrame } from './cap-frame.ts';
export { type Colouring, colourPieces, pieceColour } from './colours.ts';
export { type EvalContext, evaluate, evaluateModel } from './evaluate.ts';
export type { Evaluation, Piece } from './model.ts';
export { type Passing, passings } from './passing.ts';
export { findingsOf } from './piece-findings.ts';
export { pieceMesh } from './piece-mesh.ts';
export { piecePrint } from './piece-print.ts';
export { type Showing, type SideReadout, seamReadout, seamShowing } from './readout.ts';

export { type RoundAxis, roundAxis } from './axis.ts';
export { type ColourLine, colourLines } from './colour-lines.ts';
export { fitBands } from './fit-range.ts';
export { type GridPlan, type GridWish, gridFor } from './grid.ts';
export { type Landmark, landmarksAlong } from './landmarks.ts';
export { type Limb, limbAxis } from './limb.ts';

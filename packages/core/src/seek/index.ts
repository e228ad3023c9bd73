export { type RoundAxis, roundAxis } from './axis.ts';
export { farthest, fitBands } from './fit-range.ts';
export { type GridPlan, type GridWish, gridFor } from './grid.ts';
export { type Limb, limbAxis } from './limb.ts';
export { type Neck, necks } from './necks.ts';
export { type Snap, type SnapSurroundings, snapsAlong } from './snaps.ts';

import { intersect } from '../outline/index.ts';
import { type FlatRegion, regionsOfLoops } from './regions.ts';

/** Slivers below this are rounding, mm². */
const SLIVER = 1e-4;

/** What two regions of one plane have in common. Rounds to a hundredth of a micrometre. */
export const commonRegions = (a: FlatRegion, b: FlatRegion): FlatRegion[] =>
  regionsOfLoops(intersect([a.outer2, ...a.holes2], [b.outer2, ...b.holes2])).filter((r) => r.area > SLIVER);

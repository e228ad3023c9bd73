import { Clipper, FillRule, type PathsD } from 'clipper2-ts';
import { pathOf } from './outlines.ts';
import type { Loop2 } from './polygon.ts';
import { type FlatRegion, regionsOfLoops } from './regions.ts';

/** Decimals of a millimetre that clipping keeps. */
const DIGITS = 6;

/** Slivers below this are rounding, mm². */
const SLIVER = 1e-4;

/** What two regions of one plane have in common. Rounds to a millionth of a millimetre. */
export function commonRegions(a: FlatRegion, b: FlatRegion): FlatRegion[] {
  const paths = Clipper.intersectD(pathsOf(a), pathsOf(b), FillRule.NonZero, DIGITS);
  const loops = paths.map((path): Loop2 => Float64Array.from(path.flatMap(({ x, y }) => [x, y])));
  return regionsOfLoops(loops).filter((r) => r.area > SLIVER);
}

const pathsOf = ({ outer2, holes2 }: FlatRegion): PathsD => [outer2, ...holes2].map(pathOf);

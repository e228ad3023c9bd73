import { Clipper, EndType, FillRule, JoinType, type PathD, type PathsD } from 'clipper2-ts';
import { hull2 } from '../mesh/index.ts';
import type { Loop2 } from './polygon.ts';
import { type FlatRegion, regionsOfLoops } from './regions.ts';

/** Decimals of a millimetre that clipping and offsetting keep. */
const DIGITS = 6;
/** Points are left out where an outline stays within this, mm. */
const EASE = 0.0015;
/** Round corners stray no more than this from their circle, mm. */
const ARC = 0.01;

/** Regions of one plane as they are put together and taken from each other. Rounds to a millionth of a millimetre. */
export class Outlines {
  private constructor(private readonly paths: PathsD) {}

  static of(regions: readonly FlatRegion[]): Outlines {
    const loops = regions.flatMap(({ outer2, holes2 }) => [outer2, ...holes2]);
    return new Outlines(Clipper.unionD(loops.map(pathOf), [], FillRule.NonZero, DIGITS));
  }

  /** What lies within a distance of open lines, with round ends. */
  static along(lines: readonly (readonly (readonly [number, number])[])[], within: number): Outlines {
    const paths = lines.map((l) => l.map(([x, y]) => ({ x, y })));
    return new Outlines(Clipper.inflatePathsD(paths, within, JoinType.Round, EndType.Round, 2, DIGITS, ARC));
  }

  with = (other: Outlines): Outlines => new Outlines(Clipper.unionD(this.paths, other.paths, FillRule.NonZero, DIGITS));
  without = (other: Outlines): Outlines =>
    new Outlines(Clipper.differenceD(this.paths, other.paths, FillRule.NonZero, DIGITS));
  within = (other: Outlines): Outlines =>
    new Outlines(Clipper.intersectD(this.paths, other.paths, FillRule.NonZero, DIGITS));
  /** Larger by a distance all round, its corners round. */
  grown = (by: number): Outlines =>
    new Outlines(Clipper.inflatePathsD(this.paths, by, JoinType.Round, EndType.Polygon, 2, DIGITS, ARC));

  hull = (): Outlines => new Outlines([pathOf(hull2(this.paths.flat().flatMap(({ x, y }) => [x, y])))]);

  /** Its regions, largest first. */
  regions(): FlatRegion[] {
    const loops = this.paths.map((p): Loop2 => {
      const eased = Clipper.ramerDouglasPeuckerD(p, EASE);
      return Float64Array.from(eased.flatMap(({ x, y }) => [x, y]));
    });
    return regionsOfLoops(loops.filter((l) => l.length > 4)).sort((a, b) => b.area - a.area);
  }
}

/** A loop as the clipping library takes it. */
export const pathOf = (l: Loop2): PathD =>
  Array.from({ length: l.length / 2 }, (_, i) => ({ x: l[i * 2], y: l[i * 2 + 1] }));

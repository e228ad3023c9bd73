import { hull2, type Loop2 } from '../mesh/index.ts';
import { aroundLines, easedLoop, grow, intersect, subtract, unite } from '../outline/index.ts';
import { type FlatRegion, regionsOfLoops } from './regions.ts';

/** Points are left out where an outline stays within this, mm. */
const EASE = 0.0015;

/** Regions of one plane as they are put together and taken from each other. */
export class Outlines {
  private constructor(private readonly loops: readonly Loop2[]) {}

  static of(regions: readonly FlatRegion[]): Outlines {
    return new Outlines(unite(regions.flatMap(({ outer2, holes2 }) => [outer2, ...holes2])));
  }

  /** What lies within a distance of open lines, with round ends. */
  static along(lines: readonly (readonly (readonly [number, number])[])[], within: number): Outlines {
    return new Outlines(aroundLines(lines, within));
  }

  with = (other: Outlines): Outlines => new Outlines(unite([...this.loops, ...other.loops]));
  without = (other: Outlines): Outlines => new Outlines(subtract(this.loops, other.loops));
  within = (other: Outlines): Outlines => new Outlines(intersect(this.loops, other.loops));
  /** Larger by a distance all round, its corners round. */
  grown = (by: number): Outlines => new Outlines(grow(this.loops, by));

  hull = (): Outlines => new Outlines([hull2(this.loops.flatMap((l) => [...l]))]);

  /** Its regions, largest first. */
  regions(): FlatRegion[] {
    const loops = this.loops.map((l) => easedLoop(l, EASE));
    return regionsOfLoops(loops.filter((l) => l.length > 4)).sort((a, b) => b.area - a.area);
  }
}

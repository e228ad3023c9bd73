import { type FlatSeam, IDENTITY, scaling, seamPlace } from '@gephyra/core';
import { describe, expect, it } from 'vitest';
import type { RegionView } from '../../engine/seam-scope.ts';
import { areaCut, cutRegions, onlyRegion, switched } from './choose-regions.ts';

const square = (u: number): RegionView => ({
  outer2: Float64Array.of(u - 5, -5, u + 5, -5, u + 5, 5, u - 5, 5),
  holes2: [],
  area: 100,
  seed: [u, 0],
  body: 'b1',
});
const regions = [square(-40), square(0), square(40)];
const seam: FlatSeam = {
  id: 's1',
  name: '',
  kind: 'flat',
  origin: [0, 0, 0],
  normal: [0, 0, 1],
  up: [0, 1, 0],
  enabled: true,
};
const place = seamPlace(seam, IDENTITY);

describe('choosing regions', () => {
  it('switching one off leaves all but it; switching it on again cuts all', () => {
    const off = switched(undefined, regions, 1, false, place);
    expect(off).toEqual({ mode: 'allBut', seeds: [[0, 0]] });
    expect(cutRegions({ regions }, { ...seam, regions: off }, IDENTITY)).toEqual([true, false, true]);
    expect(areaCut({ regions }, [true, false, true])).toBe(200);
    // what a box bounds is cut, whatever was chosen before
    const bound = { min: [-9, -9, -9] as [number, number, number], max: [9, 9, 9] as [number, number, number] };
    expect(cutRegions({ regions }, { ...seam, regions: off, bound }, IDENTITY)).toEqual([true, true, true]);
    expect(switched(off, regions, 1, true, place)).toEqual({ mode: 'all', seeds: [] });
  });

  it('only one, then another with it, then not the first', () => {
    const only = onlyRegion(regions[0], place);
    expect(cutRegions({ regions }, { ...seam, regions: only }, IDENTITY)).toEqual([true, false, false]);
    const two = switched(only, regions, 2, true, place);
    expect(cutRegions({ regions }, { ...seam, regions: two }, IDENTITY)).toEqual([true, false, true]);
    const last = switched(two, regions, 0, false, place);
    expect(last).toEqual({ mode: 'only', seeds: [[40, 0]] });
  });

  it('takes away every seed that stands for a region, also one just beside it', () => {
    const now = {
      mode: 'only' as const,
      seeds: [
        [-38, 1],
        [-33.5, 0],
        [40, 0],
      ] as [number, number][],
    };
    expect(switched(now, regions, 0, false, place).seeds).toEqual([[40, 0]]);
  });

  it('keeps seeds in the source’s millimetres when the model has grown', () => {
    const map = scaling([2, 2, 2], [0, 0, 0]);
    const grown = regions.map((r) => ({ ...r, outer2: r.outer2.map((x) => x * 2), seed: [r.seed[0] * 2, 0] as const }));
    const only = onlyRegion(grown[2], seamPlace(seam, map));
    expect(only.seeds).toEqual([[40, 0]]);
    expect(cutRegions({ regions: grown }, { ...seam, regions: only }, map)).toEqual([false, false, true]);
  });
});

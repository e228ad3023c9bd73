import { describe, expect, it } from 'vitest';
import '../../testing/judges.ts';
import { makeFrame } from '../cut/index.ts';
import { type Affine, IDENTITY, loopArea } from '../mesh/index.ts';
import { withinBound } from './bound-section.ts';

const square = (x: number, y: number, side: number) =>
  Float64Array.of(x, y, x + side, y, x + side, y + side, x, y + side);
const area = (loops: readonly Float64Array[]): number => loops.reduce((sum, l) => sum + loopArea(l), 0);
const up = makeFrame([0, 0, 5], [0, 0, 1], [0, 1, 0]);

describe('what of a section lies in a box', () => {
  const loops = [square(0, 0, 100), square(10, 10, 20).reverse()];
  it('is cut off at its sides, whichever of its corners is which', () => {
    const bound = { min: [50, 90, 0] as const, max: [-10, 40, 20] as const };
    expect(area(withinBound([square(0, 0, 100)], bound as never, IDENTITY, up))).toBeCloseTo(50 * 50, 6);
  });

  it('leaves out holes, and is nothing where the box is elsewhere', () => {
    const whole = { min: [-1, -1, 0] as const, max: [101, 101, 9] as const };
    const [outer, hole] = [square(0, 0, 100), Float64Array.of(10, 10, 10, 30, 30, 30, 30, 10)];
    expect(area(withinBound([outer, hole], whole as never, IDENTITY, up))).toBeCloseTo(100 * 100 - 20 * 20, 6);
    const above = { min: [0, 0, 6] as const, max: [50, 50, 20] as const };
    expect(withinBound(loops, above as never, IDENTITY, up)).toEqual([]);
  });

  it('goes with the model where that is larger than its file, and mirrored', () => {
    const map: Affine = [-2, 0, 0, 0, 0, 2, 0, 0, 0, 0, 2, 0];
    const bound = { min: [-20, 5, 0] as const, max: [-5, 25, 9] as const };
    expect(area(withinBound([square(0, 0, 100)], bound as never, map, up))).toBeCloseTo(30 * 40, 6);
  });
});

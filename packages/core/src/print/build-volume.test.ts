import { describe, expect, it } from 'vitest';
import { parsePlan } from '../document/schema.ts';
import { withinBuild } from './build-volume.ts';

describe('the build volume', () => {
  const printer = parsePlan({ version: 5, printer: { size: [100, 150, 200], margin: 5 } }).printer;

  it('takes the margin off on both sides, in z at the top only', () => {
    expect(withinBuild(printer, [90, 140, 195]).within).toBe(true);
    expect(withinBuild(printer, [90.1, 140, 195])).toMatchObject({
      within: false,
      over: [expect.closeTo(0.1, 6), 0, 0],
    });
  });

  it('turns a piece so that it fits, and says which side goes where', () => {
    expect(withinBuild(printer, [190, 80, 130])).toMatchObject({ within: true, axes: [1, 2, 0] });
  });
});

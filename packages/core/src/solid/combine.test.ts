import { describe, expect, it } from 'vitest';
import { judge, kernel } from '../../testing/judges.ts';
import { box, moved, together } from '../../testing/shapes.ts';
import { shells, volume } from '../mesh/index.ts';
import { differenceOf, unionOf, withoutFilms } from './combine.ts';

const cube = box([0, 0, 0], [10, 10, 10]);
const at = (x: number, y: number, z: number) => moved(cube, (a, b, c) => [a + x, b + y, c + z]);

describe('combining solids', () => {
  it('adds up as the boxes do, alone, touching and overlapping', () => {
    for (const [x, both] of [
      [20, 2000],
      [10, 2000],
      [4, 1400],
    ]) {
      const joined = unionOf(kernel, [cube, at(x, 0, 0)]);
      expect(volume(joined)).toBeCloseTo(both, 3);
      expect(judge(joined)).toMatchObject({ status: 'NoError', closed: true });
      expect(volume(differenceOf(kernel, cube, [at(x, 0, 0)]))).toBeCloseTo(both - 1000, 3);
    }
  });

  it('leaves nothing of a solid taken out of itself', () => {
    expect(differenceOf(kernel, cube, [cube]).tags).toHaveLength(0);
  });

  it('leaves no films: shells without room in them, flat or as thin as float32 rounds', () => {
    const film = (thick: number) => box([20, 0, 0], [30, 10, thick]);
    for (const thick of [0, 1e-6]) {
      const rest = withoutFilms(together(cube, film(thick)));
      expect(shells(rest).count).toBe(1);
      expect(volume(rest)).toBeCloseTo(1000, 9);
    }
    // a sheet of 0.01 mm holds something, a speck of 0.001 mm too
    const speck = box([40, 0, 0], [40.001, 0.001, 0.001]);
    expect(shells(withoutFilms(together(cube, film(0.01), speck))).count).toBe(3);
  });
});

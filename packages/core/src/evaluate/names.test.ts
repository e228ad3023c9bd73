import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Box } from '../mesh/types.ts';
import { ByteCache } from '../seams/byte-cache.ts';
import { pieceOrder } from '../seams/keys.ts';
import { letters, positionNames } from './names.ts';

const box = (min: readonly number[], max: readonly number[]): { box: Box } => ({
  box: { min: min as Box['min'], max: max as Box['max'] },
});
const body = box([0, 0, 0], [100, 60, 300]).box;

describe('positionNames', () => {
  it('one piece is whole', () => {
    expect(positionNames([box([0, 0, 0], [100, 60, 300])], body)).toEqual(['whole']);
  });

  it('stacked pieces are lower, middle and upper', () => {
    const stack = [0, 100, 200].map((z) => box([0, 0, z], [100, 60, z + 100]));
    expect(positionNames(stack, body)).toEqual(['lower', 'middle', 'upper']);
  });

  it('left is where x is small, front where y is, and only axes that tell pieces apart are named', () => {
    const quarters = [
      box([0, 0, 0], [50, 30, 300]),
      box([50, 0, 0], [100, 30, 300]),
      box([0, 30, 0], [50, 60, 300]),
      box([50, 30, 0], [100, 60, 300]),
    ];
    expect(positionNames(quarters, body)).toEqual(['front left', 'front right', 'back left', 'back right']);
  });

  it('what stays in the middle is not called right because a small piece came off on the left', () => {
    const fluke = box([0, 20, 100], [10, 40, 160]);
    const shank = box([5, 0, 0], [95, 60, 200]);
    expect(positionNames([shank, fluke, box([30, 0, 200], [70, 60, 300])], body)).toEqual([
      'lower',
      'lower left',
      'upper',
    ]);
  });

  it('names that would coincide are numbered, so that no two are alike', () => {
    const piece = fc
      .tuple(fc.nat(90), fc.nat(50), fc.nat(290))
      .map(([x, y, z]) => box([x, y, z], [x + 10, y + 10, z + 10]));
    fc.assert(
      fc.property(fc.array(piece, { minLength: 1, maxLength: 12 }), (pieces) => {
        const names = positionNames(pieces, body);
        expect(new Set(names).size).toBe(names.length);
      }),
    );
  });
});

describe('codes', () => {
  it('count from the bottom up, then front to back, then left to right', () => {
    const places: [number, number, number][] = [
      [5, 0, 10],
      [9, 0, 0],
      [2, 4, 0],
      [1, 0, 0],
    ];
    expect(places.sort(pieceOrder)).toEqual([
      [1, 0, 0],
      [9, 0, 0],
      [2, 4, 0],
      [5, 0, 10],
    ]);
  });

  it('go on after Z', () => {
    expect([0, 25, 26, 27, 701, 702].map(letters)).toEqual(['A', 'Z', 'AA', 'AB', 'ZZ', 'AAA']);
  });
});

describe('ByteCache', () => {
  it('keeps what was used last within its budget, and never drops what it just made', () => {
    const cache = new ByteCache<string>(100);
    const made: string[] = [];
    const get = (key: string, bytes: number) =>
      cache.get(
        key,
        () => {
          made.push(key);
          return key;
        },
        () => bytes,
      );
    get('a', 40);
    get('b', 40);
    get('a', 40);
    get('c', 40);
    get('a', 40);
    get('b', 40);
    expect(made).toEqual(['a', 'b', 'c', 'b']);
    expect(get('huge', 1000)).toBe('huge');
    get('huge', 1000);
    expect(made).toEqual(['a', 'b', 'c', 'b', 'huge']);
  });
});

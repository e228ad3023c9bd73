import { describe, expect, it } from 'vitest';
import type { Drawable, EvaluationView, PieceView } from '../engine/types.ts';
import { keepGeometry } from './geometry.ts';
import { overText, sizeText } from './piece-words.ts';

const drawable = (id: number): Drawable => ({
  id,
  flat: 0,
  positions: new Float32Array(9),
  normals: new Float32Array(9),
  index: new Uint32Array(3),
});
const view = (
  pieces: [skin: number, caps: number[]][],
  fresh: number[],
  shown: number[] = [],
  fitted: number[] = [],
): Pick<EvaluationView, 'pieces' | 'show' | 'fittings' | 'fresh'> => ({
  pieces: pieces.map(([skin, caps]) => ({ skin, caps })) as unknown as PieceView[],
  show: shown.map((geometry) => ({ body: 'b1', geometry, area: 1 })),
  fittings: fitted.map((geometry) => ({ piece: 'b1', tone: 'printed', geometry })),
  fresh: fresh.map(drawable),
});

describe('geometry that is kept', () => {
  it('is what the pieces use: what they use no more goes, what is new comes, the rest stays the same', () => {
    const known = new Map<number, Drawable>();
    keepGeometry(known, view([[1, [2, 3]]], [1, 2, 3]));
    const skin = known.get(1);
    keepGeometry(
      known,
      view(
        [
          [1, [2]],
          [5, [6]],
        ],
        [5, 6],
      ),
    );
    expect([...known.keys()].sort()).toEqual([1, 2, 5, 6]);
    expect(known.get(1)).toBe(skin);
    // show faces are drawn, too
    keepGeometry(known, view([[1, []]], [9], [9]));
    expect([...known.keys()].sort()).toEqual([1, 9]);
    // so are loose parts
    keepGeometry(known, view([[1, []]], [], [], [9]));
    expect([...known.keys()].sort()).toEqual([1, 9]);
    keepGeometry(known, view([], []));
    expect(known.size).toBe(0);
  });
});

describe('a piece in words', () => {
  it('has its size in whole millimetres, and says where it is most too large', () => {
    expect(sizeText([119.6, 80.2, 64])).toBe('120 × 80 × 64');
    const over = (o: number[]) => overText({ build: { over: o } } as unknown as PieceView);
    expect(over([1.26, 0, 0])).toBe('1.3 mm too wide');
    expect(over([2, 11, 4])).toBe('11.0 mm too deep');
    expect(over([-3, -4, 0.5])).toBe('0.5 mm too tall');
  });
});

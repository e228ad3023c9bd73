import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { colourPieces, pieceColour } from './colours.ts';

/** Pieces in rows, each touching those beside, above and below it. */
function grid(columns: number, rows: number) {
  const key = (x: number, y: number) => `${x} ${y}`;
  const keys: string[] = [];
  const touching: [string, string][] = [];
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < columns; x++) {
      keys.push(key(x, y));
      if (x > 0) touching.push([key(x - 1, y), key(x, y)]);
      if (y > 0) touching.push([key(x, y - 1), key(x, y)]);
    }
  }
  return { keys, touching };
}

describe('colourPieces', () => {
  it('never gives neighbours one colour, whatever they had before', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 1, max: 9 }),
        fc.infiniteStream(fc.nat(7)),
        (w, h, old) => {
          const { keys, touching } = grid(w, h);
          const before = new Map(keys.map((key) => [key, old.next().value as number]));
          const colours = colourPieces(keys, touching, before);
          expect(colours.size).toBe(keys.length);
          for (const [a, b] of touching) expect(pieceColour(colours.get(a)!)).not.toBe(pieceColour(colours.get(b)!));
        },
      ),
    );
  });

  it('keeps what pieces had, when others come and go', () => {
    const { keys, touching } = grid(5, 3);
    const before = colourPieces(keys, touching);
    const gone = keys.filter((key) => key !== '2 1');
    const after = colourPieces([...gone, 'new'], [...touching, ['new', '0 0']], before);
    for (const key of gone) expect(after.get(key)).toBe(before.get(key));
    expect(after.get('new')).not.toBe(after.get('0 0'));
  });

  it('uses all colours about as often where nothing touches, and does what it can where everything does', () => {
    const keys = [...Array(24).keys()].map(String);
    const alone = [...colourPieces(keys, []).values()];
    const counts = [...new Set(alone)].map((c) => alone.filter((x) => x === c).length);
    expect(Math.max(...counts)).toBeLessThanOrEqual(Math.min(...counts) + 1);
    const all = keys.flatMap((a, i) => keys.slice(0, i).map((b) => [a, b] as const));
    expect(new Set(colourPieces(keys, all).values()).size).toBe(counts.length);
  });
});

/** Colours of pieces: twelve muted tones of about equal lightness. A piece always shows its code as well. */
const PIECE_COLOURS = [
  '#b96f4e',
  '#4f857b',
  '#b08f3f',
  '#7c7ba6',
  '#7d9560',
  '#a8678a',
  '#5a87a6',
  '#a3785f',
  '#63906f',
  '#9a80b3',
  '#bd7f76',
  '#7b8790',
] as const;

/** A number for each colour that pieces can have. */
export type Colouring = ReadonlyMap<string, number>;

export const pieceColour = (number: number): string => PIECE_COLOURS[number % PIECE_COLOURS.length];

/**
 * Colours pieces so that no two that touch look alike: greedily, each with the least used of the colours that none of its
 * neighbours has (Welsh and Powell, 1967, without their order: here it is that of the pieces). What had a colour `before`
 * keeps it where it can. A piece with neighbours of all colours gets the one that fewest of them have.
 */
export function colourPieces(
  keys: readonly string[],
  touching: readonly (readonly [string, string])[],
  before: Colouring = new Map(),
): Colouring {
  const neighbours = new Map<string, Set<string>>(keys.map((key) => [key, new Set()]));
  for (const [a, b] of touching) {
    if (a === b) continue;
    neighbours.get(a)?.add(b);
    neighbours.get(b)?.add(a);
  }
  const out = new Map<string, number>();
  const used = PIECE_COLOURS.map(() => 0);
  const give = (key: string, colour: number): void => {
    out.set(key, colour);
    used[colour]++;
  };
  /** how many neighbours have each colour */
  const round = (key: string): number[] => {
    const counts = PIECE_COLOURS.map(() => 0);
    for (const other of neighbours.get(key) ?? []) {
      const colour = out.get(other);
      if (colour !== undefined) counts[colour]++;
    }
    return counts;
  };
  for (const key of keys) {
    const own = before.get(key);
    if (own !== undefined && round(key)[own] === 0) give(key, own);
  }
  for (const key of keys) {
    if (out.has(key)) continue;
    const counts = round(key);
    let best = 0;
    for (let c = 1; c < PIECE_COLOURS.length; c++) {
      if (counts[c] < counts[best] || (counts[c] === counts[best] && used[c] < used[best])) best = c;
    }
    give(key, best);
  }
  return out;
}

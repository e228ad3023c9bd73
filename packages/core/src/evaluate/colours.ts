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

export const pieceColour = (index: number): string => PIECE_COLOURS[index % PIECE_COLOURS.length];

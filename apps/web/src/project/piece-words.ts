import type { PieceView } from '../engine/types.ts';

/** A size in whole millimetres: "120 × 80 × 64". */
export const sizeText = (size: readonly number[]): string => size.map((x) => x.toFixed(0)).join(' × ');

/** By how much a piece exceeds the printer, in words. */
export function overText(piece: PieceView): string {
  const axis = piece.build.over.indexOf(Math.max(...piece.build.over));
  return `${piece.build.over[axis].toFixed(1)} mm too ${['wide', 'deep', 'tall'][axis]}`;
}

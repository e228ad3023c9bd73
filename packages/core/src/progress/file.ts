import { type Piece, pieceMesh } from '../evaluate/index.ts';

const known = new WeakMap<Piece['caps'], string>();

/**
 * Tells a piece's file again: 16 hex digits of its vertices (rounded to 0.1 µm) and triangles, joints included. Two lanes
 * in the manner of FNV-1a, a word at a time; not meant to withstand forgery.
 */
export function fileMark(piece: Piece): string {
  const made = known.get(piece.caps);
  if (made) return made;
  const { mesh } = pieceMesh(piece);
  let a = 0x811c9dc5;
  let b = 0xcbf29ce4;
  const eat = (x: number): void => {
    a = Math.imul(a ^ x, 0x01000193);
    b = Math.imul(b ^ (x >>> 16) ^ (x << 16), 0x01000193);
  };
  for (const x of mesh.positions) eat(Math.round(x * 1e4) | 0);
  for (const t of mesh.triangles) eat(t);
  const mark = [a, b].map((x) => (x >>> 0).toString(16).padStart(8, '0')).join('');
  known.set(piece.caps, mark);
  return mark;
}

import type { Drawable, EvaluationView } from '../engine/types.ts';

/**
 * Buffers of everything that is drawn, by id, after an evaluation: what it uses no more goes, what it brought comes. The same
 * map is kept, as its keys are what the engine need not send again.
 */
export function keepGeometry(
  known: Map<number, Drawable>,
  view: Pick<EvaluationView, 'pieces' | 'show' | 'fittings' | 'fresh'>,
): void {
  const used = new Set([
    ...view.pieces.flatMap((piece) => [piece.skin, ...piece.caps]),
    ...view.show.map((s) => s.geometry),
    ...view.fittings.map((f) => f.geometry),
  ]);
  for (const id of known.keys()) if (!used.has(id)) known.delete(id);
  for (const g of view.fresh) known.set(g.id, g);
}

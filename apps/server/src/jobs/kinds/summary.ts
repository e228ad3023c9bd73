import { benchOf, colourPieces, picture, pieceColour, pieceMesh, sizeOf } from '@gephyra/core';
import { encode } from 'fast-png';
import { computed } from '../models.ts';
import { type JobKind, MINUTE } from './kind.ts';

/** What a project's card shows: numbers, and a picture of its pieces. */
export const summary: JobKind<{ readonly plan: unknown; readonly revision: number }> = {
  deadline: MINUTE,
  isLight: () => false,
  keep: null,
  async work(request, tell) {
    const { plan, evaluation: e, stops } = await computed(request, tell);
    const colours = colourPieces(
      e.pieces.map((p) => p.key),
      e.faces.map((f) => f.pieces),
    );
    const pixels = picture(
      e.pieces
        .filter((p) => !p.spare)
        .map((p) => ({
          ...pieceMesh(p).mesh,
          colour: e.pieces.length > 1 ? pieceColour(colours.get(p.key) ?? 0) : '#c9b79c',
        })),
      320,
      240,
    );
    return {
      do: 'summary',
      png: encode({ width: 320, height: 240, data: new Uint8Array(pixels.buffer), channels: 4 }),
      summary: {
        revision: request.revision,
        pieces: e.pieces.length,
        fitting: e.pieces.filter((p) => p.build.within).length,
        stops: stops.length,
        size: [...sizeOf(e.box)] as [number, number, number],
        bench: benchOf(plan, e),
      },
    };
  },
};

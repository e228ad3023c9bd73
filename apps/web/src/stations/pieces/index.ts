import type { Station } from '../station.ts';
import PiecesStation from './station.tsx';

export const pieces: Station = {
  id: 'pieces',
  name: 'Pieces',
  page: PiecesStation,
  column: 'table',
  shelf: true,
  finished: (view) => view.findings.every((f) => f.severity !== 'stop') && view.pieces.length > 1,
};

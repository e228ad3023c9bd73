import { nothingOpen, type Station } from '../station.ts';
import SeamsStation from './station.tsx';

export const seams: Station = {
  id: 'seams',
  name: 'Seams',
  page: SeamsStation,
  column: 'panels',
  shelf: true,
  finished: (view) => nothingOpen('seams', view) && view.pieces.every((p) => p.build.within),
};

import { nothingOpen, type Station } from '../station.ts';
import ModelStation from './station.tsx';

export const model: Station = {
  id: 'model',
  name: 'Model',
  page: ModelStation,
  column: 'panels',
  shelf: false,
  finished: (view) => nothingOpen('model', view),
};

import { nothingOpen, type Station } from '../station.ts';
import JointsStation from './station.tsx';

export const joints: Station = {
  id: 'joints',
  name: 'Joints',
  page: JointsStation,
  column: 'panels',
  shelf: true,
  finished: (view) => nothingOpen('joints', view) && view.faces.length > 0,
};

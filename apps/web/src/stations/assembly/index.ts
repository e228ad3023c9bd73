import { nothingOpen, type Station } from '../station.ts';
import AssemblyStation from './station.tsx';

export const assembly: Station = {
  id: 'assembly',
  name: 'Assembly',
  page: AssemblyStation,
  column: 'panels',
  stacked: true,
  shelf: false,
  finished: (view, plan) => (plan.order?.length ?? 0) > 0 && nothingOpen('assembly', view),
};

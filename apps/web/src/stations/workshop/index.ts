import { isJoined, progressOf } from '@gephyra/core/plan';
import type { Station } from '../station.ts';
import WorkshopStation from './station.tsx';

export const workshop: Station = {
  id: 'workshop',
  name: 'Workshop',
  page: WorkshopStation,
  column: 'panels',
  flatFirst: true,
  shelf: false,
  finished: (view, plan) => {
    const made = view.pieces.filter((p) => !p.aside).map((p) => ({ piece: p.key, copy: 1 }));
    return made.length > 0 && progressOf(plan.log ?? [], made).every((p) => isJoined(p.state));
  },
};

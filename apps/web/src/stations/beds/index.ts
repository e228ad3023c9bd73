import { nothingOpen, type Station } from '../station.ts';
import BedsStation from './station.tsx';

export const beds: Station = {
  id: 'beds',
  name: 'Beds',
  page: BedsStation,
  column: 'panels',
  flatFirst: true,
  shelf: true,
  finished: (view, plan) =>
    plan.beds.some((b) => b.pieces.length > 0) &&
    nothingOpen('beds', view) &&
    view.findings.every((f) => f.code !== 'bed.missing'),
};

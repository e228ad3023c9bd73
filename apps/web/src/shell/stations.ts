import { type StationId, stationOf } from '@gephyra/core';
import type { EvaluationView } from '../engine/types.ts';

export const STATIONS: readonly StationId[] = ['model', 'seams', 'joints', 'pieces'];

export const STATION_NAMES: Record<StationId, string> = {
  model: 'Model',
  seams: 'Seams',
  joints: 'Joints',
  pieces: 'Pieces',
};

/** Whether a station's work is done, so far as it can be told. */
export function finished(station: StationId, view: EvaluationView): boolean {
  const own = view.findings.filter((f) => stationOf(f) === station && f.severity !== 'note');
  if (station === 'pieces') return view.findings.every((f) => f.severity !== 'stop') && view.pieces.length > 1;
  if (station === 'model') return own.length === 0;
  if (station === 'seams') return own.length === 0 && view.pieces.every((p) => p.build.within);
  return own.length === 0 && view.faces.length > 0;
}

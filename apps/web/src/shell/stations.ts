import type { Finding } from '@gephyra/core';
import type { EvaluationView } from '../engine/types.ts';

export const STATIONS = ['model', 'seams', 'joints', 'pieces'] as const;
export type StationId = (typeof STATIONS)[number];

export const STATION_NAMES: Record<StationId, string> = {
  model: 'Model',
  seams: 'Seams',
  joints: 'Joints',
  pieces: 'Pieces',
};

/** The station at which a finding is mended. */
export function stationOf(finding: Finding): StationId {
  const [what] = finding.code.split('.');
  if (what === 'body' || what === 'bodies') return 'model';
  if (what === 'joint' || what === 'face') return 'joints';
  return 'seams';
}

/** Whether a station's work is done, so far as it can be told. */
export function finished(station: StationId, view: EvaluationView): boolean {
  const own = view.findings.filter((f) => stationOf(f) === station && f.severity !== 'note');
  if (station === 'pieces') return view.findings.every((f) => f.severity !== 'stop') && view.pieces.length > 1;
  if (station === 'model') return own.length === 0;
  if (station === 'seams') return own.length === 0 && view.pieces.every((p) => p.build.within);
  return own.length === 0 && view.faces.length > 0;
}

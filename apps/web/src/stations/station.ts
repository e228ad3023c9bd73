import { type StationId, stationOf } from '@gephyra/core';
import type { ComponentType } from 'react';
import type { EvaluationView } from '../engine/types.ts';

/** A station of the work: what its bridge pier, its commands and its page are made from. */
export interface Station {
  readonly id: StationId;
  readonly name: string;
  readonly page: ComponentType;
  /** how wide the column at the left is: for panels, or for a table */
  readonly column: 'panels' | 'table';
  /** whether the pieces stand on their shelf below */
  readonly shelf: boolean;
  /** whether its work is done, so far as it can be told */
  finished(view: EvaluationView): boolean;
}

/** Whether nothing is left to be mended at a station. */
export const nothingOpen = (station: StationId, view: EvaluationView): boolean =>
  !view.findings.some((f) => stationOf(f) === station && f.severity !== 'note');

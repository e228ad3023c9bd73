import { type Plan, type StationId, stationOf } from '@gephyra/core/plan';
import type { ComponentType } from 'react';
import type { EvaluationView } from '../engine/types.ts';

/** A station of the work: what its bridge pier, its commands and its page are made from. */
export interface Station {
  /** what findings that are listed here name it by */
  readonly id: StationId | (string & {});
  readonly name: string;
  readonly page: ComponentType;
  /** how wide the column at the left is: for panels, or for a table */
  readonly column: 'panels' | 'table';
  /** its flat drawing is large and the 3D view small until they are swapped */
  readonly flatFirst?: boolean;
  /** where there is room its flat drawing is above the 3D view, and nothing but details beside them */
  readonly stacked?: boolean;
  /** whether the pieces stand on their shelf below */
  readonly shelf: boolean;
  /** whether its work is done, so far as it can be told */
  finished(view: EvaluationView, plan: Plan): boolean;
}

/** Whether nothing is left to be mended at a station. */
export const nothingOpen = (station: StationId, view: EvaluationView): boolean =>
  !view.findings.some((f) => stationOf(f) === station && f.severity !== 'note');

import type { JointFields } from '@gephyra/core';
import { NumberField } from '../../ui/number-field.tsx';

/** Sets fields of a joint as one step, named. */
export type SetFields = (label: string, next: JointFields) => void;

export const degrees = (a: number): number => (a * 180) / Math.PI;
export const radians = (d: number): number => (d * Math.PI) / 180;

/** A length of a joint. */
export function Mm({
  label,
  value,
  set,
  min = 0.5,
  max = 200,
  step = 0.5,
}: {
  label: string;
  value: number;
  set: (x: number) => void;
  min?: number;
  max?: number;
  step?: number;
}) {
  return <NumberField label={label} value={value} min={min} max={max} step={step} onCommit={set} />;
}

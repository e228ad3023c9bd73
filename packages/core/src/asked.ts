import { z } from 'zod';

/** Some fields of a record, to be set. */
export type Fields = Readonly<Record<string, unknown>>;

/** A number that people set: a length in mm, an angle in radians, a share of one, a factor, a count, or one of a unit of its own. */
export interface Measure {
  readonly as: 'length' | 'angle' | 'share' | 'factor' | 'count' | 'number';
  /** of the record */
  readonly name: string;
  readonly label: string;
  /** what the step of undo is called */
  readonly says: string;
  readonly value: number;
  readonly least: number;
  readonly most: number;
  /** what an arrow key adds: mm, degrees, per cent, or as it is */
  readonly step: number;
  /** of what is as 'number': "g/cm³" */
  readonly unit?: string;
  /** decimals it is shown with, where two are too few */
  readonly digits?: number;
  set(value: number): Fields;
  /** takes what it belongs to away altogether */
  readonly away?: { readonly label: string; readonly set: Fields };
}

/** Yes or no. */
interface Tick {
  readonly as: 'tick';
  readonly label: string;
  readonly says: string;
  readonly value: boolean;
  set(value: boolean): Fields;
}

/** One of a few words. */
interface Pick {
  readonly as: 'choice';
  readonly label: string;
  readonly says: string;
  readonly value: string;
  readonly options: readonly { readonly value: string; readonly label: string }[];
  /** as a row of keys; else as a list that opens, over the whole width or half of it */
  readonly shown: 'keys' | 'list' | 'half';
  set(value: string): Fields;
}

/** Something to read between the fields. */
interface Note {
  readonly as: 'note';
  readonly label: string;
}

/** One field of a record as people set it. What is drawn, and how it is laid out, is the screen's. */
export type AskedField = Measure | Pick | Tick | Note;

interface MeasureMore {
  readonly says?: string;
  /** what is shown where the record says nothing */
  readonly value?: number;
  /** narrower than the schema, by its other sizes; what it has already is never out of bounds */
  readonly least?: number;
  readonly most?: number;
  readonly step?: number;
  readonly unit?: string;
  readonly digits?: number;
  /** what else changes with it; without this it alone is set */
  set?(value: number): Fields;
  readonly away?: Measure['away'];
}

interface PickMore {
  readonly says?: string;
  readonly value?: string;
  readonly shown?: Pick['shown'];
  set?(value: string): Fields;
}

const STEPS = { length: 0.5, angle: 1, share: 1, factor: 0.1, count: 1, number: 1 } as const;

/** The bounds of a number in a schema, whether it may be left out or not; of numbers in a row those of the first. */
export function boundsOf(schema: unknown): { least: number; most: number } {
  let inner = schema;
  while (!(inner instanceof z.ZodNumber)) {
    if (inner instanceof z.ZodOptional || inner instanceof z.ZodDefault) inner = inner.unwrap();
    else if (inner instanceof z.ZodTuple) inner = inner.def.items[0];
    else break;
  }
  if (!(inner instanceof z.ZodNumber)) throw new Error('Only numbers have bounds.');
  return { least: inner.minValue ?? -Infinity, most: inner.maxValue ?? Infinity };
}

/**
 * Makes the fields of a record: their bounds are those of its schema, so they stand nowhere else.
 *
 *   const ask = asking(snapSchema.shape, joint);
 *   ask.length('slot', 'Slot', { step: 0.1 })   // from 0.4 to 20 mm, sets { slot }
 */
export function asking<S extends Readonly<Record<string, unknown>>>(
  shape: S,
  record: { readonly [name in keyof S]?: unknown },
) {
  const measure = (
    as: Measure['as'],
    name: keyof S & string,
    label: string,
    { says = label, value = Number(record[name]), step = STEPS[as], unit, digits, set, away, ...own }: MeasureMore = {},
  ): Measure => {
    const { least, most } = boundsOf(shape[name]);
    return {
      as,
      name,
      label,
      says,
      value,
      least: Math.max(least, Math.min(own.least ?? least, value)),
      most: Math.min(most, Math.max(own.most ?? most, value)),
      step,
      ...(unit !== undefined && { unit }),
      ...(digits !== undefined && { digits }),
      set: set ?? ((x) => ({ [name]: x })),
      ...(away && { away }),
    };
  };
  type Ask = (name: keyof S & string, label: string, more?: MeasureMore) => Measure;
  const length: Ask = (...asked) => measure('length', ...asked);
  const angle: Ask = (...asked) => measure('angle', ...asked);
  const share: Ask = (...asked) => measure('share', ...asked);
  const number: Ask = (...asked) => measure('number', ...asked);
  const factor: Ask = (...asked) => measure('factor', ...asked);
  const count: Ask = (...asked) => measure('count', ...asked);
  const tick = (name: keyof S & string, label: string): Tick => ({
    as: 'tick',
    label,
    says: label,
    value: record[name] === true,
    set: (value) => ({ [name]: value }),
  });
  const choice = (
    name: keyof S & string,
    label: string,
    options: Pick['options'],
    { says = label, value = String(record[name]), shown = 'list', set }: PickMore = {},
  ): Pick => ({
    as: 'choice',
    label,
    says,
    value,
    options,
    shown,
    set: set ?? ((next) => ({ [name]: next })),
  });
  return { length, angle, share, factor, count, number, choice, tick };
}

/** The largest and the smallest number of two decimals that is within a bound. */
export const under = (bound: number): number => Math.floor(bound * 100 - 1e-6) / 100;
export const over = (bound: number): number => Math.ceil(bound * 100 + 1e-6) / 100;

/** Options that are called what they are. */
export const words = (list: readonly string[]): Pick['options'] => list.map((value) => ({ value, label: value }));

/** Lengths to choose from, and the one that it has. */
export const lengths = (list: readonly number[], own: number): Pick['options'] =>
  [...new Set([...list, own])].map((d) => ({ value: String(d), label: `${d} mm` }));

export const note = (label: string): Note => ({ as: 'note', label });

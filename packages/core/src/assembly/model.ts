import type { Closing, Finding } from '../document/index.ts';
import type { Vec3 } from '../mesh/index.ts';
import type { Blocker } from './ways.ts';

/** A step of joining as it will be done. Lengths in mm, areas in mm². */
export interface AssemblyStep {
  /** of the plan's order; null: as it was cut, as nothing else is said */
  readonly id: string | null;
  /** keys of the pieces of each part; the last comes to the others */
  readonly parts: readonly (readonly string[])[];
  readonly faces: readonly string[];
  readonly joints: readonly string[];
  /** unit, on the model: the last part is drawn off this way */
  readonly out: Vec3;
  /** how far until nothing of it lies beside the others any more */
  readonly travel: number;
  /** empty: the way is free */
  readonly blockers: readonly Blocker[];
  /** to be closed */
  readonly area: number;
  readonly closing: Closing;
  readonly minutes: number;
  readonly notes: string;
}

/** What runs through a bore, and when it is put in. Lengths in mm. */
export interface Thread {
  /** the bore's place in the recipe, from 0 */
  readonly bore: number;
  readonly what: string;
  readonly length: number;
  /** keys of the pieces that it runs through, from the bore's first place on */
  readonly pieces: readonly string[];
  /** so many steps of joining are done when it is put in; null: it cannot be */
  readonly after: number | null;
}

export interface Assembly {
  readonly steps: readonly AssemblyStep[];
  /** what runs through bores, and when it is put in */
  readonly threads: readonly Thread[];
  readonly findings: readonly Finding[];
}

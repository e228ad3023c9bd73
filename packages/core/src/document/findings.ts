import type { PlanChange } from './change.ts';
import type { FindingCode } from './finding-kinds.ts';

/** How bad a finding is: a stop keeps a piece from being exported unless the maker says so. */
export type Severity = 'stop' | 'warn' | 'note';

/** What a check found, where, by how much, and what would mend it. */
export interface Finding {
  readonly code: FindingCode;
  readonly severity: Severity;
  /** what it is about; only what applies is there */
  readonly where: {
    readonly body?: string;
    readonly seam?: string;
    readonly joint?: string;
    readonly piece?: string;
    readonly face?: string;
    readonly bed?: string;
  };
  /** a sentence for the maker */
  readonly message: string;
  /** what was measured and what it is held against, mm */
  readonly value?: number;
  readonly limit?: number;
  readonly mend?: Mend;
  /** other ways to mend it */
  readonly mends?: readonly Mend[];
}

/** A change of the plan that would mend a finding. */
export interface Mend {
  readonly label: string;
  readonly change: PlanChange;
}

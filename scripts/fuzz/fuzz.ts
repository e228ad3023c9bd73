import { GephyraError } from '@gephyra/core';

/** One kind of thing to throw at the program. */
export interface Fuzz {
  /** how many cases, when nothing else is said */
  readonly usual: number;
  /** longer than this a case hangs, ms */
  readonly longest: number;
  /** does one case: what came of it, and what is wrong with that, if anything */
  run(next: () => number): Promise<{ outcome: string; fault: string | null }>;
  close?(): Promise<void>;
}

/** What refusing a case may be: an error of ours with a sentence in it. */
export function refusal(error: unknown): { outcome: string; fault: string | null } {
  if (error instanceof GephyraError && error.message.length > 15) return { outcome: error.code, fault: null };
  const said = error instanceof Error ? (error.stack ?? error.message) : String(error);
  return { outcome: 'unforeseen', fault: said.split('\n').slice(0, 3).join(' | ') };
}

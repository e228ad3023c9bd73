import { type Arguments, numberOf } from './arguments.ts';

/** How long a command may take where --limit says nothing else, seconds. */
const USUAL = 600;

/** The time that a command has: searches end with what they have found when it is over. */
export interface Limit {
  /** whether so great a share of the time is over */
  past(share: number): boolean;
  /** whether all of it is */
  enough(): boolean;
}

/** The limit of a command line, from now on. What does not ask for it is ended from outside (`gephyra.mjs`) a little later. */
export function limitOf(flags: Arguments['flags']): Limit {
  const seconds = numberOf(flags, 'limit', USUAL);
  const start = performance.now();
  const past = (share: number): boolean => performance.now() - start > share * seconds * 1000;
  return { past, enough: () => past(1) };
}

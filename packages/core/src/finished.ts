/** Runs work that yields how far it is to its end, where nobody looks at that; what it comes to. */
export function finished<T>(work: Generator<unknown, T>): T {
  let step = work.next();
  while (!step.done) step = work.next();
  return step.value;
}

/** Asked between pieces of work: true ends it with what there is. */
export type Enough = () => boolean;

/** The same until it is enough; null then. */
export function finishedUnless<T>(work: Generator<unknown, T>, enough: Enough | undefined): T | null {
  let step = work.next();
  while (!step.done) {
    if (enough?.()) return null;
    step = work.next();
  }
  return step.value;
}

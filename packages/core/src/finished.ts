/** Runs work that yields how far it is to its end, where nobody looks at that; what it comes to. */
export function finished<T>(work: Generator<unknown, T>): T {
  let step = work.next();
  while (!step.done) step = work.next();
  return step.value;
}

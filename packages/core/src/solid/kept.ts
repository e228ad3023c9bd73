import type { Kernel } from './kernel.ts';
import type { Tagged } from './tagged.ts';

/** Bodies that stay with the kernel, and triangles of all of them together, at most. */
const MOST = 6;
const MOST_TRIANGLES = 300_000;

/** A body as the kernel has it, with what its maker wants to know of it again. */
interface Kept<T> {
  readonly body: Tagged;
  readonly more: T;
}

const lately = new WeakMap<Kernel, Map<object, Kept<unknown>>>();

/**
 * The body that the kernel was given for `key` lately, or else one made now: while a joint is moved, what it is taken out of stays the
 * same. Those used longest ago are given back when there are too many; the caller deletes nothing, and keeps nothing beyond its own work.
 * One `key` goes with one kind of `more`.
 */
export function kept<T>(kernel: Kernel, key: object, make: () => Kept<T>): Kept<T> {
  const all = lately.get(kernel) ?? new Map<object, Kept<unknown>>();
  lately.set(kernel, all);
  const found = (all.get(key) as Kept<T> | undefined) ?? make();
  all.delete(key);
  all.set(key, found);
  const sum = (): number => [...all.values()].reduce((n, { body }) => n + body.solid.numTri(), 0);
  while (all.size > 1 && (all.size > MOST || sum() > MOST_TRIANGLES)) {
    const [[oldest, { body }]] = all;
    all.delete(oldest);
    body.solid.delete();
  }
  return found;
}

import { useEffect, useRef } from 'react';

/**
 * Something that is moved by keys, and made a change once they rest for so many ms. `settle` makes it one at once: whatever is
 * done next, undo above all, is done on what was moved. What was not settled when it goes away is dropped.
 */
export function useNudge<T>(rest: number, release: (to: T) => void): { push(to: T): void; settle(): void } {
  const pending = useRef<{ readonly timer: ReturnType<typeof setTimeout>; readonly to: T } | null>(null);
  const told = useRef(release);
  told.current = release;
  useEffect(() => () => clearTimeout(pending.current?.timer), []);
  const settle = (): void => {
    if (!pending.current) return;
    const { timer, to } = pending.current;
    pending.current = null;
    clearTimeout(timer);
    told.current(to);
  };
  return {
    push: (to) => {
      clearTimeout(pending.current?.timer);
      pending.current = { to, timer: setTimeout(settle, rest) };
    },
    settle,
  };
}

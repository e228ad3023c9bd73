import { useCallback, useEffect, useRef, useState } from 'react';
import { type Run, wasEnded } from '../engine/searcher.ts';
import { useProject } from './project.tsx';

/** A search under way that somebody waits for. */
export interface Searching {
  /** from 0 to 1 */
  readonly share: number;
  readonly what: string;
  cancel(): void;
}

/** Searches that a maker asks for: one at a time, with progress and a way to end it. */
export function useSearch(): {
  readonly searching: Searching | null;
  /** null when it was cancelled, by the maker or by a search that was asked for later. Rejects with what the search throws */
  search<R>(what: string, run: Run<R>): Promise<R | null>;
} {
  const { searcher } = useProject();
  const [searching, setSearching] = useState<Searching | null>(null);
  const latest = useRef<AbortController | null>(null);
  useEffect(() => () => latest.current?.abort(), []);
  const search = useCallback(
    async <R>(what: string, run: Run<R>): Promise<R | null> => {
      if (!searcher) return null;
      latest.current?.abort();
      const own = new AbortController();
      latest.current = own;
      const show = (share: number, now: string): void => {
        if (!own.signal.aborted && latest.current === own)
          setSearching({ share, what: now, cancel: () => own.abort() });
      };
      show(0, what);
      try {
        return await searcher.ask(run, { cancel: own.signal, tell: show, first: true });
      } catch (error) {
        if (wasEnded(error)) return null;
        throw error;
      } finally {
        if (latest.current === own) {
          latest.current = null;
          setSearching(null);
        }
      }
    },
    [searcher],
  );
  return { searching, search };
}

import type { Assembly, Plan } from '@gephyra/core';
import { useEffect, useState } from 'react';
import type { Searcher } from '../engine/searcher.ts';
import type { EvaluationView } from '../engine/types.ts';

/** Checks the order of joining of a settled view, while that is wanted. Null until it is known. */
export function useAssembly(
  searcher: Searcher | null,
  plan: Plan,
  view: EvaluationView | null,
  settled: boolean,
  wanted: boolean,
): Assembly | null {
  const [found, setFound] = useState<{ of: EvaluationView; assembly: Assembly } | null>(null);
  useEffect(() => {
    if (!searcher || !view || !settled || !wanted) return;
    const left = new AbortController();
    searcher
      .ask((engine) => engine.assembly(plan), { forget: left.signal })
      .then(
        (assembly) => {
          if (!left.signal.aborted) setFound({ of: view, assembly });
        },
        () => {},
      );
    return () => left.abort();
  }, [searcher, plan, view, settled, wanted]);
  return found && found.of === view && settled ? found.assembly : null;
}

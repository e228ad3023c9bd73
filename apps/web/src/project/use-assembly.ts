import type { Assembly, Plan } from '@gephyra/core/plan';
import { useEffect, useMemo, useState } from 'react';
import type { Searcher } from '../engine/searcher.ts';
import type { EvaluationView } from '../engine/types.ts';

/** The order of joining as it was checked last. */
export interface CheckedAssembly extends Assembly {
  /** the plan that it was checked for */
  readonly plan: Plan;
  /** that is an older one, and the order is being checked anew */
  readonly checking: boolean;
}

/**
 * Checks the order of joining of a settled view, while that is wanted. Null until it is known; the last one stays while it is
 * checked anew, as long as there are the same pieces.
 */
export function useAssembly(
  searcher: Searcher | null,
  plan: Plan,
  view: EvaluationView | null,
  settled: boolean,
  wanted: boolean,
): CheckedAssembly | null {
  const [found, setFound] = useState<{ of: EvaluationView; plan: Plan; assembly: Assembly } | null>(null);
  useEffect(() => {
    if (!searcher || !view || !settled || !wanted) return;
    const left = new AbortController();
    searcher
      .ask((engine) => engine.assembly(plan), { forget: left.signal })
      .then(
        (assembly) => {
          if (!left.signal.aborted) setFound({ of: view, plan, assembly });
        },
        () => {},
      );
    return () => left.abort();
  }, [searcher, plan, view, settled, wanted]);
  return useMemo(() => {
    if (!found || !view || !samePieces(found.of, view)) return null;
    return { ...found.assembly, plan: found.plan, checking: found.of !== view || !settled };
  }, [found, view, settled]);
}

const samePieces = (a: EvaluationView, b: EvaluationView): boolean =>
  a === b || (a.pieces.length === b.pieces.length && a.pieces.every((p, i) => p.key === b.pieces[i].key));

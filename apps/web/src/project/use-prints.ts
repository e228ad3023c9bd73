import type { Plan } from '@gephyra/core/plan';
import { useEffect, useMemo, useState } from 'react';
import type { PrintsView, PrintView } from '../engine/prints.ts';
import type { AlikeView } from '../engine/seams.ts';
import type { Searcher } from '../engine/searcher.ts';
import type { EvaluationView } from '../engine/types.ts';

/** How the pieces are printed; known a little after the view. */
export interface Prints extends PrintsView {
  readonly byKey: ReadonlyMap<string, PrintView>;
  /** they are those of an older plan, and are being measured anew */
  readonly busy: boolean;
}

/** How long it waits where nobody looks at it, ms: the pictures of pieces come first. */
const PATIENCE = 4000;

const NONE: PrintsView = { prints: [], findings: [] };

/** Measures how the pieces of a settled view are printed, while that is wanted. */
export function usePrints(
  searcher: Searcher | null,
  plan: Plan,
  view: EvaluationView | null,
  alike: AlikeView,
  settled: boolean,
  wanted: 'now' | 'later' | 'no',
): Prints {
  const [found, setFound] = useState<{ of: EvaluationView | null; prints: Prints }>({
    of: null,
    prints: { ...NONE, byKey: new Map(), busy: true },
  });
  useEffect(() => {
    if (!searcher || !view || !settled || wanted === 'no') return;
    const left = new AbortController();
    const wait = new Promise((resolve) => setTimeout(resolve, wanted === 'now' ? 0 : PATIENCE));
    wait
      .then(() => {
        left.signal.throwIfAborted();
        return searcher.ask((engine) => engine.prints(plan, alike.files), { forget: left.signal });
      })
      .then(
        (made) => {
          if (left.signal.aborted) return;
          const byKey = new Map(made.prints.map((p) => [p.key, p]));
          setFound({ of: view, prints: { ...made, byKey, busy: false } });
        },
        () => {},
      );
    return () => left.abort();
  }, [searcher, plan, view, alike, settled, wanted]);
  const current = found.of === view && settled;
  return useMemo(() => (current ? found.prints : { ...found.prints, busy: true }), [found, current]);
}

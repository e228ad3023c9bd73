import type { Plan } from '@gephyra/core/plan';
import type * as Comlink from 'comlink';
import { useEffect, useMemo, useRef, useState } from 'react';
import { latest } from '../engine/engine.ts';
import type { Engine } from '../engine/live.ts';
import type { AlikeView } from '../engine/seams.ts';
import type { Searcher } from '../engine/searcher.ts';
import type { Drawable, EvaluationView } from '../engine/types.ts';
import { keepGeometry } from './geometry.ts';
import type { ShapedModel } from './shaper.ts';

/** The plan evaluated in the page's worker, always the newest. */
export interface LiveWork {
  readonly view: EvaluationView | null;
  /** pieces that are one file; known a little after the view */
  readonly alike: AlikeView;
  /** the view belongs to an older plan or model and is being computed anew */
  readonly busy: boolean;
  readonly failure: string | null;
  /** buffers of everything the view draws, by id */
  readonly geometry: ReadonlyMap<number, Drawable>;
}

const NONE_ALIKE: AlikeView = { groups: [], files: new Map(), declared: [] };

/**
 * Evaluates a plan whenever it or the model changes; of plans that follow each other quickly only the last. `current`: the
 * model is that of the plan. `done` is called with every view and the plan it is of.
 */
export function useLive(
  engine: Comlink.Remote<Engine> | null,
  searcher: Searcher | null,
  model: ShapedModel | null,
  current: boolean,
  plan: Plan,
  done: (plan: Plan, view: EvaluationView) => void,
): LiveWork {
  const [view, setView] = useState<EvaluationView | null>(null);
  const [shown, setShown] = useState<Plan | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const geometry = useRef(new Map<number, Drawable>());

  // what is shown is that of the model before, until this one is evaluated
  // biome-ignore lint/correctness/useExhaustiveDependencies: the model is what is waited for
  useEffect(() => setShown(null), [model]);

  const evaluate = useMemo(() => {
    if (!engine) return null;
    return latest(
      async (wanted: Plan) => ({ wanted, result: await engine.evaluate(wanted, [...geometry.current.keys()]) }),
      ({ wanted, result }) => {
        keepGeometry(geometry.current, result);
        done(wanted, result);
        setView(result);
        setShown(wanted);
        setFailure(null);
      },
      (error) => setFailure((error as Error).message),
      () => void engine.supersede(),
    );
  }, [engine, done]);

  // also when the same model was loaded anew: what is shown was forgotten then
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new model asks for a new evaluation
  useEffect(() => {
    if (current) evaluate?.(plan);
  }, [evaluate, plan, current, model]);

  const [alike, setAlike] = useState<AlikeView>(NONE_ALIKE);
  const settled = view !== null && shown === plan && current;
  useEffect(() => {
    if (!searcher || !settled || !view) return;
    if (view.pieces.length < 2) {
      setAlike(NONE_ALIKE);
      return;
    }
    const left = new AbortController();
    searcher
      .ask((engine) => engine.alike(plan), { forget: left.signal })
      .then(
        (found) => !left.signal.aborted && setAlike(found),
        () => {},
      );
    return () => left.abort();
  }, [searcher, settled, view, plan]);

  return { view, alike, busy: !settled, failure, geometry: geometry.current };
}

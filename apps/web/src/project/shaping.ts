import { routes } from '@gephyra/contract';
import type { Plan } from '@gephyra/core/plan';
import type * as Comlink from 'comlink';
import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { api, follow } from '../api/client.ts';
import { EngineDied, startEngine } from '../engine/engine.ts';
import type { Engine } from '../engine/live.ts';
import { Searcher } from '../engine/searcher.ts';
import { heavyPart, type ShapedModel, Shaper, type ShaperState } from './shaper.ts';

/** Work on the model that is under way on the server. */
export interface Shaping {
  readonly progress: number;
  readonly what: string;
  cancel(): void;
}

export interface ShapedWork {
  /** null until a model is loaded */
  readonly engine: Comlink.Remote<Engine> | null;
  /** long searches in the same model; null until it is loaded */
  readonly searcher: Searcher | null;
  readonly model: ShapedModel | null;
  /** whether the model is that of the plan as it stands */
  readonly current: boolean;
  readonly shaping: Shaping | null;
  readonly failure: string | null;
  /** tries again after a failure, or after the work was cancelled */
  retry(): void;
}

interface Started {
  readonly engine: Comlink.Remote<Engine>;
  readonly searcher: Searcher;
  readonly shaper: Shaper;
}

/** A worker that died so often is only started again when it is asked for. */
const MOST_DEATHS = 2;

const NOTHING: ShaperState = { model: null, working: null, failure: null };

/** Keeps a worker with the model that the heavy steps of a plan make; has the server make it when they change. */
export function useShaped(projectId: string, plan: Plan): ShapedWork {
  const [started, setStarted] = useState<Started | null>(null);
  // how often a worker died, and whether another is to be started
  const [deaths, setDeaths] = useState({ count: 0, again: true });
  useEffect(() => {
    if (!deaths.again) return;
    const { engine, stop, died } = startEngine();
    void died.then(() => setDeaths(({ count }) => ({ count: count + 1, again: count + 1 < MOST_DEATHS })));
    const searcher = new Searcher();
    const shaper = new Shaper({
      start: (wanted) => api.ask(projectId, 'shape', wanted),
      follow,
      cancel: api.cancel,
      load: async (job) => {
        const loaded = await engine.load(routes.jobFile(job));
        searcher.open(routes.jobFile(job));
        return loaded;
      },
    });
    setStarted({ engine, searcher, shaper });
    return () => {
      shaper.close();
      searcher.close();
      stop();
      setStarted(null);
    };
  }, [projectId, deaths]);
  const shaper = started?.shaper ?? null;
  const { key } = useMemo(() => heavyPart(plan), [plan]);
  useEffect(() => shaper?.want(plan), [shaper, plan]);
  const subscribe = useCallback((listener: () => void) => shaper?.subscribe(listener) ?? (() => {}), [shaper]);
  const { model, working, failure } = useSyncExternalStore(subscribe, () => shaper?.state ?? NOTHING);
  return {
    engine: model && started ? started.engine : null,
    searcher: model && started ? started.searcher : null,
    model,
    current: model !== null && model.key === key,
    shaping: working && shaper ? { ...working, cancel: shaper.cancel } : null,
    failure: deaths.again ? failure : new EngineDied().message,
    retry: () => (deaths.again ? shaper?.retry() : setDeaths({ count: 0, again: true })),
  };
}

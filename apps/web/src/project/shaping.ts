import { routes } from '@gephyra/contract';
import { type Plan, splitRecipe } from '@gephyra/core';
import type * as Comlink from 'comlink';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { ApiError, api, follow } from '../api/client.ts';
import { startEngine } from '../engine/engine.ts';
import type { ModelView } from '../engine/types.ts';
import type { Engine } from '../engine/worker.ts';

/** Work on the model that is under way on the server. */
export interface Shaping {
  readonly progress: number;
  readonly what: string;
  cancel(): void;
}

/** A model, and the steps it is the result of. */
export interface ShapedModel extends ModelView {
  readonly key: string;
}

export interface ShapedWork {
  /** null until a model is loaded */
  readonly engine: Comlink.Remote<Engine> | null;
  readonly model: ShapedModel | null;
  /** whether the model is that of the plan as it stands */
  readonly current: boolean;
  readonly shaping: Shaping | null;
  readonly failure: string | null;
  /** tries again after a failure, or after the work was cancelled */
  retry(): void;
}

/** What decides about the model a plan needs from the server. */
export function heavyPart(plan: Plan): { key: string; steps: Plan['recipe']; locked: string[] } {
  const steps = splitRecipe(plan.recipe).heavy;
  const locked = plan.bodies.filter((b) => b.locked).map((b) => b.id);
  return { key: JSON.stringify([steps.map(({ id: _, ...s }) => s), locked]), steps, locked };
}

/** Keeps a worker with the model that the heavy steps of a plan make; has the server make it when they change. */
export function useShaped(projectId: string, plan: Plan): ShapedWork {
  const [engine, setEngine] = useState<Comlink.Remote<Engine> | null>(null);
  const [model, setModel] = useState<ShapedModel | null>(null);
  const [shaping, setShaping] = useState<Shaping | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [attempt, setAttempt] = useState(0);
  useEffect(() => {
    const started = startEngine();
    setEngine(() => started.engine);
    setModel(null);
    return () => {
      started.stop();
      setEngine(null);
    };
  }, []);
  const { key } = useMemo(() => heavyPart(plan), [plan]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says all that matters of the steps; attempt asks again
  useEffect(() => {
    if (!engine) return;
    const { steps, locked } = heavyPart(plan);
    let alive = true;
    let running: string | null = null;
    let stopped = false;
    const show = (progress: number, what: string): void => {
      if (!alive) return;
      setShaping({
        progress,
        what,
        cancel: () => {
          stopped = true;
          if (running) void api.cancel(running).catch(() => {});
        },
      });
    };
    const run = async (): Promise<void> => {
      show(0, 'Reading the model');
      const job = await api.startShape(projectId, { steps, locked });
      running = job.id;
      if (stopped || !alive) void api.cancel(job.id).catch(() => {});
      await follow(job, (now) => show(now.progress, now.what));
      running = null;
      if (!alive) return;
      const loaded = await engine.load(routes.jobFile(job.id));
      if (!alive) return;
      setModel({ ...loaded, key });
      setFailure(null);
      setShaping(null);
    };
    run().catch((error: unknown) => {
      running = null;
      if (!alive) return;
      setShaping(null);
      const cancelled = error instanceof ApiError && error.code === 'cancelled';
      setFailure(cancelled ? 'The work on the model was stopped.' : (error as Error).message);
    });
    return () => {
      alive = false;
      if (running) void api.cancel(running).catch(() => {});
    };
  }, [engine, projectId, key, attempt]);
  const retry = useCallback(() => {
    setFailure(null);
    setAttempt((n) => n + 1);
  }, []);
  return { engine: model ? engine : null, model, current: model?.key === key, shaping, failure, retry };
}

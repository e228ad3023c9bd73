import type { Project } from '@gephyra/contract';
import type { Plan, StepInput } from '@gephyra/core';
import type * as Comlink from 'comlink';
import { createContext, type ReactNode, useContext, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { api } from '../api/client.ts';
import type { Engine } from '../engine/live.ts';
import type { AlikeView } from '../engine/seams.ts';
import type { Drawable, EvaluationView } from '../engine/types.ts';
import { useToasts } from '../ui/toasts.tsx';
import type { Changing } from './changes.ts';
import { previewed } from './preview.ts';
import { ProjectRecord, type SaveState } from './record.ts';
import type { ShapedModel } from './shaper.ts';
import { type Shaping, useShaped } from './shaping.ts';
import { useLive } from './use-live.ts';

/** Everything a station needs of the open project. */
export interface ProjectWork {
  readonly project: Project;
  /** the plan as it stands on the screen, saved or just about to be */
  readonly plan: Plan;
  readonly saveState: SaveState;
  readonly savedAt: Date | null;
  /**
   * makes one or several changes on the newest plan, as one step that undo takes back. What is added under an id that is taken
   * by now gets another: the ids given are told by those asked for.
   */
  change(label: string, ...changes: Changing[]): ReadonlyMap<string, string>;
  readonly undo: (() => void) | null;
  readonly redo: (() => void) | null;
  retry(): void;
  rename(name: string): void;
  /** a step that is shown but not part of the plan yet */
  readonly candidate: StepInput | null;
  preview(step: StepInput | null): void;
  /** work on the model under way on the server */
  readonly shaping: Shaping | null;
  /** tries to make the model again, when that failed or was stopped */
  readonly retryShape: (() => void) | null;
  readonly engine: Comlink.Remote<Engine> | null;
  readonly model: ShapedModel | null;
  readonly view: EvaluationView | null;
  /** pieces that are one file; known a little after the view */
  readonly alike: AlikeView;
  /** the view belongs to an older plan and is being computed anew */
  readonly busy: boolean;
  readonly failure: string | null;
  /** buffers of everything the view draws, by id */
  readonly geometry: ReadonlyMap<number, Drawable>;
}

const Context = createContext<ProjectWork | null>(null);

export function useProject(): ProjectWork {
  const work = useContext(Context);
  if (!work) throw new Error('There is no open project here.');
  return work;
}

export function ProjectProvider({ initial, children }: { initial: Project; children: ReactNode }) {
  const toasts = useToasts();
  const record = useRef<ProjectRecord>(null);
  record.current ??= new ProjectRecord(initial, api, toasts.say);
  const own = record.current;
  const { project, plan, saveState, savedAt } = useSyncExternalStore(own.subscribe, () => own.state);

  const [candidate, setCandidate] = useState<StepInput | null>(null);
  const tried = useMemo(() => previewed(plan, candidate), [plan, candidate]);
  const shaped = useShaped(initial.id, tried.plan);
  const { engine, model } = shaped;
  const live = useLive(engine, model, shaped.current, tried.plan, own.keepAnchorsOf);

  const work: ProjectWork = {
    project,
    plan,
    saveState,
    savedAt,
    change: own.change,
    undo: own.can('undo') ? () => void own.step('undo') : null,
    redo: own.can('redo') ? () => void own.step('redo') : null,
    retry: own.retry,
    rename: own.rename,
    engine,
    model,
    view: live.view,
    alike: live.alike,
    candidate,
    preview: setCandidate,
    shaping: shaped.shaping,
    retryShape: shaped.failure === null ? null : shaped.retry,
    busy: live.busy,
    failure: tried.fault ?? shaped.failure ?? live.failure,
    geometry: live.geometry,
  };
  return <Context value={work}>{children}</Context>;
}

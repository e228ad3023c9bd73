import type { Project } from '@gephyra/contract';
import { applyChange, type Plan, type StepInput } from '@gephyra/core';
import type * as Comlink from 'comlink';
import {
  createContext,
  type ReactNode,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from 'react';
import { api } from '../api/client.ts';
import { latest } from '../engine/engine.ts';
import type { AlikeView } from '../engine/seams.ts';
import type { Drawable, EvaluationView } from '../engine/types.ts';
import type { Engine } from '../engine/worker.ts';
import { useToasts } from '../ui/toasts.tsx';
import type { Changing } from './changes.ts';
import { ProjectRecord, type SaveState } from './record.ts';
import { type ShapedModel, type Shaping, useShaped } from './shaping.ts';

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

const NONE_ALIKE: AlikeView = { groups: [], files: new Map(), declared: [] };

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
  const shownPlanNow = useMemo(() => {
    if (!candidate) return { plan, fault: null };
    try {
      return { plan: applyChange(plan, { do: 'addStep', step: candidate }), fault: null };
    } catch (error) {
      return { plan, fault: (error as Error).message };
    }
  }, [plan, candidate]);
  const wantedPlan = shownPlanNow.plan;
  const shaped = useShaped(initial.id, wantedPlan);
  const { engine, model } = shaped;
  const [view, setView] = useState<EvaluationView | null>(null);
  const [shownPlan, setShownPlan] = useState<Plan | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const geometry = useRef(new Map<number, Drawable>());

  // what is shown is that of the model before, until this one is evaluated
  // biome-ignore lint/correctness/useExhaustiveDependencies: the model is what is waited for
  useEffect(() => setShownPlan(null), [model]);

  const evaluate = useMemo(() => {
    if (!engine) return null;
    return latest(
      async (wanted: Plan) => ({ wanted, result: await engine.evaluate(wanted, [...geometry.current.keys()]) }),
      ({ wanted, result }) => {
        const used = new Set(result.pieces.flatMap((piece) => [piece.skin, ...piece.caps]));
        for (const id of geometry.current.keys()) if (!used.has(id)) geometry.current.delete(id);
        for (const g of result.fresh) geometry.current.set(g.id, g);
        own.keepAnchors(wanted, [...result.anchors]);
        setView(result);
        setShownPlan(wanted);
        setFailure(null);
      },
      (error) => setFailure((error as Error).message),
    );
  }, [engine, own]);

  // also when the same model was loaded anew: what is shown was forgotten then
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new model asks for a new evaluation
  useEffect(() => {
    if (shaped.current) evaluate?.(wantedPlan);
  }, [evaluate, wantedPlan, shaped.current, model]);

  const [alike, setAlike] = useState<AlikeView>(NONE_ALIKE);
  const settled = view !== null && shownPlan === wantedPlan && shaped.current;
  useEffect(() => {
    if (!engine || !settled || !view) return;
    if (view.pieces.length < 2) {
      setAlike(NONE_ALIKE);
      return;
    }
    let alive = true;
    engine.alike(wantedPlan).then(
      (found) => alive && setAlike(found),
      () => {},
    );
    return () => {
      alive = false;
    };
  }, [engine, settled, view, wantedPlan]);

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
    view,
    alike,
    candidate,
    preview: setCandidate,
    shaping: shaped.shaping,
    retryShape: shaped.failure === null ? null : shaped.retry,
    busy: view === null || shownPlan !== wantedPlan || !shaped.current,
    failure: shownPlanNow.fault ?? shaped.failure ?? failure,
    geometry: geometry.current,
  };
  return <Context value={work}>{children}</Context>;
}

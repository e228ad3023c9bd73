import type { Project } from '@gephyra/contract';
import type { Plan, StepInput } from '@gephyra/core/plan';
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
import { useLocation } from 'react-router';
import { api } from '../api/client.ts';
import { followNews } from '../api/news.ts';
import type { Engine } from '../engine/live.ts';
import type { AlikeView } from '../engine/seams.ts';
import type { Searcher } from '../engine/searcher.ts';
import type { Drawable, EvaluationView } from '../engine/types.ts';
import { useToasts } from '../ui/toasts.tsx';
import type { Changing } from './changes.ts';
import { type FrozenQuestion, useFrozen } from './frozen.ts';
import { previewed } from './preview.ts';
import { ProjectRecord, type SaveState } from './record.ts';
import type { ShapedModel } from './shaper.ts';
import { type Shaping, useShaped } from './shaping.ts';
import { type CheckedAssembly, useAssembly } from './use-assembly.ts';
import { useLive } from './use-live.ts';
import { type Prints, usePrints } from './use-prints.ts';

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
  /** a change that waits for the maker's word, since it would alter what is printed */
  readonly question: FrozenQuestion | null;
  /** it is being looked whether a change alters printed pieces */
  readonly looking: boolean;
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
  /** computes what is shown, at once */
  readonly engine: Comlink.Remote<Engine> | null;
  /** makes long searches, in the same model */
  readonly searcher: Searcher | null;
  readonly model: ShapedModel | null;
  readonly view: EvaluationView | null;
  /** pieces that are one file; known a little after the view */
  readonly alike: AlikeView;
  /** how pieces are printed; known a little after the view, and only where that is of use */
  readonly prints: Prints;
  /** the order of joining; known a little after the view, and only where it is shown */
  readonly assembly: CheckedAssembly | null;
  /** the view belongs to an older plan and is being computed anew */
  readonly busy: boolean;
  /** so do the pieces, what was measured of their prints, or the checked order: findings may be old */
  readonly unsure: boolean;
  readonly failure: string | null;
  /** buffers of everything the view draws, by id */
  readonly geometry: ReadonlyMap<number, Drawable>;
}

/** Given by `ProjectProvider`; tests give their own. */
export const ProjectContext = createContext<ProjectWork | null>(null);

export function useProject(): ProjectWork {
  const work = useContext(ProjectContext);
  if (!work) throw new Error('There is no open project here.');
  return work;
}

export function ProjectProvider({ initial, children }: { initial: Project; children: ReactNode }) {
  const toasts = useToasts();
  const record = useRef<ProjectRecord>(null);
  record.current ??= new ProjectRecord(initial, api, toasts.say);
  const own = record.current;
  const { project, plan, saveState, savedAt } = useSyncExternalStore(own.subscribe, () => own.state);

  useEffect(() => {
    const end = followNews((news) => news.project === initial.id && own.hear(news));
    window.addEventListener('online', own.retry);
    return () => {
      window.removeEventListener('online', own.retry);
      end();
    };
  }, [own, initial.id]);

  const [candidate, setCandidate] = useState<StepInput | null>(null);
  const tried = useMemo(() => previewed(plan, candidate), [plan, candidate]);
  const shaped = useShaped(initial.id, tried.plan);
  const { engine, searcher, model } = shaped;
  const live = useLive(engine, searcher, model, shaped.current, tried.plan, own.keepPiecesOf);

  const station = useLocation().pathname.split('/').at(-1);
  const wanted =
    station === 'pieces' || station === 'beds' || station === 'workshop'
      ? 'now'
      : plan.beds.length > 0 || plan.log
        ? 'later'
        : 'no';
  const prints = usePrints(searcher, tried.plan, live.view, live.alike, !live.busy, wanted);
  const assembly = useAssembly(
    searcher,
    tried.plan,
    live.view,
    !live.busy,
    station === 'assembly' || station === 'workshop',
  );
  const view = useMemo(() => {
    // what was known stays until it is measured anew, so that counts do not jump to and fro
    const more = [...(wanted !== 'no' || !prints.busy ? prints.findings : []), ...(assembly?.findings ?? [])];
    return live.view && more.length > 0 ? { ...live.view, findings: [...live.view.findings, ...more] } : live.view;
  }, [live.view, prints, wanted, assembly]);

  const { change, question, looking, step } = useFrozen(own, searcher, toasts.say);

  const work: ProjectWork = {
    project,
    plan,
    saveState,
    savedAt,
    change,
    question,
    looking,
    undo: own.can('undo') ? () => void step('undo') : null,
    redo: own.can('redo') ? () => void step('redo') : null,
    retry: own.retry,
    rename: own.rename,
    engine,
    searcher,
    model,
    view,
    prints,
    assembly,
    alike: live.alike,
    candidate,
    preview: setCandidate,
    shaping: shaped.shaping,
    retryShape: shaped.failure === null ? null : shaped.retry,
    busy: live.busy,
    unsure: live.busy || (wanted !== 'no' && prints.busy) || (assembly?.checking ?? false),
    failure: tried.fault ?? shaped.failure ?? live.failure,
    geometry: live.geometry,
  };
  return <ProjectContext value={work}>{children}</ProjectContext>;
}

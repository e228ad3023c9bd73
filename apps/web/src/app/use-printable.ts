import { applyChange, type Done, type Plan, PREPARATIONS, type Preparation } from '@gephyra/core/plan';
import { useEffect, useRef, useState } from 'react';
import { useProject } from '../project/project.tsx';
import { useSearch } from '../project/use-search.ts';

export type PrintableStep = 'mend' | Preparation;
export const PRINTABLE_STEPS: readonly PrintableStep[] = ['mend', ...PREPARATIONS];

/** What each step is called in the history. */
const LABELS: Record<PrintableStep, string> = {
  mend: 'Mend the model',
  seams: 'Place proposed seams',
  joints: 'Seat joints',
  poses: 'Pose all pieces',
  beds: 'Fill beds',
};

export type Told = Pick<Done, 'did' | 'left'>;

export interface Printable {
  readonly at: 'start' | PrintableStep | 'done';
  readonly told: ReadonlyMap<PrintableStep, Told>;
  readonly working: { readonly share: number; readonly what: string } | null;
  /** why it ended before its time */
  readonly wrong: string | null;
  begin(): void;
  cancel(): void;
}

/** All of a plan that such a run starts from: what is found out beside it, and kept with it, is no edit. */
const asEdited = ({ anchors: _, contacts: __, codes: ___, ...plan }: Plan): string => JSON.stringify(plan);

/**
 * From a model to beds in one go. Mending is the server's work and is kept by itself; the steps after it are found one after the
 * other, and nothing is changed until all of them are: then each becomes a change of its own. A plan that was edited meanwhile is
 * left as it is.
 */
export function usePrintable(): Printable {
  const { plan, model, busy, shaping, failure, change } = useProject();
  const { searching, search } = useSearch();
  const [at, setAt] = useState<Printable['at']>('start');
  const [told, setTold] = useState<ReadonlyMap<PrintableStep, Told>>(new Map());
  const [wrong, setWrong] = useState<string | null>(null);
  const newest = useRef(plan);
  newest.current = plan;
  const say = (step: PrintableStep, what: Told): void => setTold((old) => new Map(old).set(step, what));
  const end = (why: string): void => {
    setWrong(why);
    setAt('done');
  };

  const run = async (): Promise<void> => {
    const start = newest.current;
    const found: { step: Preparation; done: Done }[] = [];
    let next = start;
    try {
      for (const step of PREPARATIONS) {
        setAt(step);
        const from = next;
        const done = await search('', (engine, tell) => engine.prepare(from, step, tell));
        if (!done) return end('It was ended. Nothing but the mending was changed.');
        found.push({ step, done });
        say(step, done);
        if (done.change) next = applyChange(from, done.change);
      }
    } catch (error) {
      return end((error as Error).message);
    }
    if (asEdited(newest.current) !== asEdited(start)) {
      setTold(new Map());
      return end('The plan was changed meanwhile, so nothing of this was taken. Start it again.');
    }
    for (const { step, done } of found) if (done.change) change(LABELS[step], done.change);
    setAt('done');
  };

  const open = (model?.openEdges.length ?? 0) > 0;
  const begin = (): void => {
    setTold(new Map());
    setWrong(null);
    if (open) {
      change(LABELS.mend, { do: 'addStep', step: { kind: 'mend' } });
      setAt('mend');
      return;
    }
    say('mend', { did: 'Every body is closed.', left: [] });
    void run();
  };

  // the mended model comes from the server
  const mended = at === 'mend' && !busy && !shaping && plan.recipe.some((s) => s.kind === 'mend');
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the model has come
  useEffect(() => {
    if (at !== 'mend') return;
    if (failure) return end(failure);
    if (!mended) return;
    say('mend', {
      did: open ? 'Mended what could be mended.' : 'Mended, every body is closed.',
      left: open ? ['Some edges are still open. Close them at Model, under health.'] : [],
    });
    void run();
  }, [mended, failure]);

  return {
    at,
    told,
    working: at === 'mend' ? shaping && { share: shaping.progress, what: shaping.what } : searching,
    wrong,
    begin,
    cancel: () => (at === 'mend' ? shaping?.cancel() : searching?.cancel()),
  };
}

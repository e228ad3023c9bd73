import {
  type CopyProgress,
  copiesOf,
  copyKey,
  MOST_ENTRIES,
  nextAtBench,
  progressOf,
  tallyOf,
} from '@gephyra/core/plan';
import { useMemo } from 'react';
import { useProject } from '../../project/project.tsx';
import { useSelection } from '../../project/selection.tsx';
import { byBed } from './bench.ts';

const NOTHING = { hours: 0, grams: 0, cost: 0 };

export type Standing = ReturnType<typeof useStanding>;

/** Where the build stands: what the plan's log, its beds and its prints come to, copy by copy. */
export function useStanding() {
  const { plan, view, prints, assembly } = useProject();
  const [{ piece, copy }] = useSelection();
  const copies = useMemo(() => copiesOf(prints.prints), [prints.prints]);
  const progress = useMemo(() => progressOf(plan.log ?? [], copies), [plan.log, copies]);
  const groups = useMemo(() => byBed(progress, plan.beds), [progress, plan.beds]);
  const tally = useMemo(
    () => tallyOf(progress, (key) => prints.byKey.get(key)?.estimate ?? NOTHING),
    [progress, prints.byKey],
  );
  const next = useMemo(() => nextAtBench(plan, progress, assembly?.steps ?? []), [plan, progress, assembly]);
  const byKey = useMemo(() => new Map(view?.pieces.map((p) => [p.key, p])), [view]);
  const log = plan.log ?? [];
  const chosenKey = piece === null ? null : copyKey(piece, Number(copy ?? '1'));
  return {
    copies,
    progress,
    groups,
    tally,
    next,
    byKey,
    log,
    /** the log takes no more */
    full: log.length >= MOST_ENTRIES,
    chosenKey,
    chosen: progress.find((p) => copyKey(p.piece, p.copy) === chosenKey) ?? null,
    codeOf: (key: string): string => byKey.get(key)?.code ?? 'a piece that is gone',
    titleOf: (bed: string): string => groups.find((g) => g.bed?.id === bed)?.title ?? bed,
    /** the first copies of some pieces */
    firstOf: (keys: readonly string[]): CopyProgress[] =>
      progress.filter((p) => keys.includes(p.piece) && p.copy === 1),
  };
}

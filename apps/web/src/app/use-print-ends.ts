import type { Print } from '@gephyra/contract';
import { happened, notesOfPrint, type Plan, progressOf } from '@gephyra/core';
import { useEffect, useRef } from 'react';
import { useProject } from '../project/project.tsx';
import { isUnderWay, useBedPrints } from '../project/use-bed-prints.ts';
import { useToasts } from '../ui/toasts.tsx';

const knows = (plan: Plan, { id }: Print): boolean =>
  (plan.log ?? []).some((e) => e.print === id && e.to !== 'printing');

/**
 * Notes in the plan how prints ended, wherever the maker is, also those that ended while nobody looked. The server keeps that it
 * is noted once it is saved: an undone note does not come back, and of two windows one is told that the other was first.
 */
export function usePrintEnds(): void {
  const { project, plan, saveState, change } = useProject();
  const { prints, act } = useBedPrints(project.id);
  const toasts = useToasts();
  const noting = useRef(new Set<string>());
  useEffect(() => {
    const ended = prints.find((p) => !isUnderWay(p) && !p.noted);
    if (!ended || saveState !== 'saved') return;
    const told = (): void => {
      act(ended.id, 'noted').catch((error: unknown) => toasts.say({ text: (error as Error).message, tone: 'stop' }));
    };
    if (knows(plan, ended)) return told();
    // taken back, or another window's
    if (noting.current.has(ended.id)) return told();
    noting.current.add(ended.id);
    const progress = progressOf(plan.log ?? [], ended.pieces);
    const notes = notesOfPrint(
      {
        ...ended,
        state: ended.state as 'done' | 'failed' | 'stopped',
        endedAt: ended.endedAt!,
      },
      (piece, copy) => progress.find((p) => p.piece === piece && p.copy === copy)!.state,
    );
    if (notes.length === 0) return told();
    const how = ended.state === 'done' ? 'is printed' : ended.state === 'failed' ? 'failed' : 'was stopped';
    change(`${ended.title} ${how}`, ...notes.map((n) => (now: Plan) => happened(now, n)));
    toasts.say({ text: `${ended.title} ${how} on ${ended.printer}.`, tone: ended.state === 'done' ? 'plain' : 'warn' });
  }, [prints, plan, saveState, change, act, toasts]);
}

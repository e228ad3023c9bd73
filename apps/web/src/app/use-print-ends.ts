import { useEffect, useRef } from 'react';
import { useProject } from '../project/project.tsx';
import { isUnderWay, useBedPrints } from '../project/use-bed-prints.ts';
import { useToasts } from '../ui/toasts.tsx';

/** Says how prints ended, wherever the maker is; the server notes it in the plan. */
export function usePrintEnds(): void {
  const { project } = useProject();
  const { prints } = useBedPrints(project.id);
  const toasts = useToasts();
  const running = useRef(new Set<string>());
  useEffect(() => {
    for (const { id, title, printer, state } of prints.filter((p) => !isUnderWay(p))) {
      if (!running.current.delete(id)) continue;
      const how = state === 'done' ? 'is printed' : state === 'failed' ? 'failed' : 'was stopped';
      toasts.say({ text: `${title} ${how} on ${printer}.`, tone: state === 'done' ? 'plain' : 'warn' });
    }
    running.current = new Set(prints.filter(isUnderWay).map((p) => p.id));
  }, [prints, toasts]);
}

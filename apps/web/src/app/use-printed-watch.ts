import { useEffect, useRef } from 'react';
import { useProject } from '../project/project.tsx';
import { useToasts } from '../ui/toasts.tsx';

/** Tells, wherever the maker is, when an edit has changed pieces that are printed already, and offers to take it back. */
export function usePrintedWatch(): void {
  const { prints, undo } = useProject();
  const toasts = useToasts();
  const known = useRef<ReadonlySet<string> | null>(null);
  const takeBack = useRef(undo);
  takeBack.current = undo;
  useEffect(() => {
    if (prints.busy) return;
    const found = prints.findings.filter((f) => f.code === 'bench.changed');
    const fresh = found.filter((f) => known.current && !known.current.has(f.where.piece ?? ''));
    known.current = new Set(found.map((f) => f.where.piece ?? ''));
    if (fresh.length === 0) return;
    const others =
      fresh.length > 1 ? ` So ${fresh.length === 2 ? 'is one other' : `are ${fresh.length - 1} others`}.` : '';
    toasts.say({
      text: `${fresh[0].message}${others}`,
      tone: 'warn',
      action: { label: 'Undo the last change', run: () => takeBack.current?.() },
    });
  }, [prints, toasts]);
}

import { dot, makeFrame, type Seam } from '@gephyra/core/plan';
import { useEffect, useMemo, useState } from 'react';
import type { AlongView } from '../../engine/seams.ts';
import { useProject } from '../../project/project.tsx';
import { standingBefore, stopsBeside } from '../../project/seam-math.ts';

/** Sections, landmarks and bands along a seam's direction; again when the direction, the model or another seam changes. */
export function useAlong(seam: Seam, seams: readonly Seam[]): AlongView | null {
  const { searcher, view, plan, busy } = useProject();
  const [made, setMade] = useState<AlongView | null>(null);
  const others = useMemo(() => stopsBeside(seam, seams).map((s) => dot(s.origin, seam.normal)), [seam, seams]);
  const key = [
    seam.normal,
    view?.map,
    view?.box.max,
    others,
    plan.printer.size,
    plan.printer.margin,
    JSON.stringify(plan.zones),
    seam.scope ? standingBefore(plan, seam) : '',
  ].join('|');
  // what is shown comes first: while a seam is dragged, the key stays the same
  const [begun, setBegun] = useState('');
  useEffect(() => {
    if (view && !busy) setBegun(key);
  }, [view, busy, key]);
  const ready = begun === key;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key holds all that the answer depends on
  useEffect(() => {
    if (!searcher || !ready) return;
    const left = new AbortController();
    const asking = { forget: left.signal, first: true };
    const frame = makeFrame(seam.origin, seam.normal, seam.up);
    const ask = async (): Promise<void> => {
      const first = await searcher.ask((engine) => engine.along(plan, seam.id, frame, others), asking);
      if (left.signal.aborted) return;
      setMade(first);
      // the mirror plane takes longer; once it is known it is a landmark too
      if (!(await searcher.ask((engine) => engine.mirror(plan), { forget: left.signal })) || left.signal.aborted)
        return;
      const second = await searcher.ask((engine) => engine.along(plan, seam.id, frame, others), asking);
      if (!left.signal.aborted) setMade(second);
    };
    ask().catch(() => {});
    return () => left.abort();
  }, [searcher, ready, key]);
  return made;
}

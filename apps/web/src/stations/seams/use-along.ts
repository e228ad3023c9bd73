import { dot, makeFrame, type Seam } from '@gephyra/core';
import { useEffect, useMemo, useState } from 'react';
import type { AlongView } from '../../engine/seams.ts';
import { useProject } from '../../project/project.tsx';
import { sameWay } from '../../project/seam-math.ts';

/** Sections, landmarks and bands along a seam's direction; again when the direction, the model or another seam changes. */
export function useAlong(seam: Seam, seams: readonly Seam[]): AlongView | null {
  const { engine, view, plan } = useProject();
  const [made, setMade] = useState<AlongView | null>(null);
  const others = useMemo(
    () =>
      seams
        .filter((s) => s.id !== seam.id && s.enabled && s.kind === 'flat' && sameWay(s.normal, seam.normal))
        .map((s) => dot(s.origin, seam.normal)),
    [seams, seam.id, seam.normal],
  );
  const key = [
    seam.normal,
    view?.map,
    view?.box.max,
    others,
    plan.printer.size,
    plan.printer.margin,
    JSON.stringify(plan.zones),
  ].join('|');
  const ready = view !== null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key holds all that the answer depends on
  useEffect(() => {
    if (!engine || !ready) return;
    let alive = true;
    const frame = makeFrame(seam.origin, seam.normal, seam.up);
    const ask = async (): Promise<void> => {
      const first = await engine.along(plan, frame, others);
      if (!alive) return;
      setMade(first);
      // the mirror plane takes longer; once it is known it is a landmark too
      if (!(await engine.mirror()) || !alive) return;
      const second = await engine.along(plan, frame, others);
      if (alive) setMade(second);
    };
    ask().catch(() => {});
    return () => {
      alive = false;
    };
  }, [engine, ready, key]);
  return made;
}

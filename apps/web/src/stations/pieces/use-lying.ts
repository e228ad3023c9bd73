import type { Pose } from '@gephyra/core/plan';
import { useEffect, useMemo, useRef, useState } from 'react';
import { latest } from '../../engine/engine.ts';
import type { LyingView } from '../../engine/prints.ts';
import { useProject } from '../../project/project.tsx';

/** How a piece lies in a pose, with its supports; null until it is known. */
export function useLying(key: string | null, pose: Pose | null): LyingView | null {
  const { engine, plan, busy } = useProject();
  const [found, setFound] = useState<{ asked: string; lying: LyingView | null } | null>(null);
  const asked = key && pose ? JSON.stringify([key, pose]) : '';
  const now = useRef(plan);
  now.current = plan;
  const ask = useMemo(
    () =>
      engine
        ? latest(
            async (wanted: string) => {
              const [piece, turn] = JSON.parse(wanted) as [string, Pose];
              return { asked: wanted, lying: await engine.lying(now.current, piece, turn) };
            },
            setFound,
            () => setFound(null),
          )
        : null,
    [engine],
  );
  // at once, for a pose set by hand; and again when what else was changed has been computed
  // biome-ignore lint/correctness/useExhaustiveDependencies: a change is under way, or done
  useEffect(() => {
    if (asked) ask?.(asked);
  }, [ask, asked, busy]);
  return found?.asked === asked ? found.lying : null;
}

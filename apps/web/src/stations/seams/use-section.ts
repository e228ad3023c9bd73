import { makeFrame, type Seam } from '@gephyra/core/plan';
import { useEffect, useMemo, useRef, useState } from 'react';
import { latest } from '../../engine/engine.ts';
import type { RegionView } from '../../engine/seam-scope.ts';
import type { WallView } from '../../engine/seams.ts';
import type { FrameView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { standingBefore } from '../../project/seam-math.ts';

export interface SeamSection {
  readonly frame: FrameView;
  readonly regions: readonly RegionView[];
  readonly walls: WallView | null;
}

interface Asked {
  readonly frame: FrameView;
  readonly walls: boolean;
  readonly of?: { readonly document: unknown; readonly seam: string };
}

/**
 * The section in the plane of a seam (on the model), kept up with while it moves: of the pieces that it is meant for, and in
 * the box that bounds it.
 */
export function useSection(seam: Seam | null, walls: boolean): SeamSection | null {
  const { engine, view, plan } = useProject();
  const [section, setSection] = useState<SeamSection | null>(null);
  const request = useMemo(
    () =>
      engine
        ? latest(
            async ({ frame, walls, of }: Asked) => ({ frame, ...(await engine.regions(frame, walls, of)) }),
            setSection,
            () => setSection(null),
          )
        : null,
    [engine],
  );
  const last = useRef('');
  useEffect(() => {
    if (!seam || !request || !view) {
      last.current = '';
      if (!seam) setSection(null);
      return;
    }
    const limited = seam.scope || (seam.kind === 'flat' && seam.bound);
    const of = limited ? { document: plan, seam: seam.id } : undefined;
    const earlier = of ? `${standingBefore(plan, seam)}${JSON.stringify('bound' in seam && seam.bound)}` : '';
    const key = `${earlier}|${seam.origin.join()}|${seam.normal.join()}|${seam.up?.join()}|${view.map.join()}|${view.box.max.join()}|${walls}`;
    if (last.current === key) return;
    last.current = key;
    request({ frame: makeFrame(seam.origin, seam.normal, seam.up), walls, ...(of && { of }) });
  }, [seam, request, view, walls, plan]);
  return seam ? section : null;
}

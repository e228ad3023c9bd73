import { makeFrame, type Seam } from '@gephyra/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { latest } from '../../engine/engine.ts';
import type { RegionView, WallView } from '../../engine/seams.ts';
import type { FrameView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';

export interface SeamSection {
  readonly frame: FrameView;
  readonly regions: readonly RegionView[];
  readonly walls: WallView | null;
}

/** The section in the plane of a seam (on the model), kept up with while it moves. */
export function useSection(seam: Pick<Seam, 'origin' | 'normal' | 'up'> | null, walls: boolean): SeamSection | null {
  const { engine, view } = useProject();
  const [section, setSection] = useState<SeamSection | null>(null);
  const request = useMemo(
    () =>
      engine
        ? latest(
            async ({ frame, walls }: { frame: FrameView; walls: boolean }) => ({
              frame,
              ...(await engine.regions(frame, walls)),
            }),
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
    const key = `${seam.origin.join()}|${seam.normal.join()}|${seam.up?.join()}|${view.map.join()}|${view.box.max.join()}|${walls}`;
    if (last.current === key) return;
    last.current = key;
    request({ frame: makeFrame(seam.origin, seam.normal, seam.up), walls });
  }, [seam, request, view, walls]);
  return seam ? section : null;
}

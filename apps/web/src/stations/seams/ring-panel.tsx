import { IDENTITY, type Seam } from '@gephyra/core';
import { useMemo } from 'react';
import { useProject } from '../../project/project.tsx';
import { seamTitle, wayInPlan } from '../../project/seam-math.ts';
import { NumberField } from '../../ui/number-field.tsx';
import { Part } from '../../ui/panels.tsx';
import { AxisView } from './axis-view.tsx';
import type { SeamSection } from './use-section.ts';

/** A ring, looked at along its axis: a circle that is drawn wider by its handle. */
export function RingPanel({ seam, section }: { seam: Extract<Seam, { kind: 'ring' }>; section: SeamSection | null }) {
  const { change, view } = useProject();
  const map = view?.map ?? IDENTITY;
  const title = seamTitle(seam);
  // a millimetre of the plan across the axis, on the model
  const scale = useMemo(() => {
    const across = Math.hypot(...wayInPlan(section?.frame.u ?? [1, 0, 0], map));
    return across > 0 ? 1 / across : 1;
  }, [section, map]);
  const keep = (radius: number, digits: number) =>
    change(`Size ${title}`, { do: 'setSeam', id: seam.id, set: { radius: Number(radius.toFixed(digits)) } });
  return (
    <>
      <AxisView
        title="Ring"
        section={section}
        round={(radius) => radius * scale}
        dial={{
          label: `Radius of ${title}`,
          value: seam.radius,
          shown: (radius) => radius,
          said: (radius) => `${(radius * scale).toFixed(1)} mm`,
          least: 0,
          most: seam.radius * 1.2,
          step: 1,
          reach: (radius) => radius * scale * 1.2,
          handle: (radius) => ({ way: [1, 0], far: radius * scale }),
          at: (x, y) => Math.max(0.1, Math.hypot(x, y) / scale),
          keep: (radius) => keep(radius, 3),
        }}
      />
      <Part title="Sizes">
        <NumberField label="Radius" min={0.1} value={seam.radius * scale} onCommit={(x) => keep(x / scale, 4)} />
        <p className="mt-2 text-ink-soft text-sm">Its wall is bent: joints stand on flats that are worked into it.</p>
      </Part>
    </>
  );
}

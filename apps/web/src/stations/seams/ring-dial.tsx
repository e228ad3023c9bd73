import type { Seam } from '@gephyra/core/plan';
import { useProject } from '../../project/project.tsx';
import { seamTitle } from '../../project/seam-math.ts';
import { AxisView } from './axis-view.tsx';
import type { SeamSection } from './use-section.ts';

/** A ring, looked at along its axis: a circle that is drawn wider by its handle. */
export function RingDial({
  seam,
  section,
  scale,
}: {
  seam: Extract<Seam, { kind: 'ring' }>;
  section: SeamSection | null;
  scale: number;
}) {
  const { change } = useProject();
  const title = seamTitle(seam);
  return (
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
        keep: (radius) =>
          change(`Radius of ${title}`, { do: 'setSeam', id: seam.id, set: { radius: Number(radius.toFixed(3)) } }),
      }}
    />
  );
}

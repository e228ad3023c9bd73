import { degrees, IDENTITY, radians, type Seam } from '@gephyra/core/plan';
import { useProject } from '../../project/project.tsx';
import { raysOf, seamTitle } from '../../project/seam-math.ts';
import { AxisView } from './axis-view.tsx';
import type { SeamSection } from './use-section.ts';

/** Within a turn, and never −0. */
const shown = (angle: number): number => (degrees(angle) % 360) + 0;

/** A fan, looked at along its axis: half-planes that are turned by the handle of the first. */
export function FanDial({ seam, section }: { seam: Extract<Seam, { kind: 'fan' }>; section: SeamSection | null }) {
  const { change, view } = useProject();
  const map = view?.map ?? IDENTITY;
  const title = seamTitle(seam);
  const rays = (phase: number) => raysOf({ ...seam, phase }, map);
  /** Turned by as much as a place is away from the first half-plane. */
  const at = (x: number, y: number, free: boolean): number => {
    const [u, v] = rays(seam.phase)[0];
    const [u1, v1] = rays(seam.phase + 0.1)[0];
    const sign = Math.sign(u * v1 - v * u1) || 1;
    const turned = seam.phase + sign * (Math.atan2(y, x) - Math.atan2(v, u));
    return free ? turned : radians(Math.round(degrees(turned)));
  };
  return (
    <AxisView
      title="Fan"
      section={section}
      rays={rays}
      dial={{
        label: `Turn of ${title}`,
        value: seam.phase,
        shown: degrees,
        said: (phase) => `${shown(phase).toFixed(1)} degrees`,
        least: -360,
        most: 360,
        step: radians(1),
        reach: () => 1,
        handle: (phase) => ({ way: rays(phase)[0] ?? [1, 0], far: null }),
        at,
        keep: (phase) =>
          change(`Turn of ${title}`, { do: 'setSeam', id: seam.id, set: { phase: Number(phase.toFixed(6)) } }),
      }}
    />
  );
}

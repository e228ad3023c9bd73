import type { Seam } from '@gephyra/core/plan';
import type { AlongView } from '../../engine/seams.ts';
import { alongAxis } from '../../project/seam-math.ts';
import { Pick } from '../../ui/pick.tsx';

/** The places along the caliper that are worth stopping at, to choose one of. */
export function LandmarkList({
  seam,
  along,
  at,
  onLandmark,
}: {
  seam: Seam;
  along: AlongView | null;
  at: number;
  onLandmark: (at: number, reason: string) => void;
}) {
  if (!along || along.landmarks.length === 0) return null;
  const landmarks = along.landmarks.map((s) => ({ ...s, at: Number(alongAxis(seam, s.at).toFixed(3)) }));
  const here = landmarks.findIndex((s) => Math.abs(s.at - at) < 0.006);
  return (
    <div className="mt-1">
      <Pick
        inline
        label="Snap to"
        value={String(here)}
        options={[
          ...(here < 0 ? [{ value: '-1', label: `${along.landmarks.length} places` }] : []),
          ...landmarks.map((s, i) => ({
            value: String(i),
            label: `${(Number(s.at.toFixed(1)) + 0).toFixed(1)} ${s.reason}`,
          })),
        ]}
        onChange={(i) => {
          const landmark = landmarks[Number(i)];
          if (landmark) onLandmark(landmark.at, landmark.reason);
        }}
      />
    </div>
  );
}

import type { Seam } from '@gephyra/core';
import type { AlongView } from '../../engine/seams.ts';
import { alongAxis } from '../../project/seam-math.ts';

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
    <label className="mt-1 flex items-center gap-2">
      <span className="shrink-0 text-ink-soft text-sm">Snap to</span>
      <select
        className="h-[30px] min-w-0 grow rounded border border-rule-strong bg-sheet px-1.5"
        value={here}
        onChange={(e) => {
          const landmark = landmarks[Number(e.target.value)];
          if (landmark) onLandmark(landmark.at, landmark.reason);
        }}
      >
        {here < 0 && <option value={-1}>{along.landmarks.length} places</option>}
        {landmarks.map((s, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the value of an option is its place in the list
          <option key={i} value={i}>
            {s.at.toFixed(1)} {s.reason}
          </option>
        ))}
      </select>
    </label>
  );
}

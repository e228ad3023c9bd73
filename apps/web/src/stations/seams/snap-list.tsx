import type { Seam } from '@gephyra/core';
import type { AlongView } from '../../engine/seams.ts';
import { alongAxis } from './seam-math.ts';

/** The places along the caliper that are worth stopping at, to choose one of. */
export function SnapList({
  seam,
  along,
  at,
  onSnap,
}: {
  seam: Seam;
  along: AlongView | null;
  at: number;
  onSnap: (at: number, reason: string) => void;
}) {
  if (!along || along.snaps.length === 0) return null;
  const snaps = along.snaps.map((s) => ({ ...s, at: Number(alongAxis(seam, s.at).toFixed(3)) }));
  const here = snaps.findIndex((s) => Math.abs(s.at - at) < 0.006);
  return (
    <label className="mt-1 flex items-center gap-2">
      <span className="shrink-0 text-ink-soft text-sm">Snap to</span>
      <select
        className="h-[30px] min-w-0 grow rounded border border-rule-strong bg-sheet px-1.5"
        value={here}
        onChange={(e) => {
          const snap = snaps[Number(e.target.value)];
          if (snap) onSnap(snap.at, snap.reason);
        }}
      >
        {here < 0 && <option value={-1}>{along.snaps.length} places</option>}
        {snaps.map((s, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the value of an option is its place in the list
          <option key={i} value={i}>
            {s.at.toFixed(1)} {s.reason}
          </option>
        ))}
      </select>
    </label>
  );
}

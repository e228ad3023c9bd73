import { useSelection, useWorkspace } from '../project/selection.tsx';

const CLIPS = ['off', 'x', 'y', 'z', 'seam'] as const;

/** Keys over the 3D view: see-through, clip, only one piece, and a slider that takes the model apart. */
export function ViewTools() {
  const { apart, setApart, seeThrough, setSeeThrough, clip, setClip, only, setOnly, station } = useWorkspace();
  const [{ piece }] = useSelection();
  const key = (on: boolean): string =>
    `h-[30px] rounded border px-2.5 ${on ? 'border-lapis bg-lapis-wash text-lapis' : 'border-rule bg-sheet/90 text-ink-soft hover:text-ink'}`;
  return (
    <>
      <button
        type="button"
        aria-pressed={seeThrough}
        onClick={() => setSeeThrough(!seeThrough)}
        className={key(seeThrough)}
      >
        see through
      </button>
      {piece !== null && !station.plain && (
        <button type="button" aria-pressed={only} onClick={() => setOnly(!only)} className={key(only)}>
          only this piece
        </button>
      )}
      <div className="flex h-[30px] items-center gap-2 rounded border border-rule bg-sheet/90 px-2.5 text-ink-soft">
        <label className="flex items-center gap-1.5">
          clip
          <select
            value={clip.by}
            aria-label="Clip the view"
            className="bg-transparent text-ink"
            onChange={(e) => setClip({ ...clip, by: e.target.value as (typeof CLIPS)[number] })}
          >
            {CLIPS.map((c) => (
              <option key={c} value={c}>
                {c === 'seam' ? 'at the seam' : c === 'off' ? 'off' : `along ${c}`}
              </option>
            ))}
          </select>
        </label>
        {clip.by !== 'off' && clip.by !== 'seam' && (
          <input
            type="range"
            min={0}
            max={1}
            step={0.005}
            value={clip.share}
            aria-label={`Clip at, along ${clip.by}`}
            aria-valuetext={`${Math.round(clip.share * 100)} %`}
            onChange={(e) => setClip({ ...clip, share: Number(e.target.value) })}
            className="h-1 w-20 accent-lapis"
          />
        )}
        {clip.by !== 'off' && (
          <button
            type="button"
            aria-pressed={clip.turned}
            className="text-ink underline underline-offset-2"
            onClick={() => setClip({ ...clip, turned: !clip.turned })}
          >
            other side
          </button>
        )}
      </div>
      {!station.plain && (
        <label className="flex h-[30px] items-center gap-2 rounded border border-rule bg-sheet/90 px-2.5 text-ink-soft">
          apart
          <input
            type="range"
            min={0}
            max={120}
            step={1}
            value={apart}
            aria-label="Take apart, mm"
            aria-valuetext={`${apart} mm`}
            onChange={(e) => setApart(Number(e.target.value))}
            className="h-1 w-20 accent-lapis"
          />
          <span className="num w-12 text-right text-ink">{apart} mm</span>
        </label>
      )}
    </>
  );
}

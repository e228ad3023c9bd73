import { useSelection, useWorkspace } from '../project/selection.tsx';
import { Pick } from '../ui/pick.tsx';
import { Slide } from '../ui/slide.tsx';

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
        <span aria-hidden>clip</span>
        <Pick
          inline
          hideLabel
          label="Clip the view"
          value={clip.by}
          options={CLIPS.map((c) => ({
            value: c,
            label: c === 'seam' ? 'at the seam' : c === 'off' ? 'off' : `along ${c}`,
          }))}
          onChange={(by) => setClip({ ...clip, by })}
        />
        {clip.by !== 'off' && clip.by !== 'seam' && (
          <Slide
            label={`Clip at, along ${clip.by}`}
            className="w-20"
            min={0}
            max={1}
            step={0.005}
            value={clip.share}
            text={`${Math.round(clip.share * 100)} %`}
            onChange={(share) => setClip({ ...clip, share })}
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
        <div className="flex h-[30px] items-center gap-2 rounded border border-rule bg-sheet/90 px-2.5 text-ink-soft">
          <span aria-hidden>apart</span>
          <Slide
            label="Take apart, mm"
            className="w-20"
            min={0}
            max={120}
            step={1}
            value={apart}
            text={`${apart} mm`}
            onChange={setApart}
          />
          <span className="num w-12 text-right text-ink">{apart} mm</span>
        </div>
      )}
    </>
  );
}

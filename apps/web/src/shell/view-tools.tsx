import { useWorkspace } from './workspace-state.tsx';

/** Keys over the 3D view: see-through, and a slider that takes the model apart. */
export function ViewTools() {
  const { apart, setApart, seeThrough, setSeeThrough, station } = useWorkspace();
  return (
    <>
      <button
        type="button"
        aria-pressed={seeThrough}
        onClick={() => setSeeThrough(!seeThrough)}
        className={`h-[30px] rounded border px-2.5 ${seeThrough ? 'border-lapis bg-lapis-wash text-lapis' : 'border-rule bg-sheet/90 text-ink-soft hover:text-ink'}`}
      >
        see through
      </button>
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
            className="h-1 w-24 accent-lapis"
          />
          <span className="num w-12 text-right text-ink">{apart} mm</span>
        </label>
      )}
    </>
  );
}

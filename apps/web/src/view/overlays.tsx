import type { Label } from '../project/shown.ts';
import type { Direction } from './eye.ts';

const WORDS: readonly Exclude<Direction, 'corner'>[] = ['front', 'back', 'left', 'right', 'top', 'under'];

/** Keys for the sides from which a model is looked at. */
export function LookFrom({ onLook }: { onLook: (from: Direction) => void }) {
  return (
    <div className="flex rounded border border-rule bg-sheet/90" role="toolbar" aria-label="Look from">
      {WORDS.map((w) => (
        <button
          key={w}
          type="button"
          className="h-7 px-2 text-ink-soft hover:text-ink hover:underline"
          onClick={() => onLook(w)}
        >
          {w}
        </button>
      ))}
      <button
        type="button"
        className="h-7 border-rule border-l px-2 text-ink-soft hover:text-ink hover:underline"
        onClick={() => onLook('corner')}
      >
        whole
      </button>
    </div>
  );
}

/** Where a brush has been, in pixels; nothing while it has not been. */
export function Stroke({ places, radius }: { places: readonly (readonly [number, number])[]; radius: number }) {
  if (places.length === 0) return null;
  return (
    <svg aria-hidden="true" className="pointer-events-none absolute inset-0 h-full w-full">
      {places.map(([x, y]) => (
        <circle key={`${x} ${y}`} cx={x} cy={y} r={Math.max(3, radius)} fill="var(--color-good)" opacity="0.25" />
      ))}
    </svg>
  );
}

/** Words that stand over the model. */
export function Labels({ labels }: { labels: readonly Label[] }) {
  return labels.map((l) => (
    <span
      key={`${l.kind}${l.text}${Math.round(l.x)}`}
      aria-hidden
      className={`num pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 text-[12px] ${l.kind === 'staff' ? 'text-[#766d5b]' : 'bg-paper/80 px-1 text-ink'}`}
      style={{ left: l.x, top: l.y }}
    >
      {l.text}
    </span>
  ));
}

/** A bar of a round length at the model's depth. */
export function ScaleBar({ pixelsPerMm }: { pixelsPerMm: number }) {
  const wanted = 110 / Math.max(pixelsPerMm, 1e-9);
  const power = 10 ** Math.floor(Math.log10(wanted));
  const length = [5, 2, 1].map((k) => k * power).find((x) => x <= wanted) ?? power;
  return (
    <div aria-hidden className="absolute right-3 bottom-3 text-right">
      <span className="num text-[12px] text-ink-soft">{Number(length.toPrecision(2))} mm</span>
      <div className="border-ink border-x border-b pt-1" style={{ width: length * pixelsPerMm }} />
    </div>
  );
}

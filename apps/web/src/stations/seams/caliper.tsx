import { dot, type Seam, usableSize } from '@gephyra/core/plan';
import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import type { AlongView } from '../../engine/seams.ts';
import { useProject } from '../../project/project.tsx';
import {
  alongAxis,
  axisName,
  baseAxis,
  cutsInPart,
  sameWay,
  seamTitle,
  sides,
  stopsBeside,
} from '../../project/seam-math.ts';
import { arrowStep } from '../../ui/arrow-step.ts';
import { useNudge } from '../../ui/use-nudge.ts';
import { useSize } from '../../ui/use-size.ts';

const TOP = 14;
const LEFT = 44;
/** at the right of the profile, for lengths and names */
const NOTES = 102;
/** A landmark takes the seam within this many pixels. */
const CATCH = 5;

interface Props {
  readonly seam: Seam;
  readonly along: AlongView | null;
  /** where the seam stands while it is moved, on its axis, mm at the plan's size */
  readonly at: number;
  /** mm² that it cuts where it stands; null while that is not known */
  readonly cuts: number | null;
  /** all seams, on the model */
  readonly others: readonly Seam[];
  /** the same, moving and released */
  readonly onMove: (at: number) => void;
  readonly onRelease: (at: number, why?: string) => void;
}

/**
 * The caliper: a ruler along the seam's axis with the section profile on it, the seam as its slider, and what is left on
 * either side, red where the printer is too short for it; nothing of that where a piece may go on beside what it cuts. The
 * slider catches at necks, faces, halves and the like; Alt lets it go free.
 */
export function Caliper({ seam, along, others: seams, at, cuts, onMove, onRelease }: Props) {
  const { plan } = useProject();
  const svg = useRef<SVGSVGElement>(null);
  /** how far from the seam it was taken hold of, mm; null while it is not held */
  const hold = useRef<number | null>(null);
  const axis = baseAxis(seam.normal);
  const place = (offset: number): number => alongAxis(seam, offset);
  const landmarks = along?.landmarks.map((s) => ({ ...s, at: place(s.at) })) ?? [];
  const release = (x: number): void => onRelease(x, landmarks.find((s) => Math.abs(s.at - x) < 0.006)?.reason);
  const nudge = useNudge(400, release);
  const { width: W, height: H } = useSize(svg);
  const right = Math.max(LEFT + 60, W - NOTES);
  const bottom = H - TOP;
  if (!along) return <p className="h-60 text-ink-soft">Measuring sections.</p>;

  const [from, to] = [place(along.from), place(along.to)].sort((a, b) => a - b);
  const largest = Math.max(...along.area, 1e-9);
  const scale: Scale = {
    from,
    to,
    right,
    bottom,
    x: (area) => LEFT + (area / largest) * (right - LEFT),
    y: (at) => bottom - ((at - from) / (to - from || 1)) * (bottom - TOP),
    place,
  };
  const { x, y } = scale;
  const others = seams
    .filter((s) => s.id !== seam.id && s.enabled && s.kind === 'flat' && sameWay(s.normal, seam.normal))
    .map((s) => ({ id: s.id, title: seamTitle(s), at: place(dot(s.origin, seam.normal)) }));
  const room = Math.max(...usableSize(plan.printer));
  const left = cutsInPart(seam)
    ? null
    : sides(
        at,
        stopsBeside(seam, seams).map((s) => place(dot(s.origin, seam.normal))),
        from,
        to,
      );
  const clamp = (x: number): number => Math.min(to, Math.max(from, x));
  const caught = landmarks.find((s) => Math.abs(s.at - at) < 0.006);

  const placeOf = (event: PointerEvent, shift: number): number => {
    const local = event.clientY - svg.current!.getBoundingClientRect().top;
    const free = clamp(from + ((bottom - local) / (bottom - TOP)) * (to - from) + shift);
    const near = event.altKey ? null : caughtAt(landmarks, (s) => Math.abs(y(s.at) - y(free)));
    return near ? Number(near.at.toFixed(3)) : Number(free.toFixed(2));
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const next = keyedTo(event, at, landmarks);
    if (next === undefined) {
      if (event.key !== 'Shift' && event.key !== 'Alt') nudge.settle();
      return;
    }
    event.preventDefault();
    if (next === null) return;
    onMove(clamp(next));
    nudge.push(clamp(next));
  };

  const here = nearest(along, dot(seam.normal, seam.origin) + (at - seam.origin[axis]) * seam.normal[axis]);
  const cutArea = cuts ?? along.area[here];
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${W} ${H}`}
      className="block h-[max(190px,calc(100cqh-98px))] w-full touch-none select-none"
      role="group"
      aria-label="Caliper"
    >
      <Profile along={along} scale={scale} landmarks={landmarks} withBands={left !== null} />
      {others.map((o) => (
        <g key={o.id}>
          <path d={`M${LEFT} ${y(o.at)}H${W - 2}`} stroke="var(--color-cut)" strokeDasharray="4 3" opacity="0.7" />
          <text x={W - 2} y={y(o.at) - 4} textAnchor="end" className="fill-cut text-[12px]">
            {o.title}
          </text>
        </g>
      ))}
      {left && (
        <>
          <Span from={y(at)} to={y(at - left.before)} length={left.before} limit={room} x={right + 21} />
          <Span from={y(at)} to={y(at + left.after)} length={left.after} limit={room} x={right + 21} />
        </>
      )}
      <circle cx={x(Math.min(cutArea, largest))} cy={y(at)} r="4" fill="var(--color-sheet)" stroke="var(--color-ink)" />
      <g
        role="slider"
        tabIndex={0}
        aria-label={`Position of ${seamTitle(seam)} along ${axisName(axis)}`}
        aria-valuemin={Math.floor(from)}
        aria-valuemax={Math.ceil(to)}
        aria-valuenow={Number(at.toFixed(2))}
        aria-valuetext={`${at.toFixed(1)} mm${caught ? `, ${caught.reason}` : ''}, ${left ? `${left.before.toFixed(0)} mm on one side, ${left.after.toFixed(0)} mm on the other` : `${(cutArea / 100).toFixed(1)} cm² cut`}`}
        aria-orientation="vertical"
        className="group cursor-ns-resize focus-visible:outline-none"
        onKeyDown={onKeyDown}
        onBlur={nudge.settle}
        onPointerDown={(e) => {
          hold.current = at - placeOf(e, 0);
          e.currentTarget.setPointerCapture(e.pointerId);
          e.currentTarget.focus();
        }}
        onPointerMove={(e) => hold.current !== null && onMove(placeOf(e, hold.current))}
        onPointerUp={(e) => {
          if (hold.current === null) return;
          release(placeOf(e, hold.current));
          hold.current = null;
        }}
      >
        <rect x="0" y={y(at) - 9} width={W} height="18" fill="transparent" />
        <path d={`M14 ${y(at)}H${W}`} stroke="var(--color-cut)" strokeWidth="2" />
        <path
          d={`M2 ${y(at) - 7}h14l6 7l-6 7h-14z`}
          fill="var(--color-cut)"
          className="group-focus-visible:stroke-[3px] group-focus-visible:stroke-lapis"
        />
        <text
          x={W - 2}
          y={y(at) + (y(at) > bottom - 16 ? -6 : 13)}
          textAnchor="end"
          stroke="var(--color-sheet)"
          strokeWidth="4"
          className="num fill-cut text-[12px] [paint-order:stroke]"
        >
          {caught ? caught.reason : `${(cutArea / 100).toFixed(1)} cm²`}
        </text>
      </g>
    </svg>
  );
}

/** Where areas and places are drawn. */
interface Scale {
  readonly from: number;
  readonly to: number;
  readonly right: number;
  readonly bottom: number;
  /** of an area, mm² */
  x(area: number): number;
  /** of a place on the axis, mm */
  y(at: number): number;
  /** the place on the axis of an offset along the seam's normal */
  place(offset: number): number;
}

type Landmark = AlongView['landmarks'][number];

/** The landmark that is nearest, where it is so near in pixels that it takes the seam. */
function caughtAt(landmarks: readonly Landmark[], pixelsTo: (s: Landmark) => number): Landmark | null {
  const [near] = landmarks.map((s) => ({ s, d: pixelsTo(s) })).sort((a, b) => a.d - b.d);
  return near && near.d < CATCH ? near.s : null;
}

/** Where a key moves a seam: by steps, or to the next landmark; null where there is none, undefined for other keys. */
function keyedTo(event: KeyboardEvent, at: number, landmarks: readonly Landmark[]): number | null | undefined {
  const step = arrowStep(event);
  if (step) return Number((at + step[0] + step[1]).toFixed(4));
  const jump = { PageUp: 1, PageDown: -1 }[event.key];
  if (!jump) return undefined;
  const ahead = landmarks.filter((s) => (jump === 1 ? s.at > at + 0.01 : s.at < at - 0.01));
  if (ahead.length === 0) return null;
  return Number((jump === 1 ? ahead[0] : ahead[ahead.length - 1]).at.toFixed(3));
}

/** The section profile on its ruler, with what is to be kept clear, where both sides fit, and landmarks. */
function Profile({
  along,
  scale: { from, to, right, bottom, x, y, place },
  landmarks,
  withBands,
}: {
  along: AlongView;
  scale: Scale;
  landmarks: readonly Landmark[];
  withBands: boolean;
}) {
  const points = Array.from(along.at, (offset, i) => `${x(along.area[i]).toFixed(1)},${y(place(offset)).toFixed(1)}`);
  return (
    <>
      <defs>
        <pattern id="keep-clear" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <path d="M0 0V5" stroke="var(--color-warn)" strokeWidth="1.4" />
        </pattern>
      </defs>
      {along.clear.map(([low, high]) => (
        <rect
          key={`${low}${high}`}
          x={LEFT}
          y={Math.min(y(place(low)), y(place(high)))}
          width={right - LEFT}
          height={Math.abs(y(place(low)) - y(place(high)))}
          fill="url(#keep-clear)"
          opacity="0.5"
        />
      ))}
      <polygon
        points={`${LEFT},${y(place(along.from))} ${points.join(' ')} ${LEFT},${y(place(along.to))}`}
        fill="var(--color-lapis)"
        fillOpacity="0.1"
      />
      <polyline points={points.join(' ')} fill="none" stroke="var(--color-lapis)" strokeWidth="1.2" />
      <RegionSteps along={along} right={right} y={(offset) => y(place(offset))} />
      <path d={`M${LEFT} ${TOP}V${bottom}`} stroke="var(--color-ink)" />
      {(withBands ? along.bands : []).map(([low, high]) => (
        <path
          key={`${low}${high}`}
          d={`M${LEFT + 2} ${y(place(low))}V${y(place(high))}`}
          stroke="var(--color-good)"
          strokeWidth="4"
        >
          <title>Here both sides fit the printer</title>
        </path>
      ))}
      {tickPlaces(from, to).map((t) => (
        <g key={t.at}>
          <path d={`M${LEFT - (t.long ? 8 : 4)} ${y(t.at)}H${LEFT}`} stroke="var(--color-ink)" />
          {t.long && (
            <text x={LEFT - 11} y={y(t.at) + 4} textAnchor="end" className="num fill-ink-soft text-[12px]">
              {t.at}
            </text>
          )}
        </g>
      ))}
      {landmarks.map((s) => (
        <path
          key={`${s.kind}${s.at}`}
          d={`M${right + 4} ${y(s.at)}l6 -3.5v7z`}
          fill={s.kind === 'neck' ? 'var(--color-cut)' : 'var(--color-ink-soft)'}
        >
          <title>{s.reason}</title>
        </path>
      ))}
    </>
  );
}

/** How many regions the section has along the way, as a stepped line at the right of the profile. */
function RegionSteps({ along, right, y }: { along: AlongView; right: number; y: (offset: number) => number }) {
  const most = Math.max(...along.regions);
  if (most < 2) return null;
  const x = (n: number): number => right - ((most - n) / most) * 34;
  const d = Array.from(
    along.at,
    (offset, i) => `${i === 0 ? 'M' : 'L'}${x(along.regions[i]).toFixed(1)} ${y(offset).toFixed(1)}`,
  );
  return (
    <path d={d.join('')} fill="none" stroke="var(--color-ink-soft)" strokeDasharray="2 2">
      <title>Number of regions, up to {most}</title>
    </path>
  );
}

/** The length on one side of the seam, as a dimension line. */
function Span({ from, to, length, limit, x }: { from: number; to: number; length: number; limit: number; x: number }) {
  const long = length > limit + 1e-6;
  const colour = long ? 'var(--color-stop)' : 'var(--color-good)';
  return (
    <g aria-hidden>
      <path d={`M${x} ${from}V${to}M${x - 4} ${to}h8`} stroke={colour} strokeWidth={long ? 2 : 1} />
      {Math.abs(from - to) > 54 && (
        <text
          x={x + 7}
          y={(from + to) / 2 + 4}
          className={`num text-[12px] ${long ? 'fill-stop font-semibold' : 'fill-good'}`}
        >
          {length.toFixed(1)}
        </text>
      )}
    </g>
  );
}

function nearest(along: AlongView, offset: number): number {
  let best = 0;
  let least = Infinity;
  along.at.forEach((x, i) => {
    const d = Math.abs(x - offset);
    if (d < least) {
      least = d;
      best = i;
    }
  });
  return best;
}

/** Round places along the ruler, a long mark every fifth. */
function tickPlaces(from: number, to: number): { at: number; long: boolean }[] {
  const rough = (to - from) / 30;
  const power = 10 ** Math.floor(Math.log10(Math.max(rough, 1e-9)));
  const step = [1, 2, 5, 10].map((k) => k * power).find((s) => s >= rough) ?? power * 10;
  const out: { at: number; long: boolean }[] = [];
  for (let k = Math.ceil(from / step - 1e-9); k * step <= to + 1e-9; k++) {
    out.push({ at: Number((k * step).toPrecision(10)), long: k % 5 === 0 });
  }
  return out;
}

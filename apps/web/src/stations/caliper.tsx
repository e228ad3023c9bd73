import { makeFrame, type Plan, type Seam, usableSize } from '@gephyra/core';
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import type { ProfileView } from '../engine/types.ts';
import { useProject } from '../plan/project.tsx';
import { alongAxis, axisName, baseAxis, seamTitle, sides } from './seam-math.ts';

const W = 292;
const H = 256;
const TOP = 14;
const BOTTOM = H - 14;
const LEFT = 44;
const RIGHT = 204;

interface Props {
  readonly seam: Seam;
  /** where the seam stands while it is moved, on its axis, mm at the plan's size */
  readonly at: number;
  /** all seams, on the model */
  readonly others: readonly Seam[];
  /** the same, moving and released */
  readonly onMove: (at: number) => void;
  readonly onRelease: (at: number) => void;
}

/**
 * The caliper: a ruler along the seam's axis with the section profile on it, the seam as its slider, and what is left on
 * either side, red where the printer is too short for it.
 */
export function Caliper({ seam, others: seams, at, onMove, onRelease }: Props) {
  const { plan } = useProject();
  const profile = useProfile(seam);
  const svg = useRef<SVGSVGElement>(null);
  /** how far from the seam it was taken hold of, mm; null while it is not held */
  const hold = useRef<number | null>(null);
  const nudge = useRef<ReturnType<typeof setTimeout> | null>(null);
  const axis = baseAxis(seam.normal);
  const ends = profile ? [alongAxis(seam, profile.from), alongAxis(seam, profile.to)].sort((a, b) => a - b) : [0, 1];
  const [from, to] = ends;
  const y = (place: number): number => BOTTOM - ((place - from) / (to - from || 1)) * (BOTTOM - TOP);
  const others = seams
    .filter((s) => s.id !== seam.id && s.enabled && baseAxis(s.normal) === axis)
    .map((s) => ({ title: seamTitle(s), at: s.origin[axis] }));
  const room = Math.max(...usableSize(plan.printer));
  const left = sides(
    at,
    others.map((o) => o.at),
    from,
    to,
  );
  const clamp = (place: number): number => Math.min(to, Math.max(from, place));

  const placeOf = (event: PointerEvent, shift = 0): number => {
    const box = svg.current!.getBoundingClientRect();
    const local = ((event.clientY - box.top) / box.height) * H;
    return Number(clamp(from + ((BOTTOM - local) / (BOTTOM - TOP)) * (to - from) + shift).toFixed(2));
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const direction = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
    if (!direction) return;
    event.preventDefault();
    const next = Number(clamp(at + direction * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1)).toFixed(4));
    onMove(next);
    if (nudge.current) clearTimeout(nudge.current);
    nudge.current = setTimeout(() => onRelease(next), 400);
  };
  useEffect(() => () => clearTimeout(nudge.current ?? undefined), []);

  if (!profile) return <p className="h-64 text-ink-soft">Measuring sections.</p>;
  const largest = Math.max(...profile.area, 1e-9);
  const x = (area: number): number => LEFT + (area / largest) * (RIGHT - LEFT);
  const points = Array.from(
    profile.at,
    (offset, i) => `${x(profile.area[i]).toFixed(1)},${y(alongAxis(seam, offset)).toFixed(1)}`,
  );
  const ticks = tickPlaces(from, to);
  const here = profile.area[nearest(profile, seam, at)];
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${W} ${H}`}
      className="w-full touch-none select-none"
      role="group"
      aria-label="Caliper"
    >
      <polygon
        points={`${LEFT},${y(from)} ${points.join(' ')} ${LEFT},${y(to)}`}
        fill="var(--color-lapis)"
        fillOpacity="0.1"
      />
      <polyline points={points.join(' ')} fill="none" stroke="var(--color-lapis)" strokeWidth="1.2" />
      <path d={`M${LEFT} ${TOP}V${BOTTOM}`} stroke="var(--color-ink)" />
      {ticks.map((t) => (
        <g key={t.at}>
          <path d={`M${LEFT - (t.long ? 8 : 4)} ${y(t.at)}H${LEFT}`} stroke="var(--color-ink)" />
          {t.long && (
            <text x={LEFT - 11} y={y(t.at) + 4} textAnchor="end" className="num fill-ink-soft text-[12px]">
              {t.at}
            </text>
          )}
        </g>
      ))}
      {others.map((o) => (
        <g key={`${o.title}${o.at}`}>
          <path d={`M${LEFT} ${y(o.at)}H${W - 2}`} stroke="var(--color-cut)" strokeDasharray="4 3" opacity="0.7" />
          <text x={W - 2} y={y(o.at) - 4} textAnchor="end" className="fill-cut text-[12px]">
            {o.title}
          </text>
        </g>
      ))}
      <Span from={y(at)} to={y(at - left.before)} length={left.before} limit={room} />
      <Span from={y(at)} to={y(at + left.after)} length={left.after} limit={room} />
      <circle cx={x(here)} cy={y(at)} r="4" fill="var(--color-sheet)" stroke="var(--color-ink)" />
      <g
        role="slider"
        tabIndex={0}
        aria-label={`Position of ${seamTitle(seam)} along ${axisName(axis)}`}
        aria-valuemin={Math.floor(from)}
        aria-valuemax={Math.ceil(to)}
        aria-valuenow={Number(at.toFixed(2))}
        aria-valuetext={`${at.toFixed(1)} mm, ${left.before.toFixed(0)} mm on one side, ${left.after.toFixed(0)} mm on the other`}
        aria-orientation="vertical"
        className="group cursor-ns-resize focus-visible:outline-none"
        onKeyDown={onKeyDown}
        onPointerDown={(e) => {
          hold.current = at - placeOf(e);
          e.currentTarget.setPointerCapture(e.pointerId);
          e.currentTarget.focus();
        }}
        onPointerMove={(e) => hold.current !== null && onMove(placeOf(e, hold.current))}
        onPointerUp={(e) => {
          if (hold.current === null) return;
          onRelease(placeOf(e, hold.current));
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
        <text x={W - 2} y={y(at) + 13} textAnchor="end" className="num fill-cut text-[12px]">
          {(here / 100).toFixed(1)} cm²
        </text>
      </g>
    </svg>
  );
}

/** The length on one side of the seam, as a dimension line. */
function Span({ from, to, length, limit }: { from: number; to: number; length: number; limit: number }) {
  const long = length > limit + 1e-6;
  const colour = long ? 'var(--color-stop)' : 'var(--color-good)';
  const x = 222;
  return (
    <g aria-hidden>
      <path d={`M${x} ${from}V${to}M${x - 4} ${to}h8`} stroke={colour} strokeWidth={long ? 2 : 1} />
      {Math.abs(from - to) > 16 && (
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

function nearest(profile: ProfileView, seam: Parameters<typeof alongAxis>[0], at: number): number {
  let best = 0;
  let least = Infinity;
  profile.at.forEach((offset, i) => {
    const d = Math.abs(alongAxis(seam, offset) - at);
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

/** The profile along a seam's direction, computed again only when the direction, the model or its size changes. */
function useProfile(seam: Seam): ProfileView | null {
  const { engine, view } = useProject();
  const [profile, setProfile] = useState<{ key: string; made: ProfileView } | null>(null);
  const key = `${seam.normal.join()}*${view?.map.join()}*${view?.box.max.join()}`;
  const direction = useRef<Plan['seams'][number]>(seam);
  direction.current = seam;
  const ready = view !== null;
  useEffect(() => {
    if (!engine || !ready) return;
    let alive = true;
    const { origin, normal, up } = direction.current;
    engine.profile(makeFrame(origin, normal, up), 160).then(
      (made) => alive && setProfile({ key, made }),
      () => {},
    );
    return () => {
      alive = false;
    };
  }, [engine, ready, key]);
  return profile?.key === key ? profile.made : (profile?.made ?? null);
}

import { IDENTITY, type Seam } from '@gephyra/core';
import { type KeyboardEvent, type PointerEvent, useMemo, useRef, useState } from 'react';
import { useProject } from '../../project/project.tsx';
import { raysOf, seamTitle, wayInPlan } from '../../project/seam-math.ts';
import { NumberField } from '../../ui/number-field.tsx';
import { Companion, Part } from '../../ui/panels.tsx';
import { pathOf } from '../../view/path-of.ts';
import type { SeamSection } from './use-section.ts';

type Round = Extract<Seam, { kind: 'fan' | 'ring' }>;
const SIZE = 292;
const RIM = 22;

/** A fan or a ring, looked at along its axis: half-planes that are turned by their handle, a circle that is drawn wider. */
export function RoundPanel({ seam, section }: { seam: Round; section: SeamSection | null }) {
  const { change, view } = useProject();
  const map = view?.map ?? IDENTITY;
  const title = seamTitle(seam);
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef(false);
  const [draft, setDraft] = useState<number | null>(null);
  const value = draft ?? (seam.kind === 'fan' ? seam.phase : seam.radius);
  const scale = useMemo(() => {
    // a millimetre of the plan across the axis, on the model
    const across = Math.hypot(...wayInPlan(section?.frame.u ?? [1, 0, 0], map));
    return across > 0 ? 1 / across : 1;
  }, [section, map]);
  let reach = seam.kind === 'ring' ? value * scale * 1.2 : 1;
  for (const r of section?.regions ?? []) for (const x of r.outer2) reach = Math.max(reach, Math.abs(x));
  const k = (SIZE / 2 - RIM) / reach;
  const shown = seam.kind === 'fan' ? { ...seam, phase: value } : { ...seam, radius: value };
  const rays = shown.kind === 'fan' ? raysOf(shown, map) : [];
  const set = (label: string, next: Record<string, unknown>) =>
    change(label, { do: 'setSeam', id: seam.id, set: next });
  const keep = (x: number): void => {
    setDraft(null);
    if (seam.kind === 'fan') set(`Turn ${title}`, { phase: Number(x.toFixed(6)) });
    else set(`Size ${title}`, { radius: Number(x.toFixed(3)) });
  };
  const read = (event: PointerEvent): number => {
    const box = svg.current!.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * SIZE - SIZE / 2;
    const y = SIZE / 2 - ((event.clientY - box.top) / box.height) * SIZE;
    if (seam.kind === 'ring') return Math.max(0.1, Math.hypot(x, y) / k / scale);
    // the handle is on the first half-plane: turn by as much as it is away from there
    const [u, v] = raysOf(seam, map)[0];
    const turn = Math.atan2(y, x) - Math.atan2(v, u);
    const [u1, v1] = raysOf({ ...seam, phase: seam.phase + 0.1 }, map)[0];
    const sign = Math.sign(u * v1 - v * u1) || 1;
    const free = seam.phase + sign * turn;
    return event.altKey ? free : (Math.round((free * 180) / Math.PI) * Math.PI) / 180;
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (!way) return;
    event.preventDefault();
    const step = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    keep(value + way * (seam.kind === 'fan' ? (step * Math.PI) / 180 : step));
  };
  const [hu, hv] = seam.kind === 'fan' ? (rays[0] ?? [1, 0]) : [1, 0];
  const far = seam.kind === 'fan' ? SIZE / 2 - RIM + 10 : value * scale * k;
  const degrees = (((value * 180) / Math.PI) % 360) + 0;
  return (
    <>
      <Companion title={seam.kind === 'fan' ? 'Fan' : 'Ring'} note="along its axis">
        <svg
          ref={svg}
          viewBox={`${-SIZE / 2} ${-SIZE / 2} ${SIZE} ${SIZE}`}
          className="mx-auto block w-full touch-none select-none"
          style={{ maxWidth: 'max(180px, calc(100cqh - 70px))' }}
          role="group"
          aria-label="Seen along the axis"
        >
          <g transform={`scale(${k})`}>
            <path
              d={pathOf((section?.regions ?? []).flatMap((r) => [r.outer2, ...r.holes2]))}
              fill="var(--color-lapis)"
              fillOpacity="0.12"
              fillRule="evenodd"
              stroke="var(--color-ink)"
              vectorEffect="non-scaling-stroke"
            />
          </g>
          {rays.map(([u, v], i) => (
            <g key={`${u},${v}`}>
              <path
                d={`M0 0L${u * (SIZE / 2 - RIM + 4)} ${-v * (SIZE / 2 - RIM + 4)}`}
                stroke="var(--color-cut)"
                strokeWidth={i === 0 ? 2 : 1.3}
              />
              <text
                x={u * (SIZE / 2 - 8)}
                y={-v * (SIZE / 2 - 8) + 4}
                textAnchor="middle"
                className="num fill-cut text-[12px]"
              >
                {i === 0 ? '' : i + 1}
              </text>
            </g>
          ))}
          {seam.kind === 'ring' && (
            <circle r={value * scale * k} fill="none" stroke="var(--color-cut)" strokeWidth="2" />
          )}
          <path d="M-6 0H6M0 -6V6" stroke="var(--color-ink)" />
          <g
            role="slider"
            tabIndex={0}
            aria-label={seam.kind === 'fan' ? `Turn of ${title}` : `Radius of ${title}`}
            aria-valuenow={Number((seam.kind === 'fan' ? degrees : value).toFixed(2))}
            aria-valuetext={seam.kind === 'fan' ? `${degrees.toFixed(1)} degrees` : `${(value * scale).toFixed(1)} mm`}
            aria-valuemin={seam.kind === 'fan' ? -360 : 0}
            aria-valuemax={seam.kind === 'fan' ? 360 : Math.ceil(reach)}
            className="group cursor-grab focus-visible:outline-none"
            onKeyDown={onKeyDown}
            onPointerDown={(e) => {
              held.current = true;
              e.currentTarget.setPointerCapture(e.pointerId);
              e.currentTarget.focus();
            }}
            onPointerMove={(e) => held.current && setDraft(read(e))}
            onPointerUp={(e) => {
              if (!held.current) return;
              held.current = false;
              keep(read(e));
            }}
          >
            <circle
              cx={hu * far}
              cy={-hv * far}
              r="8"
              fill="var(--color-cut)"
              className="group-focus-visible:stroke-[3px] group-focus-visible:stroke-lapis"
            />
          </g>
        </svg>
      </Companion>
      <Part title="Sizes">
        <div className="grid grid-cols-2 gap-2">
          {seam.kind === 'fan' ? (
            <>
              <NumberField
                label="Segments"
                unit=""
                digits={0}
                min={2}
                max={72}
                value={seam.count}
                onCommit={(x) => set(`Part ${title} in ${Math.round(x)}`, { count: Math.round(x) })}
              />
              <NumberField
                label="Turn"
                unit="°"
                value={(seam.phase * 180) / Math.PI}
                onCommit={(x) => set(`Turn ${title}`, { phase: Number(((x * Math.PI) / 180).toFixed(9)) })}
              />
            </>
          ) : (
            <NumberField
              label="Radius"
              min={0.1}
              value={seam.radius * scale}
              onCommit={(x) => set(`Size ${title}`, { radius: Number((x / scale).toFixed(4)) })}
            />
          )}
        </div>
        {seam.kind === 'ring' && (
          <p className="mt-2 text-ink-soft text-sm">
            Its wall is bent, so it carries no joints; flat seams and fans do.
          </p>
        )}
      </Part>
    </>
  );
}

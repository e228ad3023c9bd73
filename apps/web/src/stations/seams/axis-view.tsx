import { type KeyboardEvent, type PointerEvent, type ReactNode, useRef, useState } from 'react';
import { arrowStep } from '../../ui/arrow-step.ts';
import { Companion } from '../../ui/panels.tsx';
import { pathOf } from '../../view/path-of.ts';
import type { SeamSection } from './use-section.ts';

const SIZE = 292;
const RIM = 22;

/** What is turned or drawn wider in the view along an axis: one number of the plan. */
export interface Dial {
  /** what it is called, and where it stands in words */
  readonly label: string;
  readonly said: (value: number) => string;
  readonly value: number;
  readonly shown: (value: number) => number;
  readonly least: number;
  readonly most: number;
  /** how much of it an arrow key moves */
  readonly step: number;
  /** how far the drawing reaches at the least, mm on the model */
  readonly reach: (value: number) => number;
  /** direction of its handle, and how far out it lies, mm on the model; null: beyond everything */
  readonly handle: (value: number) => { readonly way: readonly [number, number]; readonly far: number | null };
  /** its value at a place about the axis, mm on the model; `free` of round numbers */
  readonly at: (x: number, y: number, free: boolean) => number;
  readonly keep: (value: number) => void;
}

/** Something round a seam's axis, looked at along it, with the section behind and a handle to drag. Rays are numbered from the second. */
export function AxisView({
  title,
  section,
  dial,
  rays,
  round,
}: {
  title: string;
  section: SeamSection | null;
  dial: Dial;
  /** half-planes at a value */
  rays?: (value: number) => readonly (readonly [number, number])[];
  /** radius of a circle at a value, mm on the model */
  round?: (value: number) => number;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef(false);
  const [draft, setDraft] = useState<number | null>(null);
  const value = draft ?? dial.value;
  let reach = dial.reach(value);
  for (const r of section?.regions ?? []) for (const x of r.outer2) reach = Math.max(reach, Math.abs(x));
  const k = (SIZE / 2 - RIM) / reach;
  const keep = (x: number): void => {
    setDraft(null);
    dial.keep(x);
  };
  const read = (event: PointerEvent): number => {
    const box = svg.current!.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * SIZE - SIZE / 2;
    const y = SIZE / 2 - ((event.clientY - box.top) / box.height) * SIZE;
    return dial.at(x / k, y / k, event.altKey);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = arrowStep(event);
    if (!step) return;
    event.preventDefault();
    keep(value + (step[0] + step[1]) * dial.step);
  };
  const { way, far } = dial.handle(value);
  const out = far === null ? SIZE / 2 - RIM + 10 : far * k;
  return (
    <Companion title={title} note="along its axis">
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
        {rays?.(value).map(([u, v], i) => (
          <Ray key={`${u},${v}`} way={[u, v]} number={i + 1} />
        ))}
        {round && <circle r={round(value) * k} fill="none" stroke="var(--color-cut)" strokeWidth="2" />}
        <path d="M-6 0H6M0 -6V6" stroke="var(--color-ink)" />
        <g
          role="slider"
          tabIndex={0}
          aria-label={dial.label}
          aria-valuenow={Number(dial.shown(value).toFixed(2))}
          aria-valuetext={dial.said(value)}
          aria-valuemin={dial.least}
          aria-valuemax={Math.ceil(Math.max(dial.most, dial.shown(value)))}
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
            cx={way[0] * out}
            cy={-way[1] * out}
            r="8"
            fill="var(--color-cut)"
            className="group-focus-visible:stroke-[3px] group-focus-visible:stroke-lapis"
          />
        </g>
      </svg>
    </Companion>
  );
}

function Ray({ way: [u, v], number }: { way: readonly [number, number]; number: number }): ReactNode {
  const [line, text] = [SIZE / 2 - RIM + 4, SIZE / 2 - 8];
  return (
    <g>
      <path d={`M0 0L${u * line} ${-v * line}`} stroke="var(--color-cut)" strokeWidth={number === 1 ? 2 : 1.3} />
      <text x={u * text} y={-v * text + 4} textAnchor="middle" className="num fill-cut text-[12px]">
        {number === 1 ? '' : number}
      </text>
    </g>
  );
}

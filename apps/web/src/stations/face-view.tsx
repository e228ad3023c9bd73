import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import type { FaceView, JointView } from '../engine/types.ts';
import { pathOf } from './flat-outline.tsx';

interface Props {
  readonly face: FaceView;
  readonly joints: readonly JointView[];
  readonly selected: string | null;
  /** joints with a stop or a warning */
  readonly troubled: ReadonlySet<string>;
  readonly onSelect: (id: string) => void;
  readonly onPlace: (u: number, v: number) => void;
  readonly onMove: (id: string, u: number, v: number) => void;
}

/**
 * A mating face, flat: the region with its walls, the joints on it, drawn to one scale. A click on empty ground places a
 * joint, joints are dragged or nudged, and while one moves the distances to the edge are written beside it.
 */
export function MatingFaceView({ face, joints, selected, troubled, onSelect, onPlace, onMove }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [moving, setMoving] = useState<{ id: string; u: number; v: number } | null>(null);
  const [cursor, setCursor] = useState<{ u: number; v: number } | null>(null);
  const nudge = useRef<ReturnType<typeof setTimeout> | null>(null);
  useEffect(() => () => clearTimeout(nudge.current ?? undefined), []);
  const loops = useMemo(() => [face.outer, ...face.holes], [face]);
  const path = useMemo(() => pathOf(loops), [loops]);
  const box = useMemo(() => boxOf(face.outer), [face]);
  const span = Math.max(box.x1 - box.x0, box.y1 - box.y0);
  const rim = span * 0.07;
  const px = (span + 2 * rim) / 292;

  const placeOf = (event: PointerEvent): { u: number; v: number } => {
    const matrix = svg.current!.getScreenCTM()!.inverse();
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    const grid = span > 60 ? 10 : 100;
    return { u: Math.round(p.x * grid) / grid, v: Math.round(-p.y * grid) / grid };
  };
  const nudgeBy = (joint: JointView, event: KeyboardEvent): void => {
    const step = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    const [du, dv] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key] ?? [
      0, 0,
    ];
    if (du === 0 && dv === 0) return;
    event.preventDefault();
    event.stopPropagation();
    const from = moving?.id === joint.id ? moving : joint;
    const next = { id: joint.id, u: from.u + du * step, v: from.v + dv * step };
    setMoving(next);
    if (nudge.current) clearTimeout(nudge.current);
    nudge.current = setTimeout(() => {
      setMoving(null);
      onMove(next.id, next.u, next.v);
    }, 350);
  };

  const grid = gridStep(span);
  return (
    <svg
      ref={svg}
      viewBox={`${box.x0 - rim} ${-box.y1 - rim} ${box.x1 - box.x0 + 2 * rim} ${box.y1 - box.y0 + 2 * rim}`}
      className="max-h-[236px] w-full touch-none select-none border border-rule bg-paper"
      role="group"
      aria-label="Mating face, flat"
      onPointerMove={(e) => {
        const at = placeOf(e);
        setCursor(at);
        if (moving && e.buttons > 0) setMoving({ ...moving, ...at });
      }}
      onPointerLeave={() => setCursor(null)}
    >
      <defs>
        <pattern id="ground" width={grid} height={grid} patternUnits="userSpaceOnUse">
          <path d={`M0 0H${grid}M0 0V${grid}`} stroke="var(--color-rule)" strokeWidth={px} fill="none" />
        </pattern>
      </defs>
      <path
        d={path}
        fill="#fbf1e6"
        fillRule="evenodd"
        className="cursor-crosshair"
        onPointerDown={(e) => {
          if (e.button !== 0) return;
          const at = placeOf(e);
          onPlace(at.u, at.v);
        }}
      />
      <path d={path} fill="url(#ground)" fillRule="evenodd" pointerEvents="none" />
      <path d={path} fill="none" stroke="var(--color-ink)" strokeWidth={1.4 * px} pointerEvents="none" />
      {joints.map((j) => {
        const at = moving?.id === j.id ? moving : j;
        const colour = troubled.has(j.id) ? 'var(--color-stop)' : 'var(--color-lapis)';
        const shift = `translate(${at.u - j.u} ${-(at.v - j.v)})`;
        return (
          <g
            key={j.id}
            role="button"
            tabIndex={0}
            aria-pressed={selected === j.id}
            aria-label={`Pin ${j.id} at ${at.u.toFixed(1)}, ${at.v.toFixed(1)}`}
            transform={shift}
            className="cursor-move"
            onFocus={() => onSelect(j.id)}
            onKeyDown={(e) => nudgeBy(j, e)}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              onSelect(j.id);
              setMoving({ id: j.id, u: j.u, v: j.v });
            }}
            onPointerUp={() => {
              if (!moving) return;
              const { u, v } = moving;
              setMoving(null);
              if (u !== j.u || v !== j.v) onMove(j.id, u, v);
            }}
          >
            <path
              d={pathOf([j.socketLoop])}
              fill="#fffcf5"
              stroke={colour}
              strokeWidth={px}
              strokeDasharray={`${3 * px} ${2 * px}`}
            />
            <path
              d={pathOf([j.maleLoop])}
              fill={colour}
              fillOpacity={selected === j.id ? 0.75 : 0.3}
              stroke={colour}
              strokeWidth={1.4 * px}
            />
            <text
              x={j.u}
              y={-j.v - radius(j.socketLoop, j) - 4 * px}
              textAnchor="middle"
              fontSize={12 * px}
              className="fill-ink font-semibold"
            >
              {j.id}
            </text>
          </g>
        );
      })}
      {moving && <Distances loops={loops} u={moving.u} v={moving.v} px={px} />}
      {cursor && (
        <text
          x={box.x0 - rim + 5 * px}
          y={-box.y0 + rim - 5 * px}
          fontSize={12 * px}
          className="num fill-ink-soft"
          pointerEvents="none"
        >
          {cursor.u.toFixed(1)}, {cursor.v.toFixed(1)}
        </text>
      )}
    </svg>
  );
}

/** Distances from a point to the edge in the four directions of the plane. */
function Distances({ loops, u, v, px }: { loops: readonly Float64Array[]; u: number; v: number; px: number }) {
  return (
    <g pointerEvents="none">
      {[
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ].map(([du, dv]) => {
        const d = hit(loops, u, v, du, dv);
        if (!Number.isFinite(d)) return null;
        return (
          <g key={`${du}${dv}`}>
            <path d={`M${u} ${-v}L${u + du * d} ${-(v + dv * d)}`} stroke="var(--color-cut)" strokeWidth={px} />
            <text
              x={u + (du * d) / 2 + 3 * px}
              y={-(v + (dv * d) / 2) - 3 * px}
              fontSize={12 * px}
              className="num fill-cut"
            >
              {d.toFixed(1)}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** Distance along an axis direction to the nearest edge. */
function hit(loops: readonly Float64Array[], u: number, v: number, du: number, dv: number): number {
  let best = Infinity;
  for (const l of loops) {
    for (let i = 0, j = l.length - 2; i < l.length; j = i, i += 2) {
      const ex = l[i] - l[j];
      const ey = l[i + 1] - l[j + 1];
      const det = du * ey - dv * ex;
      if (det === 0) continue;
      const t = ((l[j] - u) * ey - (l[j + 1] - v) * ex) / det;
      const s = ((l[j] - u) * dv - (l[j + 1] - v) * du) / det;
      if (t > 0 && s >= 0 && s <= 1 && t < best) best = t;
    }
  }
  return best;
}

function boxOf(l: Float64Array): { x0: number; y0: number; x1: number; y1: number } {
  const box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (let i = 0; i < l.length; i += 2) {
    box.x0 = Math.min(box.x0, l[i]);
    box.x1 = Math.max(box.x1, l[i]);
    box.y0 = Math.min(box.y0, l[i + 1]);
    box.y1 = Math.max(box.y1, l[i + 1]);
  }
  return box;
}

function radius(l: Float64Array, at: { v: number }): number {
  let r = 0;
  for (let i = 1; i < l.length; i += 2) r = Math.max(r, l[i] - at.v);
  return r;
}

const gridStep = (span: number): number => {
  const power = 10 ** Math.floor(Math.log10(Math.max(span, 1e-6) / 6));
  return [1, 2, 5, 10].map((k) => k * power).find((s) => s >= span / 12) ?? power;
};
